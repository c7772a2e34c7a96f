using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on revisions of a small repository.</summary>
public sealed class DuelTests : IClassFixture<SmallRepository>
{
    private readonly SmallRepository _repository;

    public DuelTests(SmallRepository repository) => _repository = repository;

    [Fact]
    public async Task A_piece_of_code_is_tried_on_the_project_as_it_was_and_as_it_is()
    {
        _repository.Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => levels[0]; }");
        string[] code = ["try", "Tides.Sum(levels)", "--given", "var levels = new int[64];", "--project", _repository.Study];

        var (exitCode, output, error) = await _repository.RunAsync([.. code, "--old", "old", "--within", "3s"]);
        var unknown = await _repository.RunAsync([.. code, "--old", "aground"]);
        var stranger = await _repository.RunAsync([.. code, "--old", "Tides=1.0"]);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches("on old and now · .*Tides.Sum.levels. · .*old: .*now: ", output);
        Assert.Contains("--old aground: there is no revision aground in ", unknown.Error, StringComparison.Ordinal);
        Assert.Contains("--old Tides=1.0: Tides is none of the packages here; ", stranger.Error, StringComparison.Ordinal);
        Assert.Equal((ExitCode.WrongUse, ExitCode.WrongUse), (unknown.ExitCode, stranger.ExitCode));
    }

    [Fact]
    public async Task What_changed_in_the_study_itself_closes_a_gate_unless_todays_is_laid_over_the_revision_too()
    {
        var was = await File.ReadAllTextAsync(Path.Combine(_repository.Study, "Program.cs"));
        _repository.Git("checkout", "-q", "tides");
        _repository.Write("study/Program.cs", was.Replace("\"newest\", levels => ",
            "\"newest\", levels => new string('.', levels.Length).Length - 64 + ", StringComparison.Ordinal));
        // So wide that no noise closes it.
        string[] gate = ["gate", _repository.Study, "--against", "new", "--only", "sum*", "--within", "3s", "--margin", "50%"];
        try
        {
            var (exitCode, output, error) = await _repository.RunAsync(gate);
            var over = await _repository.RunAsync([.. gate, "--study", "now"]);
            var alone = await _repository.RunAsync("gate", _repository.Study, "--study", "now");

            Assert.True(exitCode == ExitCode.Failed, error + output);
            Assert.Matches(@"gate · ✗ sum of tides · newest · 64 levels allocates \d+ B where it was 0 B", output);
            Assert.DoesNotContain("compile to the same code", output, StringComparison.Ordinal);
            Assert.True(over.ExitCode == ExitCode.Fine, over.Error + over.Output);
            Assert.Contains("new and now compile to the same code: ", over.Output, StringComparison.Ordinal);
            Assert.Matches("gate · ▲ open: [0-2] of 2 cells .* against new with today's study laid over it", over.Output);
            Assert.Equal(ExitCode.WrongUse, alone.ExitCode);
            Assert.Contains("--study now is laid over a revision, and --against names none; leave it out.", alone.Error,
                StringComparison.Ordinal);
        }
        finally
        {
            _repository.Write("study/Program.cs", was);
        }
    }

    [Fact]
    public async Task A_revision_duels_the_work_tree_as_it_is_and_the_repository_is_left_alone()
    {
        _repository.Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => 1; }");

        var (exitCode, output, error) = await _repository.RunAsync("duel", "old", "now", _repository.Study, "--within", "4s", "--out",
            _repository.Saved, "--show", "ground");

        Assert.True(exitCode == ExitCode.Failed, error + output);
        Assert.Contains("sum on now (64 levels): answers 1 where it answers 4160 on old", output, StringComparison.Ordinal);
        Assert.Matches(@" · sum · ", output);
        Assert.Matches(@" · oldest · old: [^·].* · now: · not there", output);
        Assert.Matches(@" · newest · old: · not there · now: [^·]", output);
        Assert.Contains("only old has \"only old\", which is not measured", output, StringComparison.Ordinal);
        Assert.Contains("only now has \"only new\", which is not measured", output, StringComparison.Ordinal);
        Assert.Matches(@"commit +[0-9a-f]{10} +[0-9a-f]{10} with changes", output);
        var run = RunFile.Read(_repository.Saved);
        Assert.Equal(["old", "now"], run.Targets.Select(target => target.Name));
        Assert.True(run.Plan.WithinSeconds > 3, "Building is not measuring.");
        Assert.Equal(" M tides/Tides.cs\n", _repository.Git("status", "--short"));
        Assert.Single(_repository.Git("worktree", "list").Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.DoesNotContain(Directory.EnumerateDirectories(_repository.Folder, "*", SearchOption.AllDirectories),
            folder => Path.GetFileName(folder) is "bin" or "obj");
    }
}
