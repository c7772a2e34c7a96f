using System.Globalization;
using System.Runtime.InteropServices;
using Tachyscope.Measuring;

namespace Tachyscope.Tests;

public sealed class ShortTurnsTests
{
    private const int OfOneThread = 0;
    // The nicest there is: whoever runs the tests may become that.
    private const int Nicest = 19;

    // Of proc_pid_stat(5), counted from the first after the thread's name.
    private const int NiceField = 16;
    private const int PolicyField = 38;

    [Fact]
    public void Who_asks_for_short_turns_stays_as_nice_as_it_was()
    {
        Assert.SkipUnless(OperatingSystem.IsLinux(), "only Linux is asked for short turns");
        var refused = -1;
        string[]? before = null, after = null;
        // A thread of its own, as one that is nice stays so.
        var thread = new Thread(() =>
        {
            refused = setpriority(OfOneThread, 0, Nicest);
            before = Fields();
            ShortTurns.Ask();
            after = Fields();
        });
        thread.Start();
        thread.Join();

        Assert.Equal(0, refused);
        Assert.Equal(Nicest.ToString(CultureInfo.InvariantCulture), before![NiceField]);
        Assert.Equal(before[NiceField], after![NiceField]);
        Assert.Equal(before[PolicyField], after[PolicyField]);
    }

    private static string[] Fields()
    {
        var told = File.ReadAllText("/proc/thread-self/stat");
        return told[(told.LastIndexOf(')') + 2)..].Split(' ');
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int setpriority(int kind, uint who, int nice);
}
