using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads a seed.</summary>
internal static class SeedValue
{
    public static int Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (int.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out var seed))
        {
            return seed;
        }

        result.AddError($"\"{text}\" is no whole number from {int.MinValue} to {int.MaxValue}; write a seed such as 7.");
        return 0;
    }
}
