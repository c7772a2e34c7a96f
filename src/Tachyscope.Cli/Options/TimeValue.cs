using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads a span of time, such as 500ms, 20s, 5m or 1h.</summary>
internal static class TimeValue
{
    private static readonly (string Ending, double Seconds)[] Units = [("ms", 1e-3), ("s", 1), ("m", 60), ("h", 3600)];

    public static TimeSpan? Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (Of(text) is { } span)
        {
            return span;
        }

        result.AddError(Problem(text));
        return null;
    }

    /// <summary>The span; null where the text is none.</summary>
    public static TimeSpan? Of(string text)
    {
        foreach (var (ending, seconds) in Units)
        {
            if (text.EndsWith(ending, StringComparison.Ordinal)
                && double.TryParse(text[..^ending.Length], NumberStyles.Float, CultureInfo.InvariantCulture, out var count)
                && count > 0 && count * seconds <= TimeSpan.FromDays(1).TotalSeconds)
            {
                return TimeSpan.FromSeconds(count * seconds);
            }
        }

        return null;
    }

    /// <summary>What is wrong with a text that is none.</summary>
    public static string Problem(string text)
        => $"\"{text}\" is no span of time between 1ms and 24h; write a number and a unit, such as 500ms, 20s or 5m.";
}
