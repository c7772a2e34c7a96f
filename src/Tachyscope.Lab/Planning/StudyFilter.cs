using System.IO.Enumeration;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Planning;

/// <summary>Chooses studies by patterns of their names, in which * stands for anything and ? for one character.</summary>
public static class StudyFilter
{
    /// <summary>The studies that match any of the patterns, in their own order; all when there is no pattern.</summary>
    /// <param name="studies">The studies to choose from.</param>
    /// <param name="patterns">The patterns; letter case does not matter.</param>
    public static IReadOnlyList<StudyDescription> Choose(IReadOnlyList<StudyDescription> studies, IReadOnlyList<string> patterns)
    {
        ArgumentNullException.ThrowIfNull(studies);
        ArgumentNullException.ThrowIfNull(patterns);
        return patterns.Count == 0
            ? studies
            : [.. studies.Where(study => patterns.Any(pattern => FileSystemName.MatchesSimpleExpression(pattern, study.Name)))];
    }

    /// <summary>The patterns that match no study.</summary>
    /// <param name="studies">The studies to choose from.</param>
    /// <param name="patterns">The patterns.</param>
    public static IReadOnlyList<string> Idle(IReadOnlyList<StudyDescription> studies, IReadOnlyList<string> patterns)
    {
        ArgumentNullException.ThrowIfNull(patterns);
        return [.. patterns.Where(pattern => Choose(studies, [pattern]).Count == 0)];
    }
}
