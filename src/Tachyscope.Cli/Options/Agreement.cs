using System.CommandLine.Parsing;
using System.Globalization;

namespace Tachyscope.Cli.Options;

/// <summary>How far the answers of variants may differ.</summary>
/// <param name="Tolerance">As a share of the larger of 1 and the two; null for any answer.</param>
internal sealed record Agreement(double? Tolerance)
{
    private const string Any = "any";

    public static Agreement? Parse(ArgumentResult result)
    {
        var text = result.Tokens[0].Value;
        if (text == Any)
        {
            return new Agreement(Tolerance: null);
        }

        if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var tolerance) && tolerance >= 0
            && double.IsFinite(tolerance))
        {
            return new Agreement(tolerance);
        }

        result.AddError($"\"{text}\" is neither a number of 0 or more nor {Any}; write one such as 1e-9, or {Any}.");
        return null;
    }
}
