namespace Tachyscope.Cli.Options;

/// <summary>In what order help tells of commands and options: that of the work, what is needed every day first.</summary>
internal static class HelpGroups
{
    /// <summary>The commands, by what one wants.</summary>
    public static (string Title, string[] Names)[] Commands { get; } =
    [
        ("Every day", ["try", "run", "duel", "report", "caveat"]),
        ("Why", ["code"]),
        ("Over time", ["compare", "trend", "gate", "pinpoint", "history"]),
        ("Many machines", ["plan", "merge"]),
        ("Other languages", ["guest"]),
        ("To begin", ["demo", "new", "completion"]),
        ("The machine", ["survey"]),
    ];

    /// <summary>The options of all commands, by what they are about.</summary>
    public static (string Title, string[] Names)[] Options { get; } =
    [
        ("What is measured",
            ["--given", "--input", "--value", "--build", "--dial", "--against", "--only", "--cell", "--follow", "--study", "--target",
                "--using", "--package", "--old", "--reference", "--project", "--agree", "--limits"]),
        ("How long, how closely", ["--within", "--precision", "--margin", "--repeat"]),
        ("What is shown and written", ["--out", "--show", "--sort", "--columns", "--every-cell", "--plain", "--watch"]),
        ("What is kept", ["--save", "--history", "--runs", "--by", "--every-machine"]),
        ("On many machines", ["--share", "--shares", "--machine", "--into", "--for", "--tool"]),
        ("What a difference is worth", ["--calls", "--callers", "--price"]),
        ("A closer look", ["--explain", "--depth", "--probe", "--apart", "--speeds", "--cold", "--called", "--overlapped",
            "--collections", "--copies"]),
        ("Seldom needed", ["--seed", "--patience", "--rebuild", "--insist"]),
    ];
}
