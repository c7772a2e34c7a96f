using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which compiler or flag changes what, where a guest was built in several ways.</summary>
internal static class GuestSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Sittings < 2 ? []
            : words.Study.Variants.Where(row => row.Guest is { IsWhole: false }).GroupBy(row => row.Variant).Where(guest
                => guest.Count() > 1)
                .Select(guest => Of(words, guest.Key)).OfType<Sentence>();

    private static Sentence? Of(StudyWords words, string guest)
    {
        bool IsOwn(int row) => words.Study.Variants[row].Variant == guest;
        string Build(int row) => words.Study.Variants[row].Guest!.Build;
        foreach (var input in words.Findings.Inputs)
        {
            var sound = input.Cells.Where(cell => IsOwn(cell.Row) && cell.Failure is null).ToList();
            var gone = sound.FindAll(cell => cell.NanosecondsPerCall.Bound == Bound.AtMost);
            var left = sound.FindAll(cell => cell.NanosecondsPerCall.Bound == Bound.None && cell.NanosecondsPerCall.IsMeasured);
            if (gone.Count > 0 && left.Count > 0)
            {
                var fastest = left.MinBy(cell => cell.NanosecondsPerCall.Estimate)!;
                return Sentence.Of(Question.Guest,
                    $"{Some(gone.Select(cell => Build(cell.Row)))} leaves nothing of {Wording.Quoted(guest)} that could be measured"
                    + $"{words.On(input)}: it may have done the work once and for all; "
                    + $"{Build(fastest.Row)} takes {Quantity.Time(fastest.NanosecondsPerCall)}",
                    fastest.NanosecondsPerCall);
            }
        }

        var apart = words.Findings.Inputs.SelectMany(input => input.Pairs.Where(pair => IsOwn(pair.Row) && IsOwn(pair.Other))
            .Select(pair => (Input: input, Pair: pair.Verdict == Verdict.Slower ? pair.Reversed() : pair)))
            .Where(found => found.Pair.Verdict == Verdict.Faster)
            .OrderBy(found => found.Pair.TimeRatio.Upper).Take(1).ToList();
        return apart is [var (on, widest)]
            ? Sentence.Of(Question.Guest,
                $"of {Wording.Quoted(guest)}, what {Build(widest.Row)} makes{words.On(on)} "
                + $"{Wording.IsOrTakes(widest.TimeRatio.Lower, widest.TimeRatio.Upper, Build(widest.Other))}", widest.TimeRatio)
            : words.Findings.Inputs.SelectMany(input => input.Cells).Count(cell => IsOwn(cell.Row)
                && cell.Failure is null) > words.Findings.Inputs.Count
                ? Sentence.Of(Question.Guest, $"nothing separates the builds of {Wording.Quoted(guest)}")
                : null;
    }

    private static string Some(IEnumerable<string> builds) => Wording.Some(builds, StudyWords.NamesListed);
}
