using System.CommandLine;
using System.CommandLine.Parsing;

namespace Tachyscope.Cli.Options;

/// <summary>What takes one of a few words: others are refused, and a shell completes these.</summary>
internal static class WordValue
{
    public static void Allow(Option option, IReadOnlyCollection<string> allowed)
    {
        option.CompletionSources.Add([.. allowed]);
        option.Validators.Add(result => Check(result, option.Name, allowed));
    }

    public static void Allow(Argument argument, IReadOnlyCollection<string> allowed)
    {
        argument.CompletionSources.Add([.. allowed]);
        argument.Validators.Add(result => Check(result, argument.Name, allowed));
    }

    private static void Check(SymbolResult result, string what, IReadOnlyCollection<string> allowed)
    {
        foreach (var token in result.Tokens.Where(token => !allowed.Contains(token.Value)))
        {
            result.AddError($"{what} {token.Value}: allowed are {string.Join(", ", allowed)}.");
        }
    }
}
