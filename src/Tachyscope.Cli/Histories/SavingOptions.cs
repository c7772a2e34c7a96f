using System.CommandLine;
using System.CommandLine.Parsing;

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
        command.Validators.Add(TakeNoProjectForLabel);
    }

    /// <summary>Whether the run is to be kept.</summary>
    public bool IsAsked(ParseResult result) => result.GetResult(_save) is not null;

    /// <summary>The label it is to bear; null for none.</summary>
    public string? Label(ParseResult result) => result.GetValue(_save);

    // "run --save lamps" would measure what lies here, and call it lamps.
    private void TakeNoProjectForLabel(CommandResult result)
    {
        if (result.GetValue(_save) is { } label && Path.Exists(label)
            && result.Command.Arguments.FirstOrDefault(argument => argument.Name == "PROJECT") is { } project
            && result.GetResult(project) is null or { Implicit: true })
        {
            result.AddError($"--save {label}: what follows is the run's label, and {label} is there; write it before --save to measure it, "
                + "or name the project first to call the run so.");
        }
    }
}
