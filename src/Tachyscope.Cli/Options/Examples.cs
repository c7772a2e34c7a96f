namespace Tachyscope.Cli.Options;

/// <summary>What a command line of each command looks like.</summary>
internal static class Examples
{
    /// <summary>Examples of each command, and what each answers.</summary>
    public static IReadOnlyDictionary<string, (string Line, string Answer)[]> Of { get; } = new Dictionary<string,
        (string, string)[]>(StringComparer.Ordinal)
    {
        ["try"] =
        [
            ("tachyscope try 'text.Split(\",\")[0]' 'text[..text.IndexOf(\",\")]' --given 'var text = \"lamp,buoy\";'",
                "which of two lines is faster"),
            ("tachyscope try old.cs new.cs --input 'n = 10, 1000, 100000' --watch", "from what size on, again whenever a file is saved"),
        ],
        ["new"] =
        [
            ("tachyscope new lamps", "a project to begin with"),
            ("tachyscope new lamps.cs", "the same in a single file"),
        ],
        ["run"] =
        [
            ("tachyscope run lamps --within 20s --out lamps.json", "every study of a project, in so much time, saved"),
            ("tachyscope run lamps --only 'count*' --target net8.0 --target net10.0", "one study on two runtimes"),
        ],
        ["duel"] =
        [
            ("tachyscope duel main now lamps", "did what I changed make it faster"),
            ("tachyscope duel net8.0 net10.0 lamps --repeat 3", "does a newer runtime, and does that hold"),
        ],
        ["report"] =
        [
            ("tachyscope report lamps.json --show all", "everything that a saved run knows"),
            ("tachyscope report --show growth,uses", "more of what was measured last"),
            ("tachyscope report lamps.json --against previous --margin 5%", "another question to the same readings"),
            ("tachyscope report lamps.json --calls 500/min --callers 20 --price 0.04", "what the differences are worth, in time and money"),
        ],
        ["caveat"] =
        [
            ("tachyscope caveat near-residue", "what it means, and where the last run has it"),
            ("tachyscope caveat core-shared lamps.json", "the evidence in a saved run"),
        ],
        ["code"] =
        [
            ("tachyscope code 'nearest*'", "what can be counted in the code of each variant"),
            ("tachyscope code 'nearest*' 'sorted' 'grid' --project lamps", "the machine code of two, side by side"),
            ("tachyscope code 'nearest*' 'sorted' --target net8.0 --target net10.0 --show il,machine", "of one, on two runtimes"),
        ],
        ["compare"] =
        [
            ("tachyscope compare last~1", "what changed between the last two runs"),
            ("tachyscope compare main last --margin 2%", "the newest run of a branch, and the last"),
        ],
        ["trend"] =
        [
            ("tachyscope trend 'nearest*'", "how a study went so far, and where it changed"),
            ("tachyscope trend 'nearest*' --by commit --every-cell", "a step for each commit, and every cell"),
        ],
        ["gate"] =
        [
            ("tachyscope gate lamps --against main --out gate.md", "may this be merged, with a page for the pull request"),
            ("tachyscope gate lamps --against last --margin 5%", "is it still as fast as when it was measured last"),
        ],
        ["pinpoint"] =
        [
            ("tachyscope pinpoint v1.2 main lamps", "which commit changed what changed most since then"),
            ("tachyscope pinpoint HEAD~60 HEAD lamps --cell 'sorted' --follow bytes", "which made a cell allocate more"),
        ],
        ["history"] =
        [
            ("tachyscope history", "the newest runs"),
            ("tachyscope history label last 'before the grid'", "a name to find a run by"),
            ("tachyscope history export runs", "all of them as files"),
        ],
        ["plan"] =
        [
            ("tachyscope plan lamps --shares 12 --for slurm", "twelve files, and the job array that measures them"),
            ("tachyscope plan lamps --machine small --machine large --for ssh", "everything on two kinds of machine"),
        ],
        ["merge"] =
        [
            ("tachyscope merge shares --out lamps.json", "what came back, in one run; and what did not"),
            ("tachyscope merge shares --show all", "all of it, on the terminal"),
        ],
        ["guest"] =
        [
            ("tachyscope guest check guests/nearest.c --build 'clang -O3'", "whether a guest of a kit can be measured"),
            ("tachyscope guest check -- ./worker --fast", "whether a worker of your own can"),
        ],
        ["survey"] =
        [
            ("tachyscope survey", "how steady this machine is now"),
            ("tachyscope survey --limits", "what it can read and compute at most"),
        ],
        ["demo"] =
        [
            ("tachyscope demo", "a minute of the harbour signal station"),
            ("tachyscope demo --only 'nearest*' --show growth,uses", "one of its studies, and how it grows"),
        ],
        ["completion"] =
        [
            ("source <(tachyscope completion bash)", "complete from now on"),
            ("tachyscope completion fish", "what fish needs"),
        ],
    };
}
