using System.CommandLine;

namespace Tachyscope.Cli.Histories;

/// <summary>The options that keep a run in a history.</summary>
internal sealed class SavingOptions
{
    private readonly Option<string?> _save = new("--save")
    {
        Description = "Keep the run in the history, under a label if one is given.",
        HelpName = "[LABEL]",
        Arity = ArgumentArity.ZeroOrOne,
    };

    public HistoryOption History { get; } = new();

    public void AddTo(Command command)
    {
        command.Add(_save);
        command.Add(History.Option);
    }

    /// <summary>Whether the run is to be kept.</summary>
    public bool IsAsked(ParseResult result) => result.GetResult(_save) is not null;

    /// <summary>The label it is to bear; null for none.</summary>
    public string? Label(ParseResult result) => result.GetValue(_save);
}
