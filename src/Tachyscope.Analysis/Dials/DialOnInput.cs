using Tachyscope.Runs;

namespace Tachyscope.Analysis.Dials;

/// <summary>A variant's settings on one input.</summary>
/// <param name="Input">The input.</param>
/// <param name="Settings">The settings, in the order they were defined.</param>
public sealed record DialOnInput(InputDescription Input, IReadOnlyList<SettingFindings> Settings)
{
    /// <summary>The setting with the least time.</summary>
    public SettingFindings Best => Settings.First(setting => setting.IsBest);
}
