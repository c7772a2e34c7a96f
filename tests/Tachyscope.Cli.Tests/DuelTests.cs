using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on revisions of a small repository.</summary>
public sealed class DuelTests : IClassFixture<SmallRepository>
{
    private readonly SmallRepository _repository;

    public DuelTests(SmallRepository repository) => _repository = repository;

    [Fact]
    public async Task A_revision_duels_the_work_tree_as_it_is_and_the_repository_is_left_alone()
    {
        _repository.Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => 1; }");

        var (exitCode, output, error) = await _repository.RunAsync("duel", "old", "now", _repository.Study, "--within", "4s", "--out",
            _repository.Saved, "--show", "ground");

        Assert.True(exitCode == ExitCode.Failed, error + output);
        Assert.Contains("sum on now (64 levels): answers 1 where it answers 4160 on old", output, StringComparison.Ordinal);
        Assert.Matches(@" · sum · ", output);
        Assert.Matches(@" · oldest · old: \d.* · now: · not there", output);
        Assert.Matches(@" · newest · old: · not there · now: \d", output);
        Assert.Contains("only old has \"only old\", which is not measured", output, StringComparison.Ordinal);
        Assert.Contains("only now has \"only new\", which is not measured", output, StringComparison.Ordinal);
        Assert.Matches(@"commit +[0-9a-f]{10} +[0-9a-f]{10} with changes", output);
        var run = RunFile.Read(_repository.Saved);
        Assert.Equal(["old", "now"], run.Targets.Select(target => target.Name));
        Assert.True(run.Plan.WithinSeconds > 3, "Building is not measuring.");
        Assert.Equal(" M tides/Tides.cs\n", _repository.Git("status", "--short"));
        Assert.Single(_repository.Git("worktree", "list").Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.DoesNotContain(Directory.EnumerateDirectories(_repository.Folder, "*", SearchOption.AllDirectories), folder => Path.GetFileName(folder) is "bin" or "obj");
    }
}
