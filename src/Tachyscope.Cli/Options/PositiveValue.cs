using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads numbers above 0.</summary>
internal static class PositiveValue
{
    public static double? Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && number > 0
            && double.IsFinite(number))
        {
            return number;
        }

        result.AddError($"\"{text}\" is no number above 0; write one such as 0.04.");
        return null;
    }

    public static int? ParseWhole(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number > 0)
        {
            return number;
        }

        result.AddError($"\"{text}\" is no whole number above 0; write one such as 12.");
        return null;
    }
}
