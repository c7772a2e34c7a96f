using System.CommandLine;
using System.CommandLine.Parsing;
using Tachyscope.Exports;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Options;

/// <summary>The option that names files to write, each by its ending.</summary>
internal sealed class OutOption
{
    private const string RunEnding = ".json";

    private readonly Option<string[]> _out = new("--out")
    {
        Description = $"Write a file, by its ending: {RunEnding} saves the run, readings included; others show it: "
            + $"{string.Join(", ", ExportFile.Endings)}. May be repeated.",
        HelpName = "FILE",
        AllowMultipleArgumentsPerToken = false,
    };

    public OutOption()
    {
        _out.Validators.Add(Check);
    }

    public Option Option => _out;

    /// <summary>The file that the run is saved in; null for none.</summary>
    public string? Run(ParseResult result) => Files(result).FirstOrDefault(IsRun);

    /// <summary>The files that show it.</summary>
    public IReadOnlyList<string> Shown(ParseResult result) => [.. Files(result).Where(file => !IsRun(file))];

    /// <summary>Why one of the files cannot be written; null when all can.</summary>
    public string? Problem(ParseResult result)
        => Files(result).Select(file => (File: file, Problem: WholeFile.ProblemOf(file)))
            .FirstOrDefault(found => found.Problem is not null) is { Problem: { } problem } found
            ? $"--out {found.File}: {problem}"
            : null;

    private string[] Files(ParseResult result) => result.GetValue(_out) ?? [];

    private static bool IsRun(string file) => file.EndsWith(RunEnding, StringComparison.OrdinalIgnoreCase);

    private static void Check(OptionResult result)
    {
        string[] files = [.. result.Tokens.Select(token => token.Value)];
        foreach (var file in files.Where(file => !IsRun(file)))
        {
            if (ExportFile.ProblemOf(file) is { } problem)
            {
                result.AddError($"--out {file}: {problem}");
            }
        }

        if (files.Count(IsRun) > 1)
        {
            result.AddError($"--out: the run is saved once; {string.Join(" and ", files.Where(IsRun))} are too many.");
        }
    }
}
