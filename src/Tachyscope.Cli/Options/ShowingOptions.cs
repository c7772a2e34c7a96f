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
        Description = "baseline: compare each variant with the baseline; previous: with the one before it, and the last with the first; "
            + "each: every two of them. baseline by default.",
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
        CustomParser = result => Split(result, StudyColumn.Keys, "no column"),
    };

    private readonly Option<string[]> _show = new("--show")
    {
        Description = $"Show more than the decision and its table: any of {string.Join(", ", Blocks.Words)}, or {All}.",
        HelpName = "LIST",
        AllowMultipleArgumentsPerToken = false,
        CustomParser = result => Split(result, [.. Blocks.Words, All], "nothing that can be shown"),
    };

    private const string All = "all";

    private readonly PlainOption _plain = new();

    public ShowingOptions()
    {
        WordValue.Allow(_against, Opponents.Keys);
        WordValue.Allow(_sort, Orders.Keys);
        _columns.CompletionSources.Add([.. StudyColumn.Keys]);
        _show.CompletionSources.Add([.. Blocks.Words, All]);
    }

    /// <param name="command">The command.</param>
    /// <param name="hasOpponent">Whether it leaves open what rows are compared with.</param>
    public void AddTo(Command command, bool hasOpponent = true)
    {
        foreach (var option in (Option[])[_show, .. hasOpponent ? [_against] : (Option[])[], _sort, _columns, _plain.Option])
        {
            command.Add(option);
        }
    }

    /// <param name="command">A command that shows no studies.</param>
    public void AddPlainTo(Command command) => command.Add(_plain.Option);

    public Against Opponent(ParseResult result)
        => result.GetResult(_against) is null ? Against.Baseline : Opponents[result.GetValue(_against)!];

    public bool IsPlain(ParseResult result) => _plain.IsPlain(result);

    public ReportOptions Report(ParseResult result) => new()
    {
        Sort = Orders[result.GetValue(_sort)!],
        Columns = result.GetValue(_columns) is { Length: > 0 } columns ? columns : null,
        Shown = Shown(result),
    };

    /// <summary>Whether anything is asked for beyond what is seen at a glance.</summary>
    public bool IsMoreShown(ParseResult result) => Shown(result).Count > 0;

    private IReadOnlySet<Block> Shown(ParseResult result)
        => result.GetValue(_show) is not { } words ? ReportOptions.Default.Shown
            : words.Contains(All) ? Blocks.All
            : words.Select(word => Blocks.ByWord[word]).ToHashSet();

    /// <summary>Reads words set apart by commas, and refuses others.</summary>
    public static string[] Split(ArgumentResult result, IReadOnlyList<string> known, string otherwise)
    {
        string[] asked = [.. result.Tokens.SelectMany(token => token.Value.Split(',', StringSplitOptions.TrimEntries))];
        if (asked.FirstOrDefault(key => !known.Contains(key, StringComparer.Ordinal)) is { } unknown)
        {
            result.AddError($"{((OptionResult)result.Parent!).Option.Name}: \"{unknown}\" is {otherwise}; there are "
                + $"{string.Join(", ", known)}.");
        }

        return [.. asked.Distinct()];
    }
}
