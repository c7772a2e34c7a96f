using System.Diagnostics;

namespace Tachyscope.Bench;

/// <summary>A background load in a process of its own: of one processor, coming and going, or of all of them, steady.</summary>
internal sealed class Load : IDisposable
{
    /// <summary>Last word of the command line of a load that ends with whoever started it.</summary>
    public const string Tied = "tied";

    private readonly Process _process;

    private Load(Process process) => _process = process;

    /// <summary>A load of one processor that comes and goes, or a steady one of all.</summary>
    public static Load Start(TimeSpan atMost, bool isSteady)
        => isSteady ? Spin(Environment.ProcessorCount, atMost) : Start("load", atMost);

    /// <summary>So many busy loops.</summary>
    public static Load Spin(int loops, TimeSpan atMost) => Start("steady-load", atMost, loops);

    private static Load Start(string what, TimeSpan atMost, int loops = 1)
    {
        var start = new ProcessStartInfo(Working.DotnetHost.Path)
        {
            ArgumentList = { "exec", typeof(Load).Assembly.Location, what, Text((int)atMost.TotalSeconds), Text(loops), Tied },
            UseShellExecute = false,
            RedirectStandardInput = true,
        };
        return new Load(Process.Start(start)!);
    }

    private static string Text(int number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);

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

    /// <summary>Works in so many threads until the time is over.</summary>
    public static void Stay(TimeSpan atMost, int loops)
    {
        var begin = Stopwatch.GetTimestamp();
        Thread[] threads = [.. Enumerable.Range(0, loops).Select(_ => new Thread(() =>
        {
            while (Stopwatch.GetElapsedTime(begin) < atMost)
            {
                Measuring.Metronome.Run(Measuring.Metronome.LinksPerReading);
            }
        }))];
        Array.ForEach(threads, thread => thread.Start());
        Array.ForEach(threads, thread => thread.Join());
    }

    /// <summary>Ends this process when its input ends, as it does when the one that started it is killed.</summary>
    public static void EndWithInput() => new Thread(() =>
    {
        _ = Console.In.ReadToEnd();
        Environment.Exit(0);
    }) { IsBackground = true }.Start();

    public void Dispose()
    {
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
    }
}
