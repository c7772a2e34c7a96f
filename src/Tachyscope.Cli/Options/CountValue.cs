using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads how often a comparison is made.</summary>
internal static class RepeatValue
{
    private const int Most = 20;

    public static int Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var repeats) && repeats is >= 1 and <= Most)
        {
            return repeats;
        }

        result.AddError($"\"{text}\" is no whole number from 1 to {Most}; write how often to compare, such as 3.");
        return 1;
    }
}
