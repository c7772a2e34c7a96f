namespace Tachyscope.Analysis.Machines;

/// <summary>How steady a machine is.</summary>
public enum Steadiness
{
    /// <summary>Hardly a reading is disturbed.</summary>
    Quiet,

    /// <summary>Some readings are disturbed; medians absorb them.</summary>
    Uneasy,

    /// <summary>Many readings are disturbed; runs need more time and absolute times are doubtful.</summary>
    Noisy,
}
