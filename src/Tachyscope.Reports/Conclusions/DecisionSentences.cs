using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which variant to take, and what is lost at worst: one line for the study, or for each number of threads.</summary>
internal static class DecisionSentences
{
    // Beyond it a choice is not yet one.
    private const double MostLostShare = 0.1;

    // Beyond ten times as long an end says no more than that nothing is known.
    private const double MostToldShare = 9;

    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Decisions.SelectMany(decision => Sentences(words, decision));

    /// <summary>Whether one variant is to be taken up to some size, and another above.</summary>
    public static bool AreBySize(StudyWords words, int? threads)
        => words.Study.Inputs.All(input => input.Sizes.Count == 1) && Slices(words, threads).Any();

    /// <summary>What is said of the row that is to be taken at the largest size.</summary>
    public const string TakeAbove = "take above";

    /// <summary>Whether a row is to be taken, and where; null for one that is not.</summary>
    public static string? Remark(StudyWords words, int row)
    {
        if (words.Findings.Sittings < 2)
        {
            return null;
        }

        foreach (var decision in words.Findings.Decisions)
        {
            var bands = AreBySize(words, decision.Threads) ? Slices(words, decision.Threads).ToList() : [];
            foreach (var growth in bands.Where(growth => growth.Bands.Any(band => band.Row == row)))
            {
                return row == growth.Bands[^1].Row ? TakeAbove : "take below";
            }

            if (bands.Count == 0 && decision.Row == row && (decision.IsFastest || decision.Loss.WorstShare <= MostLostShare))
            {
                return "take";
            }
        }

        return null;
    }

    private static IEnumerable<GrowthFindings> Slices(StudyWords words, int? threads)
        => words.Findings.Growth.Where(growth => growth.Threads == threads && growth.Bands.Count > 1);

    private static IEnumerable<Sentence> Sentences(StudyWords words, Decision decision)
    {
        // Another order may be true of a core of one's own: nobody is to find that out below the table only.
        var where = words.Findings.Core.IsOfSharedCore ? "on a core that others share, " : "";
        if (words.Findings.Sittings < 2)
        {
            yield return Say($"one sitting decides nothing yet: {words.Name(decision.Row)} {LedIn(words)}", []);
        }
        else if (AreBySize(words, decision.Threads))
        {
            foreach (var slice in Slices(words, decision.Threads))
            {
                var (text, evidence) = Bands(words, slice);
                yield return Say(where + text, evidence);
            }
        }
        else
        {
            var (text, evidence) = One(words, decision);
            yield return Say(where + text, evidence);
        }

        Sentence Say(string text, IReadOnlyList<Interval> evidence)
            => Sentence.Of(Question.Decision, StudyWords.With(decision.Threads, text), evidence);
    }

    private static string LedIn(StudyWords words)
        => words.Findings.Inputs.Count == 1 ? "took the least time in it" : "loses least over the inputs by what it read";

    private static (string Text, IReadOnlyList<Interval> Evidence) One(StudyWords words, Decision decision)
    {
        var (findings, row) = (words.Findings, decision.Row);
        var everywhere =
            findings.Inputs.Count == 1 ? "" : decision.Inputs == findings.Inputs.Count ? " on every input" : " wherever it has figures";
        var isBaseline = words.Study.Reference(row) == row;
        var take = isBaseline ? $"keep the baseline, {words.Name(row)}" : $"take {words.Name(row)}";
        var (gain, evidence) = words.Gain(findings.Inputs, row);
        var loss = decision.Loss;
        var worstInput = findings.Inputs[decision.WorstInput];
        var (to, on) = (words.Name(decision.WorstOther), words.On(worstInput));
        Interval[] worst = StudyWords.Compared(worstInput, row, decision.WorstOther) is { } pair ? [pair.TimeRatio] : [];
        if (decision.IsFastest)
        {
            return ($"{take}, the fastest{everywhere}{(gain is null ? "" : $": it {gain}")}", evidence);
        }

        if (loss.WorstShare <= MostLostShare)
        {
            var lost = loss.WorstShare <= 0
                ? "nothing is lost by it"
                : $"at worst {Quantity.Percent(loss.WorstShare)} is lost by it, to {to}{on}";
            return ($"{take}: {lost}{(gain is null ? "" : $", and it {gain}")}", [.. worst, .. evidence]);
        }

        if (!loss.IsSmall)
        {
            return ($"no one variant is to be taken everywhere: {words.Name(row)} loses least at its worst, "
                + $"{Lost(loss.EstimateShare)}{on}", worst);
        }

        var open = loss.WorstShare <= MostToldShare
            ? $"that is open: it may lose up to {Quantity.Percent(loss.WorstShare)} to {to}{on}"
            : $"nothing limits yet what it may lose to {to}{on}";
        return ($"{words.Name(row)} is ahead by its estimates{everywhere}, but {open}", worst);
    }

    private static string Lost(double share) => double.IsFinite(share) ? $"about {Quantity.Percent(share)}" : "more than can be told";

    private static (string Text, IReadOnlyList<Interval> Evidence) Bands(StudyWords words, GrowthFindings growth)
    {
        var advice = growth.Bands.Select((band, index) => index + 1 == growth.Bands.Count
            ? $"above, {Taken(words, band)}"
            : $"up to {Until(growth, band, index)}, {Taken(words, band)}");
        var last = growth.Bands[^1];
        var largest = words.Findings.Inputs.First(input => input.Input.Sizes[0].Value == growth.Sizes[^1]
            && input.Input.Sizes[0].Axis == growth.Axis && input.Input.Pool is not null == growth.Where is not null);
        var (gain, evidence) = words.Gain([largest], last.Row);
        var worst = growth.Bands.Max(band => band.Loss.WorstShare);
        var at = gain is null ? "" : $"; at {Wording.Quoted(largest.Input.Label)} {words.Name(last.Row)} {gain}";
        var lost = worst <= 0 ? "" : double.IsFinite(worst) ? $"; at worst {Quantity.Percent(worst)} is lost by that at a size measured"
            : "; nothing limits yet what may be lost by that";
        var borders = growth.Bands.Select(band => band.Until).OfType<Interval>().Where(until => until.IsKnown);
        return ($"{string.Join("; ", advice)}{at}{lost}", [.. borders, .. evidence]);
    }

    private static string Until(GrowthFindings growth, SizeBand band, int index)
    {
        var isVariable = InputSize.IsVariable(growth.Axis);
        if (band.Until is { IsKnown: true } until)
        {
            return isVariable ? $"{growth.Axis} of {Wording.About(until)}" : $"{Wording.About(until)} {growth.Axis}";
        }

        var between = $"somewhere between {Quantity.Count(band.LastSize)} and {Quantity.Count(growth.Bands[index + 1].FirstSize)}";
        return isVariable ? $"{growth.Axis} {between}" : $"{between} {growth.Axis}";
    }

    private static string Taken(StudyWords words, SizeBand band)
        => $"take {Wording.List([words.Name(band.Row), .. band.Ties.Take(StudyWords.NamesListed).Select(words.Name)], "or")}";
}
