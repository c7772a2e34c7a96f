using System.Globalization;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What caveats are found in: the run, one of its studies, and what was found of it.</summary>
/// <param name="Run">The run.</param>
/// <param name="Record">The study.</param>
/// <param name="Findings">What was found of it.</param>
/// <param name="View">Its sittings in shared workers.</param>
/// <param name="Sittings">All its sittings.</param>
/// <param name="Sound">What became of readings that cannot be true.</param>
/// <param name="Warm">What became of rounds that read code before it was optimised.</param>
/// <param name="Copies">Whether the copies of its code agree.</param>
internal sealed record CaveatGround(
    Run Run, StudyRecord Record, StudyFindings Findings, SittingsView View, IReadOnlyList<SittingFigures> Sittings, SoundReadings Sound,
    LastTier Warm, CopyAgreement Copies)
{
    /// <summary>A text in parts, so that no line of code has to be scrolled.</summary>
    public static string Text(params FormattableString[] parts)
        => string.Concat(parts.Select(part => part.ToString(CultureInfo.InvariantCulture)));

    public static string Subject(CellFindings cell, InputFindings input) => $"{cell.Variant.Name}, {input.Input.Label}";

    public string Subject(int variant, int input) => $"{Record.Study.Variants[variant].Name}, {Record.Study.Inputs[input].Label}";
}
