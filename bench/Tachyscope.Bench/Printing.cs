using System.Globalization;

namespace Tachyscope.Bench;

/// <summary>Prints what was found, figures the same everywhere.</summary>
internal static class Printing
{
    /// <summary>One line.</summary>
    /// <param name="parts">What it is made of, one behind the other.</param>
    public static void Say(params FormattableString[] parts)
        => Console.WriteLine(string.Concat(parts.Select(part => part.ToString(CultureInfo.InvariantCulture))));
}
