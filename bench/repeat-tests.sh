#!/usr/bin/env bash
# Runs the built tests again and again, quiet, beside two busy loops and under the lowest priority in turn, and prints how often
# they were green and how long they took. Build first: dotnet build -c Release.
#   bench/repeat-tests.sh [RUNS]            20 runs by default
set -u
cd "$(dirname "$0")/.."
runs=${1:-20}
projects=$(find tests -name '*.Tests.csproj' | wc -l)
green=0
times=()
loops=()
stop_loops() { for loop in "${loops[@]}"; do kill "$loop" 2> /dev/null; wait "$loop" 2> /dev/null; done; loops=(); }
trap stop_loops EXIT
for ((run = 1; run <= runs; run++)); do
  weather=quiet
  command=(dotnet test -c Release --no-build)
  if ((run == runs)); then
    weather="under nice 19"
    command=(nice -n 19 "${command[@]}")
  elif ((run % 2 == 0)); then
    weather="beside two busy loops"
    for _ in 1 2; do timeout 3600 bash -c 'while :; do :; done' & loops+=($!); done
  fi
  log=$(mktemp)
  begin=$SECONDS
  result=RED
  # Without a build there is nothing to run, which the command calls a success.
  if timeout 3000 "${command[@]}" > "$log" 2>&1 && [ "$(grep -c "^Passed!" "$log")" -eq "$projects" ]; then
    result=green
    green=$((green + 1))
  fi
  took=$((SECONDS - begin))
  times+=("$took")
  stop_loops
  echo "run $run, $weather: $result in $took s"
  if [ "$result" = RED ]; then (grep -E -A12 "^ +Failed |^Failed!" "$log" || tail -n 20 "$log") | sed "s|^|    |"; fi
  rm -f "$log"
done
median=$(printf '%s\n' "${times[@]}" | sort -n | sed -n "$(((${#times[@]} + 1) / 2))p")
echo "$green of $runs green; median $median s"
[ "$green" -eq "$runs" ]
