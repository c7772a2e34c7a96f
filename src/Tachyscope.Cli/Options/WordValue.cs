using System.CommandLine.Parsing;

namespace Tachyscope.Cli.Options;

/// <summary>Checks options that take one of a few words.</summary>
internal static class WordValue
{
    public static void Check(OptionResult result, string option, IEnumerable<string> allowed)
    {
        foreach (var token in result.Tokens.Where(token => !allowed.Contains(token.Value, StringComparer.Ordinal)))
        {
            result.AddError($"{option} {token.Value}: allowed are {string.Join(", ", allowed)}.");
        }
    }
}
