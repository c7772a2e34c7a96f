namespace Tachyscope.Lab.Targets;

/// <summary>One kind of part that a target's recipe may have.</summary>
/// <param name="Key">What it begins with, such as "runtime" or "switch:".</param>
/// <param name="Form">How it is written, such as "runtime=net8.0".</param>
/// <param name="Values">Values to offer; empty where they cannot be listed.</param>
/// <param name="Apply">Adds it to a target, given what stands between colon and equals sign, if anything, and the value; null when the
/// value cannot be.</param>
internal sealed record TargetPart(string Key, string Form, IReadOnlyList<string> Values, Func<Target, string, string, Target?> Apply)
{
    /// <summary>Whether it names something of its own between a colon and the equals sign.</summary>
    public bool IsNaming => Key.EndsWith(':');

    /// <summary>Whether it stands for itself, without a value.</summary>
    public bool IsFlag => !Form.Contains('=', StringComparison.Ordinal);

    /// <summary>Whether it may come several times, each with a value of its own.</summary>
    public bool IsRepeatable => Key == "define";
}
