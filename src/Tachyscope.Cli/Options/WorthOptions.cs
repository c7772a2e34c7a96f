using System.CommandLine;
using Tachyscope.Analysis.Payoffs;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Options;

/// <summary>How much an operation is used: what differences are worth follows from it.</summary>
internal sealed class WorthOptions
{
    private readonly Option<double?> _calls = new("--calls")
    {
        Description = "With it payoff is shown: how often one caller calls the operation, such as 2000/s, 40k/min, 3M/h or 500/day; "
            + "what the study declares by default.",
        HelpName = "RATE",
        CustomParser = RateValue.Parse,
    };

    private readonly Option<int?> _callers = new("--callers")
    {
        Description = "Processes, machines or users that call as often; 1 by default.",
        HelpName = "N",
        CustomParser = PositiveValue.ParseWhole,
    };

    private readonly Option<double?> _price = new("--price")
    {
        Description = "Price of an hour of one processor, in any currency, such as 0.04.",
        HelpName = "PRICE",
        CustomParser = PositiveValue.Parse,
    };

    public void AddTo(Command command)
    {
        command.Add(_calls);
        command.Add(_callers);
        command.Add(_price);
    }

    public bool AreGiven(ParseResult result)
        => result.GetValue(_calls) is not null || result.GetValue(_callers) is not null || result.GetValue(_price) is not null;

    /// <summary>Why they say nothing of a study; null when they do.</summary>
    public string? Problem(ParseResult result, IEnumerable<StudyRecord> studies)
        => AreGiven(result) && studies.FirstOrDefault(study => Terms(result, PayoffReporter.Terms(study.Study)) is null) is { } silent
            ? $"\"{silent.Study.Name}\" does not say how often it is called, so that --callers and --price say nothing of it; "
                + "add --calls, such as --calls 2000/s, or choose others with --only."
            : null;

    /// <summary>What is said on the command line goes before what the study declares.</summary>
    public PayoffTerms? Terms(ParseResult result, PayoffTerms? declared)
    {
        var (asked, callers) = (result.GetValue(_calls), result.GetValue(_callers));
        return (asked ?? declared?.CallsPerSecond) is not { } calls ? null : new PayoffTerms
        {
            CallsPerSecond = calls,
            Callers = callers ?? (asked is null ? declared!.Callers : 1),
            PricePerProcessorHour = result.GetValue(_price),
        };
    }
}
