using Tachyscope.Lab.Building;
using Tachyscope.Lab.Machines;

namespace Tachyscope.Lab.Tests;

public sealed class SurroundingsTests
{
    [Fact]
    public void Processor_times_are_read_from_the_first_line()
    {
        var before = ProcessorTimes.Parse("cpu  100 0 100 700 100 0 0 0 0 0\ncpu0 1 1 1");
        var after = ProcessorTimes.Parse("cpu  140 0 110 730 100 0 0 20 0 0\ncpu0 1 1 1");

        Assert.Equal((0.7, 0.2), Rounded(after!.Value.ShareSince(before!.Value)!.Value));
        Assert.Null(before.Value.ShareSince(before.Value));
        Assert.Null(ProcessorTimes.Parse("intr 5 4 3"));
    }

    [Fact]
    public void A_survey_hears_the_metronome()
    {
        var survey = Surveyor.Take(TimeSpan.FromMilliseconds(20));

        Assert.NotEmpty(survey.Beats);
        Assert.InRange(survey.ClockStepNanoseconds, 1, 1_000_000);
        Assert.NotEmpty(survey.Machine.Processor);
        Assert.All(survey.Caches, cache => Assert.InRange(cache.SizeBytes, 1_024, 1L << 32));
    }

    [Fact]
    public async Task A_path_that_is_no_project_is_told_as_such()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope").FullName;
        try
        {
            var builder = new ProjectBuilder(Path.Combine(folder, "cache"));
            await File.WriteAllTextAsync(Path.Combine(folder, "notes.txt"), "fog");

            Assert.Contains("there is no file or folder", await ErrorAsync("missing"), StringComparison.Ordinal);
            Assert.Contains("holds no project", await ErrorAsync("."), StringComparison.Ordinal);
            Assert.Contains("is no project", await ErrorAsync("notes.txt"), StringComparison.Ordinal);
            await File.WriteAllTextAsync(Path.Combine(folder, "fog.dll"), "fog");
            Assert.Contains("is no program: there is no fog.runtimeconfig.json", await ErrorAsync("fog.dll"), StringComparison.Ordinal);
            await File.WriteAllTextAsync(Path.Combine(folder, "a.csproj"), "");
            await File.WriteAllTextAsync(Path.Combine(folder, "b.csproj"), "");
            Assert.Contains("holds 2 projects", await ErrorAsync("."), StringComparison.Ordinal);

            async Task<string> ErrorAsync(string path)
            {
                var outcome = await builder.BuildAsync(Path.Combine(folder, path), CancellationToken.None);
                Assert.True(outcome.IsWrongUse);
                return Assert.Single(outcome.Errors);
            }
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static (double Busy, double Steal) Rounded((double Busy, double Steal) shares)
        => (Math.Round(shares.Busy, 9), Math.Round(shares.Steal, 9));
}
