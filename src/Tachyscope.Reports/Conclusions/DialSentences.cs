using Tachyscope.Analysis.Dials;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which settings of a variant's dials to take, and what they lose at worst.</summary>
internal static class DialSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Sittings < 2 ? []
            : words.Findings.Dials.Where(dial => dial.Threads == words.Threads[0]).Select(dial => Sentence.Of(Question.Dial, Told(dial)));

    private static string Told(DialFindings dial)
    {
        var shown = dial.Inputs.SelectMany(input => input.Settings.Where(setting => !setting.IsTied)
            .Select(setting => (input.Input, Setting: setting)))
            .OrderByDescending(found => found.Setting.TimeRatio.Lower).Take(1).ToList();
        var cost = string.Concat(shown.Select(found => $"; {Wording.Settings(found.Setting.Settings)} takes at least "
            + $"{Quantity.Percent(found.Setting.TimeRatio.Lower - 1)} more on {Wording.Quoted(found.Input.Label)}"));
        if (shown.Count == 0 && dial.BestEverywhere.Count == dial.Inputs[0].Settings.Count)
        {
            return $"nothing separates the settings of {Wording.Quoted(dial.Variant)}";
        }

        if (dial.BestEverywhere.Count == 0)
        {
            var best = Wording.Some(
                dial.Inputs.Select(on => $"{Wording.Settings(on.Best.Settings)} on {Wording.Quoted(on.Input.Label)}"),
                    StudyWords.PlacesListed);
            return $"the best setting of {Wording.Quoted(dial.Variant)} moves with the input by the estimates: {best}{cost}";
        }

        var first = dial.BestEverywhere[0];
        var worst = dial.Inputs.Max(input => input.Settings.First(setting => setting.Settings.SequenceEqual(first)).Loss.WorstShare);
        var where = dial.Inputs.Count == 1 ? "" : worst <= 0 ? " on every input" : " over all inputs";
        var lost = worst <= 0 ? ""
            : double.IsFinite(worst) ? $" by the estimates, and loses at most {Quantity.Percent(worst)}"
            : " by the estimates, though nothing limits yet what it may lose";
        return $"{Wording.Settings(first)} serves {Wording.Quoted(dial.Variant)} best{where}{lost}{cost}";
    }
}
