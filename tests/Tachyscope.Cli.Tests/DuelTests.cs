using Tachyscope.Lab.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on revisions of a small repository.</summary>
public sealed class DuelTests : IClassFixture<SmallRepository>
{
    private readonly SmallRepository _repository;

    public DuelTests(SmallRepository repository) => _repository = repository;

    [Fact]
    public async Task Two_revisions_duel_each_variant_against_itself_and_the_repository_is_left_alone()
    {
        var (exitCode, output, error) = await _repository.RunAsync("duel", "old", "new", _repository.Study, "--within", "6s", "--out", _repository.Saved);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(@"\n  sum +\S", output);
        Assert.Matches(@"\n  oldest +\S.* not there", output);
        Assert.Matches(@"\n  newest +not there +\S", output);
        Assert.Contains("only old has \"only old\", which is not measured", output, StringComparison.Ordinal);
        Assert.Contains("only new has \"only new\", which is not measured", output, StringComparison.Ordinal);
        var run = RunFile.Read(_repository.Saved);
        Assert.Equal(["old", "new"], run.Targets.Select(target => target.Name));
        Assert.True(run.Plan.WithinSeconds > 5, "Building is not measuring.");
        Assert.Equal("", _repository.Git("status", "--short"));
        Assert.Single(_repository.Git("worktree", "list").Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.DoesNotContain(Directory.EnumerateDirectories(_repository.Folder, "*", SearchOption.AllDirectories), folder => Path.GetFileName(folder) is "bin" or "obj");
    }

    [Fact]
    public async Task A_work_tree_with_changes_is_measured_as_it_is_under_todays_study_and_an_answer_that_changed_fails()
    {
        _repository.Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => 1; }");
        try
        {
            var (exitCode, output, error) = await _repository.RunAsync("duel", "old", "now", _repository.Study, "--study", "now", "--only", "sum*", "--within", "4s");

            Assert.True(exitCode == ExitCode.Failed, error + output);
            Assert.Contains("newest on now (64 levels): answers 1 where it answers 4160 on old", output, StringComparison.Ordinal);
            Assert.Matches(@"commit +[0-9a-f]{10} +[0-9a-f]{10} with changes", output);
            Assert.DoesNotContain("oldest", output, StringComparison.Ordinal);
        }
        finally
        {
            _repository.Git("checkout", "-q", "--", ".");
        }
    }
}
