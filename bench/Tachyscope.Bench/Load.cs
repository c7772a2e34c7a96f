using System.Diagnostics;

namespace Tachyscope.Bench;

/// <summary>A background load in a process of its own: of one processor, coming and going, or of all of them, steady.</summary>
internal sealed class Load : IDisposable
{
    private readonly Process _process;

    private Load(Process process) => _process = process;

    public static Load Start(TimeSpan atMost, bool isSteady)
    {
        var seconds = ((int)atMost.TotalSeconds).ToString(System.Globalization.CultureInfo.InvariantCulture);
        var start = new ProcessStartInfo(Working.DotnetHost.Path, ["exec", typeof(Load).Assembly.Location, isSteady ? "steady-load" : "load", seconds]) { UseShellExecute = false };
        return new Load(Process.Start(start)!);
    }

    /// <summary>Works and rests in turns of 0.1 to 0.7 s until the time is over.</summary>
    public static void ComeAndGo(TimeSpan atMost)
    {
        var random = new Random(17);
        var begin = Stopwatch.GetTimestamp();
        while (Stopwatch.GetElapsedTime(begin) < atMost)
        {
            var turn = Stopwatch.GetTimestamp();
            var length = TimeSpan.FromSeconds(0.1 + (0.6 * random.NextDouble()));
            while (Stopwatch.GetElapsedTime(turn) < length)
            {
                Measuring.Metronome.Run(Measuring.Metronome.LinksPerReading);
            }

            Thread.Sleep(TimeSpan.FromSeconds(0.1 + (0.6 * random.NextDouble())));
        }
    }

    /// <summary>Works on every processor until the time is over.</summary>
    public static void Stay(TimeSpan atMost)
    {
        var begin = Stopwatch.GetTimestamp();
        Thread[] threads = [.. Enumerable.Range(0, Environment.ProcessorCount).Select(_ => new Thread(() =>
        {
            while (Stopwatch.GetElapsedTime(begin) < atMost)
            {
                Measuring.Metronome.Run(Measuring.Metronome.LinksPerReading);
            }
        }))];
        Array.ForEach(threads, thread => thread.Start());
        Array.ForEach(threads, thread => thread.Join());
    }

    public void Dispose()
    {
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
    }
}
