using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads how many copies of the study's code are called.</summary>
internal static class CopiesValue
{
    private const int Most = 16;

    public static int Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var copies) && copies is >= 1 and <= Most)
        {
            return copies;
        }

        result.AddError(
            $"\"{text}\" is no whole number from 1 to {Most}; write how many copies of the code each sitting is to call, such as 4.");
        return 1;
    }
}
