using System.Globalization;
using System.Text.RegularExpressions;
using Tachyscope;

/// <summary>
/// Log lines of passing vessels, of which some are damaged: told by an exception, by a result value, by a pattern made once.
/// </summary>
internal static class PassingVessels
{
    private const string Plain = "06:42 GULL OF MORVEN course 214 speed 11.5";
    private const string Damaged = "06:4? GULL OF M#RVEN cou";

    public static Study Study => Tachyscope.Study
        .Of("read a log line")
        .Input("plain line", 95, () => Plain)
        .Input("damaged line", 5, () => Damaged)
        .Baseline("split, throw when damaged", ReadOrCatch)
        .Variant("split, tell when damaged", ReadOrTell)
        .Variant("spans", ReadBySpans)
        .Variant("pattern",
            prepare: () => new Regex(@"^(\d\d):(\d\d) .+ course (\d+) speed (\d+\.\d)$", RegexOptions.Compiled),
            use: ReadByPattern);

    private static Passage ReadOrCatch(string line)
    {
        try
        {
            var words = line.Split(' ');
            return new Passage(Minute(words[0]), Number(words[^1]));
        }
        catch (FormatException)
        {
            return default;
        }
    }

    private static Passage ReadOrTell(string line)
    {
        var words = line.Split(' ');
        return TryMinute(words[0], out var minute) && TryNumber(words[^1], out var knots) ? new Passage(minute, knots) : default;
    }

    private static Passage ReadBySpans(string line)
    {
        var speed = line.AsSpan(line.LastIndexOf(' ') + 1);
        return TryMinute(line, out var minute) && TryNumber(speed, out var knots) ? new Passage(minute, knots) : default;
    }

    private static Passage ReadByPattern(Regex pattern, string line)
    {
        var match = pattern.Match(line);
        return match.Success
            ? new Passage((60 * (int)Number(match.Groups[1].Value)) + (int)Number(match.Groups[2].Value), Number(match.Groups[4].Value))
            : default;
    }

    private static int Minute(string time)
        => (60 * int.Parse(time.AsSpan(0, 2), CultureInfo.InvariantCulture)) + int.Parse(time.AsSpan(3, 2), CultureInfo.InvariantCulture);

    private static double Number(string word) => double.Parse(word, CultureInfo.InvariantCulture);

    private static bool TryNumber(ReadOnlySpan<char> word, out double number)
        => double.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out number);

    private static bool TryMinute(ReadOnlySpan<char> time, out int minute)
    {
        minute = 0;
        if (time.Length < 5 || !int.TryParse(time[..2], CultureInfo.InvariantCulture, out var hours)
            || !int.TryParse(time[3..5], CultureInfo.InvariantCulture, out var minutes))
        {
            return false;
        }

        minute = (60 * hours) + minutes;
        return true;
    }

    private readonly record struct Passage(int Minute, double Knots);
}
