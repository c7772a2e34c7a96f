using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads a percentage, such as 0.5% or 0.5, into a share.</summary>
internal static class PercentValue
{
    private const double Most = 50;

    public static double? Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (Of(text) is { } share)
        {
            return share;
        }

        result.AddError(Problem(text));
        return null;
    }

    /// <summary>The share; null where the text is none.</summary>
    public static double? Of(string text)
        => double.TryParse(text.TrimEnd('%'), NumberStyles.Float, CultureInfo.InvariantCulture, out var percent) && percent > 0
            && percent <= Most
            ? percent / 100
            : null;

    /// <summary>What is wrong with a text that is none.</summary>
    public static string Problem(string text) => $"\"{text}\" is no percentage above 0 and up to {Most}; write one such as 0.5%.";
}
