using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Payoffs;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Says what the differences of a study are worth. Pure.</summary>
public static class PayoffReporter
{
    private const double SecondsPerDay = 86_400;

    /// <summary>One row for each comparison, with the ends of the intervals.</summary>
    /// <param name="findings">What was found of the study.</param>
    /// <param name="terms">How much the operation is used; null when that is not known, and only how often it must be called is told.</param>
    public static FigureTable Report(StudyFindings findings, PayoffTerms? terms)
    {
        ArgumentNullException.ThrowIfNull(findings);
        return new FigureTable
        {
            Title = terms is null ? $"{findings.Study.Name}, what it takes to save a second a day" : $"{findings.Study.Name}, at {Rate(terms)}",
            Of = "variant, input",
            Headings = Headings(terms),
            Rows = [.. Compared(findings).Select(pair => Row(findings, pair.Input, pair.Cell, terms))],
        };
    }

    /// <summary>What the differences that are clear are worth a day, for a study that declares how often it is called; null for another.</summary>
    internal static FigureTable? Brief(StudyFindings findings)
        => Terms(findings.Study) is not { } terms ? null : new FigureTable
        {
            Title = $"at {Rate(terms)}",
            Of = "variant, input",
            Headings = ["time saved a day", "processor time a year"],
            Rows = [.. Compared(findings).Where(pair => pair.Cell.Contrast!.Verdict == Verdict.Faster).Select(pair => (pair, Payoff: Payoff.Of(pair.Cell.Contrast!, terms)))
                .Select(found => new FigureRow(Name(findings, found.pair.Input, found.pair.Cell), [Saved(found.Payoff.SecondsPerDaySaved), Saved(found.Payoff.ProcessorSecondsPerYearSaved)]))],
        };

    /// <summary>How much a study says it is used; null when it does not.</summary>
    /// <param name="study">The study.</param>
    public static PayoffTerms? Terms(StudyDescription study)
    {
        ArgumentNullException.ThrowIfNull(study);
        return study.Rate is { } rate ? new PayoffTerms { CallsPerSecond = rate.CallsPerSecond, Callers = rate.Callers } : null;
    }

    private static IEnumerable<(InputFindings Input, CellFindings Cell)> Compared(StudyFindings findings)
        => from input in findings.Inputs
           from cell in input.Cells
           where cell.Contrast is not null && cell.Variant.Part != VariantPart.Prepare
           select (input, cell);

    private static string Rate(PayoffTerms terms)
        => $"{Quantity.Small(terms.CallsPerSecond)} calls a second{(terms.Callers > 1 ? $" of each of {Quantity.Count(terms.Callers)}" : "")}";

    private static IReadOnlyList<string> Headings(PayoffTerms? terms) => terms is null ? ["calls a day for it"] :
    [
        "time saved a day", "time saved a year", "processor time a day", "processor time a year",
        .. terms.PricePerProcessorHour is null ? (string[])[] : ["worth a year"],
        "a second a day from",
    ];

    private static FigureRow Row(StudyFindings findings, InputFindings input, CellFindings cell, PayoffTerms? terms)
    {
        var payoff = Payoff.Of(cell.Contrast!, terms);
        // What is not told apart, or is the same, saves nothing that is known.
        if (cell.Contrast!.Verdict is Verdict.Unclear or Verdict.Same)
        {
            var word = cell.Contrast.Verdict == Verdict.Same ? "the same" : "cannot tell";
            return new FigureRow(Name(findings, input, cell), [word, .. Enumerable.Repeat("", Headings(terms).Count - 1)]);
        }

        string[] needed = [cell.Contrast.Verdict == Verdict.Slower ? "never" : Calls(payoff.CallsPerDayForASecond)];
        string[] saved = terms is null ? [] :
        [
            Saved(payoff.SecondsPerDaySaved), Saved(payoff.SecondsPerYearSaved), Saved(payoff.ProcessorSecondsPerDaySaved), Saved(payoff.ProcessorSecondsPerYearSaved),
            .. terms.PricePerProcessorHour is null ? (string[])[] : [Worth(payoff.MoneyPerYearSaved)],
        ];
        return new FigureRow(Name(findings, input, cell), [.. saved, .. needed]);
    }

    private static string Name(StudyFindings findings, InputFindings input, CellFindings cell)
        => findings.Inputs.Count == 1 ? cell.Variant.Name : $"{cell.Variant.Name}, {input.Input.Label}";

    private static string Saved(Interval? saved)
        => saved is not { IsBounded: true } known ? Quantity.Absent : Ends(known, Quantity.Span);

    private static string Worth(Interval? money) => money is not { IsBounded: true } known ? Quantity.Absent : Ends(known, value => Quantity.Digits(value));

    private static string Ends(Interval known, Func<double, string> write)
        => known.Bound != Bound.None ? Quantity.Known(known, write)
            : known.Lower < 0 && known.Upper > 0
                ? $"cannot tell ({Quantity.Range(write(known.Lower), write(known.Upper))})"
                : $"{write(known.Estimate)} ({Quantity.Range(write(known.Lower), write(known.Upper))})";

    private static string Calls(Interval calls)
        => !calls.IsKnown ? "cannot tell"
            : calls.IsBounded ? $"{Quantity.Rate(calls.Estimate).TrimEnd()} calls ({Quantity.Range(Quantity.Rate(calls.Lower).TrimEnd(), Quantity.Rate(calls.Upper).TrimEnd())}), {Quantity.Rate(calls.Estimate / SecondsPerDay).TrimEnd()} a second"
            : $"cannot tell; no fewer than {Quantity.Rate(calls.Lower).TrimEnd()} calls";
}
