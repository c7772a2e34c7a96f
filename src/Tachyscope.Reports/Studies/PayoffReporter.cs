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
    private const int MostRows = 3;

    /// <summary>What the largest differences are worth, or all of them, with the ends of the intervals; one unit a column.</summary>
    /// <param name="findings">What was found of the study.</param>
    /// <param name="terms">How much the operation is used; null when that is not known, and only how often it must be called is
    /// told.</param>
    /// <param name="areAllShown">Whether every comparison has its row; the three largest by default.</param>
    public static FigureTable Report(StudyFindings findings, PayoffTerms? terms, bool areAllShown = false)
    {
        ArgumentNullException.ThrowIfNull(findings);
        var all = Compared(findings)
            .Select(pair => (Name: Name(findings, pair.Input, pair.Cell), pair.Cell.Contrast!.Verdict,
            Payoff: Payoff.Of(pair.Cell.Contrast!, terms))).ToList();
        var shown = areAllShown || all.Count <= MostRows ? all
            : [.. all.OrderByDescending(found => found.Verdict is Verdict.Faster or Verdict.Slower ? Size(found.Payoff) : -1)
                .Take(MostRows)];
        List<(string Heading, Func<Payoff, Interval?> Of)> spans = terms is null ? [] :
        [
            ("saved a day", payoff => payoff.SecondsPerDaySaved), ("processor time a year", payoff => payoff.ProcessorSecondsPerYearSaved),
        ];
        var units = spans.ConvertAll(span => Quantity.SpanUnit(shown.Select(found => span.Of(found.Payoff)).OfType<Interval>()
            .Where(saved => saved.IsBounded)
            .Select(saved => Math.Abs(saved.Estimate)).DefaultIfEmpty(0).Max()));
        var isPriced = terms?.PricePerProcessorHour is not null;
        var what = terms is null ? "what it takes to save a second a day" : $"at {Rate(terms)}";
        return new FigureTable
        {
            Title = shown.Count < all.Count ? Wording.Invariant($"{what}: the {shown.Count} largest of {all.Count}") : what,
            Of = "variant, input",
            Headings = [.. spans.Select((span, index) => $"{span.Heading}, {units[index].Name}"), .. isPriced ? ["worth a year"]
                : (string[])[], "a second a day from"],
            Rows = [.. shown.Select(found => new FigureRow(found.Name, found.Verdict switch
            {
                // What is not told apart, or is the same, saves nothing that is known.
                Verdict.Unclear or Verdict.Same
                    => [found.Verdict == Verdict.Same ? "the same"
                    : "cannot tell", .. Enumerable.Repeat("", spans.Count + (isPriced ? 1 : 0))],
                _ =>
                [
                    .. spans.Select((span, index) => Saved(span.Of(found.Payoff), units[index].Seconds)),
                    .. isPriced ? [Worth(found.Payoff.MoneyPerYearSaved)] : (string[])[],
                    found.Verdict == Verdict.Slower ? "never" : Calls(found.Payoff.CallsPerDayForASecond),
                ],
            }))],
        };
    }

    private static double Size(Payoff payoff)
        => payoff.SecondsPerDaySaved is { IsKnown: true } saved ? Math.Abs(saved.Estimate) : 1 / payoff.CallsPerDayForASecond.Estimate;

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
        => $"{Quantity.Small(terms.CallsPerSecond)} calls a second"
            + (terms.Callers > 1 ? $" of each of {Quantity.Count(terms.Callers)}" : "");

    private static string Name(StudyFindings findings, InputFindings input, CellFindings cell)
        => findings.Inputs.Count == 1 ? cell.Variant.Name : $"{cell.Variant.Name}, {input.Input.Label}";

    private static string Saved(Interval? saved, double unit)
        => saved is not { IsBounded: true } known ? Quantity.Absent
            : Ends(known.Through(seconds => seconds / unit), value => Quantity.Digits(value));

    private static string Worth(Interval? money)
        => money is not { IsBounded: true } known ? Quantity.Absent : Ends(known, value => Quantity.Digits(value));

    private static string Ends(Interval known, Func<double, string> write)
        => known.Bound != Bound.None ? Quantity.Known(known, write)
            : known.Lower < 0 && known.Upper > 0
                ? $"cannot tell ({Quantity.Range(write(known.Lower), write(known.Upper))})"
                : $"{write(known.Estimate)} ({Quantity.Range(write(known.Lower), write(known.Upper))})";

    private static string Calls(Interval calls)
        => !calls.IsKnown ? "cannot tell"
            : calls.IsBounded ? $"{Quantity.Rate(calls.Estimate).TrimEnd()} calls "
                + $"({Quantity.Range(Quantity.Rate(calls.Lower).TrimEnd(), Quantity.Rate(calls.Upper).TrimEnd())}), "
                + $"{Quantity.Rate(calls.Estimate / SecondsPerDay).TrimEnd()} a second"
            : $"cannot tell; no fewer than {Quantity.Rate(calls.Lower).TrimEnd()} calls";
}
