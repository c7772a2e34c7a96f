using Tachyscope;

/// <summary>The weather of an hour from a slow service: asked each time, or remembered.</summary>
internal static class WeatherReports
{
    private static readonly Dictionary<int, double> Remembered = [];

    public static Study Study => Tachyscope.Study
        .Of("wind of the hour")
        .Input("the sixth hour", () => 6)
        .Baseline("ask each time", hour => AskAsync(hour))
        .Variant("remember", hour => RememberAsync(hour));

    /// <summary>A service two milliseconds away.</summary>
    private static async Task<double> AskAsync(int hour)
    {
        await Task.Delay(2);
        return 3.5 + Math.Sin(hour);
    }

    private static async ValueTask<double> RememberAsync(int hour)
    {
        if (!Remembered.TryGetValue(hour, out var knots))
        {
            knots = await AskAsync(hour);
            Remembered[hour] = knots;
        }

        return knots;
    }
}
