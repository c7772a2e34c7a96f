#!/usr/bin/env bash
# Makes plot.js: the plotting library of the pages, in one file. Needs npm; done once for each new version of it.
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
npm init -y > /dev/null
npm install --silent @observablehq/plot@0.6.17 d3@7.9 esbuild@0.28
echo 'import * as Plot from "@observablehq/plot"; globalThis.Plot = Plot;' > entry.js
npx esbuild entry.js --bundle --minify --format=iife --charset=ascii --outfile="$here/plot.js"
