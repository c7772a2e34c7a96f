using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads a number of calls in a unit of time, such as 2000/s or 40k/day, into calls per second.</summary>
internal static class RateValue
{
    private static readonly Dictionary<string, double> Seconds = new(StringComparer.Ordinal)
    {
        ["s"] = 1, ["min"] = 60, ["h"] = 3_600, ["day"] = 86_400,
    };

    private static readonly Dictionary<char, double> Thousands = new() { ['k'] = 1e3, ['M'] = 1e6, ['G'] = 1e9 };

    public static double? Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        var parts = text.Split('/');
        if (parts.Length == 2 && parts[0].Length > 0 && Seconds.TryGetValue(parts[1], out var seconds))
        {
            var factor = Thousands.GetValueOrDefault(parts[0][^1], 1);
            var digits = factor > 1 ? parts[0][..^1] : parts[0];
            if (double.TryParse(digits, NumberStyles.Float, CultureInfo.InvariantCulture, out var count) && count > 0
                && double.IsFinite(count * factor))
            {
                return count * factor / seconds;
            }
        }

        result.AddError($"\"{text}\" is no number of calls in a time; write one such as 2000/s, 40k/min, 3M/h or 500/day.");
        return null;
    }
}
