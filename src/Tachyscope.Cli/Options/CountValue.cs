using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>Reads small whole numbers.</summary>
internal static class CountValue
{
    /// <summary>Reads one from 1, or a smaller least, to a largest.</summary>
    /// <param name="most">The largest.</param>
    /// <param name="wayOut">What to write instead of anything else.</param>
    /// <param name="least">The smallest.</param>
    public static Func<ArgumentResult, int> UpTo(int most, string wayOut, int least = 1) => result =>
    {
        var text = result.Tokens[0].Value;
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var count) && count >= least && count <= most)
        {
            return count;
        }

        result.AddError($"\"{text}\" is no whole number from {least} to {most}; {wayOut}.");
        return least;
    };
}
