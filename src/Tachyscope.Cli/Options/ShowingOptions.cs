using System.CommandLine;
using System.CommandLine.Parsing;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Cli.Options;

/// <summary>The options of every command that shows studies.</summary>
internal sealed class ShowingOptions
{
    private static readonly Dictionary<string, Against> Opponents = new(StringComparer.Ordinal)
    {
        ["baseline"] = Against.Baseline,
        ["previous"] = Against.Previous,
        ["each"] = Against.Each,
    };

    private static readonly Dictionary<string, SortOrder> Orders = new(StringComparer.Ordinal)
    {
        ["defined"] = SortOrder.Defined,
        ["time"] = SortOrder.Time,
        ["bytes"] = SortOrder.Bytes,
        ["name"] = SortOrder.Name,
    };

    private readonly Option<string> _against = new("--against")
    {
        Description = "baseline: compare each variant with the baseline; previous: with the one before it, and the last with the first; each: every two of them. baseline by default.",
        HelpName = string.Join('|', Opponents.Keys),
        DefaultValueFactory = _ => "baseline",
    };

    private readonly Option<string> _sort = new("--sort")
    {
        Description = "The order of the rows; as defined by default.",
        HelpName = string.Join('|', Orders.Keys),
        DefaultValueFactory = _ => "defined",
    };

    private readonly Option<string[]> _columns = new("--columns")
    {
        Description = $"Show these columns and no others, such as time,factor,bytes. There are {string.Join(", ", StudyColumn.Keys)}.",
        HelpName = "LIST",
        AllowMultipleArgumentsPerToken = false,
        CustomParser = Split,
    };

    private readonly Option<bool> _figures = new("--figures")
    {
        Description = "Show every figure, those that tell nothing out of the ordinary too, and the run's checks on itself.",
    };

    private readonly PlainOption _plain = new();

    public ShowingOptions()
    {
        WordValue.Allow(_against, Opponents.Keys);
        WordValue.Allow(_sort, Orders.Keys);
        _columns.CompletionSources.Add([.. StudyColumn.Keys]);
    }

    public void AddTo(Command command)
    {
        foreach (var option in (Option[])[_against, _sort, _columns, _figures, _plain.Option])
        {
            command.Add(option);
        }

        command.Validators.Add(result =>
        {
            if (result.GetResult(_columns) is { Implicit: false } && result.GetValue(_figures))
            {
                result.AddError("--columns shows some figures and --figures all of them; leave one out.");
            }
        });
    }

    public Against Opponent(ParseResult result) => Opponents[result.GetValue(_against)!];

    public bool IsPlain(ParseResult result) => _plain.IsPlain(result);

    public ReportOptions Report(ParseResult result) => new()
    {
        Sort = Orders[result.GetValue(_sort)!],
        Columns = result.GetValue(_columns) is { Length: > 0 } columns ? columns : null,
        AreAllFiguresShown = result.GetValue(_figures),
    };

    private static string[] Split(ArgumentResult result)
    {
        string[] asked = [.. result.Tokens.SelectMany(token => token.Value.Split(',', StringSplitOptions.TrimEntries))];
        if (asked.FirstOrDefault(key => !StudyColumn.Keys.Contains(key, StringComparer.Ordinal)) is { } unknown)
        {
            result.AddError($"--columns: \"{unknown}\" is no column; there are {string.Join(", ", StudyColumn.Keys)}.");
        }

        return [.. asked.Distinct()];
    }
}
