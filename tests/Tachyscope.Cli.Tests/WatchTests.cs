using System.Text.Json;

namespace Tachyscope.Cli.Tests;

/// <summary>Measuring again whenever a source is saved.</summary>
public sealed class WatchTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope watch ü").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_file_that_is_saved_is_measured_again_beside_the_last_time()
    {
        var file = Path.Combine(_folder, "flashes.cs");
        await File.WriteAllTextAsync(file, "n * 3");

        var (output, error) = await WatchAsync(["try", file, "--input", "n = 5", "--within", "1s"],
            () => File.WriteAllText(file, "n *"), () => File.WriteAllText(file, "n * 5"));

        Assert.Contains("tachyscope:     n *", error, StringComparison.Ordinal);
        Assert.Contains("snippets since the last time: not the same work, and not compared: flashes · n = 5 (another answer, 15 → 25)",
            output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_changed_came_and_went_is_told_of_each_study()
    {
        var sound = ScriptedStudies.Sound();
        using var project = new ScriptedProject(sound);
        void Save(string[] variants, params double[] nanoseconds)
        {
            File.WriteAllText(Path.Combine(project.Folder, Script.FileName), JsonSerializer.Serialize(sound with
            {
                Studies = [ScriptedStudies.Of("lamps", variants)],
                Rows = [.. nanoseconds.Select(time => new ScriptedRow { Nanoseconds = [time] })],
            }, Script.Options));
            File.SetLastWriteTimeUtc(project.Assembly, File.GetLastWriteTimeUtc(project.Assembly).AddMinutes(1));
        }

        var (output, _) = await WatchAsync(["run", project.Assembly], () => Save(["steady", "dim", "quick"], 100, 70, 120),
            () => Save(["steady", "dim"], 100, 35));

        var told = output.Split('\n').Where(line => line.Contains("since the last time", StringComparison.Ordinal)).ToList();
        Assert.Equal(2, told.Count);
        Assert.Matches(
            @"lamps since the last time: allocates less: .*got slower: quick · a lamp × 2\.[34]\d* .*; new: dim · a lamp$", told[0]);
        Assert.Matches(
            @"lamps since the last time: got faster: dim · a lamp ÷ [12]\.[09]\d* .*; no longer measured: quick · a lamp$", told[1]);
    }

    // Does one thing after another, each while the watch waits, and ends it.
    private async Task<(string Output, string Error)> WatchAsync(string[] arguments, params Action[] saving)
    {
        using var end = CancellationTokenSource.CreateLinkedTokenSource(TestContext.Current.CancellationToken);
        end.CancelAfter(TimeSpan.FromMinutes(3));
        var shown = Path.Combine(_folder, "shown.txt");
        using var output = new StreamWriter(new FileStream(shown, FileMode.Create, FileAccess.Write,
            FileShare.ReadWrite)) { AutoFlush = true };
        using var error = new StringWriter();
        var around = new Surroundings { Output = output, Error = error, Cache = Path.Combine(Path.GetTempPath(), "tachyscope test cache") };

        var watching = Tool.InvokeAsync([.. arguments, "--watch", "--plain"], around, end.Token);
        for (var time = 0; time <= saving.Length; time++)
        {
            while (Shown().Split("watching 1 file;").Length <= time + 1)
            {
                await Task.Delay(50, end.Token);
            }

            if (time < saving.Length)
            {
                saving[time]();
            }
        }

        await end.CancelAsync();
        Assert.Equal(ExitCode.Fine, await watching);
        return (Shown(), error.ToString());

        string Shown()
        {
            using var reader = new StreamReader(new FileStream(shown, FileMode.Open, FileAccess.Read, FileShare.ReadWrite));
            return reader.ReadToEnd();
        }
    }
}
