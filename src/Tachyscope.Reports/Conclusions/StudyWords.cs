using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Conclusions;

/// <summary>The parts of sentences that all questions of a study share: its names, its places, what two rows come to.</summary>
internal sealed class StudyWords(StudyFindings findings)
{
    public const int NamesListed = 3;
    public const int PlacesListed = 3;

    public StudyFindings Findings { get; } = findings;

    public StudyDescription Study => Findings.Study;

    /// <summary>Numbers of threads that rows are called from.</summary>
    public IReadOnlyList<int?> Threads { get; } =
        [.. findings.Study.Variants.Where(row => row.Part != VariantPart.Prepare).Select(row => row.Loop.Threads).Distinct()];

    public string Name(int row) => Wording.Name(Study.Variants[row] with { Name = WithoutThreads(Study.Variants[row]) });

    public static string Name(StudyDescription study, string row)
        => Wording.Name(study.Variants.First(variant => WithoutThreads(variant) == row) with { Name = row });

    public string Names(IEnumerable<int> rows) => Wording.Some(rows.Select(Name), NamesListed);

    public static string Places(IEnumerable<string> labels) => Wording.Some(labels.Select(Wording.Quoted), PlacesListed);

    /// <summary>Where something holds; nothing when there is but one input.</summary>
    public string On(IReadOnlyCollection<InputFindings> inputs)
        => Findings.Inputs.Count == 1 ? ""
            : inputs.Count == Findings.Inputs.Count ? " on every input"
            : $" on {Places(inputs.Select(input => input.Input.Label))}";

    public string On(InputFindings input) => Findings.Inputs.Count == 1 ? "" : $" on {Wording.Quoted(input.Input.Label)}";

    public static string With(int? threads, string sentence) => threads is null ? sentence : $"with {Wording.Threads(threads)}, {sentence}";

    /// <summary>A row compared with another on an input; null where it was not.</summary>
    public static PairContrast? Compared(InputFindings input, int row, int other)
        => input.Pairs.Where(pair => (pair.Row, pair.Other) == (row, other))
            .Concat(input.Pairs.Where(pair => (pair.Row, pair.Other) == (other, row)).Select(pair => pair.Reversed()))
            .Select(pair => (PairContrast?)pair).FirstOrDefault();

    /// <summary>
    /// What a row is or takes against its baseline on some inputs, with the outer ends, such as "is 5.4 to 5.8 times as fast as scan";
    /// null where it is not faster on all.
    /// </summary>
    public (string? Text, IReadOnlyList<Interval> Evidence) Gain(IEnumerable<InputFindings> inputs, int row)
    {
        if (Study.Reference(row) is not { } other || other == row)
        {
            return (null, []);
        }

        var pairs = inputs.Select(input => Compared(input, row, other)).OfType<PairContrast>().ToList();
        return pairs.Count == 0 || pairs.Exists(pair => pair.Verdict != Verdict.Faster) ? (null, [])
            : (Wording.IsOrTakes(pairs.Min(pair => pair.OfProcess().Lower), pairs.Max(pair => pair.OfProcess().Upper), Name(other)),
                [.. pairs.Select(pair => pair.TimeRatio)]);
    }

    private static string WithoutThreads(VariantDescription row)
        => row.Loop.Threads is null ? row.Name : row.Name[..row.Name.LastIndexOf(',')];
}
