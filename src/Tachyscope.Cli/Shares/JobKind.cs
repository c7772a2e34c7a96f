using System.Globalization;
using Tachyscope.Lab.Shares;

namespace Tachyscope.Cli.Shares;

/// <summary>A way to carry shares to machines: the file it needs, and the command that begins.</summary>
/// <param name="Word">What it is asked for by.</param>
/// <param name="FileName">Name of its file for a kind of machine; null for the only one.</param>
/// <param name="Text">The file, given the shares of a kind and the folder they are in.</param>
/// <param name="Begin">The command that begins, given the path of the file.</param>
internal sealed record JobKind(
    string Word, Func<string?, string> FileName, Func<IReadOnlyList<Share>, string, string, string> Text, Func<string, string> Begin)
{
    private const int SpareMinutes = 20;

    public static IReadOnlyList<JobKind> All { get; } =
    [
        new("slurm", machine => $"slurm{Dashed(machine)}.sh", Slurm, path => $"sbatch {path}"),
        new("ssh", machine => $"ssh{Dashed(machine)}.sh", Ssh, path => $"bash {path} HOST…"),
    ];

    private static string Dashed(string? machine) => machine is null ? "" : $"-{machine}";

    // One node a share and nobody else on it. Nodes often share their home, and a cache that several write is slow there at best.
    private static string Slurm(IReadOnlyList<Share> shares, string folder, string tool)
    {
        var (part, prefix) = (shares[0].Part, Prefix(shares[0]));
        var limit = shares[0].Plan.WithinSeconds is { } within
            ? string.Create(CultureInfo.InvariantCulture, $"#SBATCH --time={SpareMinutes + (int)Math.Ceiling(within / 60)}\n") : "";
        var machine = part.Machine is { } name ? $"#SBATCH --constraint={name}\n" : "";
        return $$"""
            #!/bin/bash
            #SBATCH --job-name=tachyscope-{{part.Plan}}
            #SBATCH --array=1-{{part.Count.ToString(CultureInfo.InvariantCulture)}}
            #SBATCH --exclusive
            {{machine}}{{limit}}#SBATCH --output="{{folder}}/log-{{prefix}}%a.txt"
            # Submit it from the folder the plan was made in. Shares that failed are run again by themselves: sbatch --array=3,7 THIS.
            set -u
            export TACHYSCOPE_CACHE="${TACHYSCOPE_CACHE:-${TMPDIR:-/tmp}/tachyscope-$(id -u)}"
            exec {{tool}} run --share "{{folder}}/share-{{prefix}}$SLURM_ARRAY_TASK_ID.json" \
              --out "{{folder}}/run-{{prefix}}$SLURM_ARRAY_TASK_ID.json" --plain

            """;
    }

    // Whoever is free takes the next; what came back already is left alone, so that running it again runs what failed.
    private static string Ssh(IReadOnlyList<Share> shares, string folder, string tool)
    {
        var prefix = Prefix(shares[0]);
        return $$"""
            #!/bin/bash
            # Run it from the folder the plan was made in, which has to be at the same path on every host: bash THIS HOST…
            # Run it again to run the shares again that failed.
            set -u
            here="$PWD"
            folder='{{folder}}'
            there="$folder"
            [ "${folder#/}" = "$folder" ] && there="$here/$folder"
            take() {
              for share in $(seq 1 {{shares[0].Part.Count.ToString(CultureInfo.InvariantCulture)}}); do
                name="{{prefix}}$share"
                [ -s "$folder/run-$name.json" ] && continue
                mkdir "$folder/taken-$name" 2> /dev/null || continue
                echo "$1: share $name"
                ssh -n "$1" "mkdir -p '$there'" &&
                scp -q "$folder/share-$name.json" "$1:$there/" &&
                ssh -n "$1" "cd '$here' && {{tool}} run --share '$folder/share-$name.json' --out '$folder/run-$name.json' --plain" \
                  > "$folder/log-$name.txt" 2>&1
                scp -q "$1:$there/run-$name.json" "$folder/" 2> /dev/null ||
                  [ -s "$folder/run-$name.json" ] || echo "$1: share $name failed, see $folder/log-$name.txt" >&2
                rmdir "$folder/taken-$name"
              done
            }
            for host in "$@"; do
              take "$host" &
            done
            wait

            """;
    }

    private static string Prefix(Share share) => share.Part.Machine is { } machine ? $"{machine}-" : "";
}
