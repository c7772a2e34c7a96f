using System.Text;

namespace Tachyscope.Code.Listings;

/// <summary>A method as metadata knows it, and how listings may write it.</summary>
/// <param name="Type">The full name of its type, with <c>+</c> before nested ones and without type arguments.</param>
/// <param name="Name">Its name.</param>
/// <param name="Parameters">How many parameters it has, <c>this</c> apart.</param>
public sealed record MethodName(string Type, string Name, int Parameters)
{
    /// <summary>Whether a listing's name is this method's, with whatever type arguments.</summary>
    /// <param name="listed">The name, such as <c>Chart`1[int]:Nearest[long](int):int:this</c>.</param>
    public bool Is(string listed)
    {
        ArgumentNullException.ThrowIfNull(listed);
        if (!listed.Contains(':', StringComparison.Ordinal))
        {
            return IsSymbol(listed);
        }

        var bare = WithoutArguments(listed, out var parameters);
        return bare == $"{Type}:{Name}" && parameters == Parameters;
    }

    // What is compiled ahead of time goes by assembly, type and name, with _ for all that is no letter or digit.
    private bool IsSymbol(string symbol)
    {
        var own = $"{Plain(Type)}__{Plain(Name)}";
        return symbol == own || symbol.EndsWith($"_{own}", StringComparison.Ordinal);

        static string Plain(string name) => string.Concat(name.Select(letter => char.IsAsciiLetterOrDigit(letter) ? letter : '_'));
    }

    // Type arguments stand in brackets, of the type and of the method; those of the parameters lie within the parentheses.
    private static string WithoutArguments(string listed, out int parameters)
    {
        var (text, depth, at) = (new StringBuilder(), 0, 0);
        for (; at < listed.Length && (listed[at] != '(' || depth > 0 || text.Length == 0); at++)
        {
            depth += listed[at] == '[' ? 1 : 0;
            if (depth == 0)
            {
                text.Append(listed[at]);
            }

            depth -= listed[at] == ']' ? 1 : 0;
        }

        parameters = CountParameters(listed, at);
        return text.ToString();
    }

    private static int CountParameters(string listed, int at)
    {
        var (depth, commas) = (0, 0);
        for (var i = at + 1; i < listed.Length; i++)
        {
            if (listed[i] == ')' && depth == 0)
            {
                return i == at + 1 ? 0 : commas + 1;
            }

            depth += listed[i] is '[' or '(' ? 1 : listed[i] is ']' or ')' ? -1 : 0;
            commas += listed[i] == ',' && depth == 0 ? 1 : 0;
        }

        return 0;
    }
}
