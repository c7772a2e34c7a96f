using System.Diagnostics;
using Tachyscope.Lab.Building;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class RevisionsTests : IDisposable
{
    private readonly string _all = Directory.CreateTempSubdirectory("tachyscope ü").FullName;
    private readonly string _repository;

    public RevisionsTests()
    {
        _repository = Path.Combine(_all, "Leuchtfeuer am Ufer");
        var chart = Path.Combine(_all, "chart");
        Directory.CreateDirectory(chart);
        Write(chart, "chart.txt", "old chart");
        Commit(chart, "chart");
        Directory.CreateDirectory(Path.Combine(_repository, "lamps"));
        Write(_repository, "lamps/Lamps.csproj", "first");
        Commit(_repository, "first");
        Git(_repository, "-c", "protocol.file.allow=always", "submodule", "add", "-q", chart, "sea chart");
        Write(_repository, "lamps/Lamps.csproj", "second");
        Commit(_repository, "second");
        Git(_repository, "tag", "v2");
        Write(_repository, "lamps/Lamps.csproj", "not committed");
    }

    public void Dispose()
    {
        // Git's own files are read-only.
        foreach (var file in Directory.EnumerateFiles(_all, "*", SearchOption.AllDirectories))
        {
            File.SetAttributes(file, FileAttributes.Normal);
        }

        Directory.Delete(_all, recursive: true);
    }

    [Fact]
    public async Task Where_revisions_differ_is_told_of_a_folder_and_of_a_file_alone()
    {
        Write(_repository, "tide [1].cs", "a study by itself");
        Commit(_repository, "third");
        var (folder, file) = (Path.Combine(_repository, "lamps"), Path.Combine(_repository, "tide [1].cs"));
        Task<(bool, bool)> WhereAsync(string project, string earlier, string later)
            => Revisions.DifferencesAsync(project, earlier, later, CancellationToken.None);

        Assert.Equal((true, true), await WhereAsync(folder, "HEAD~2", "v2"));
        Assert.Equal((true, true), await WhereAsync(folder, "v2", "HEAD"));
        Assert.Equal((true, true), await WhereAsync(file, "v2", "HEAD"));
        Assert.Equal((true, false), await WhereAsync(_repository, "v2", "HEAD"));
        Assert.Equal((false, false), await WhereAsync(folder, "HEAD", "HEAD"));
        Assert.Equal((false, false), await WhereAsync(_all, "v2", "HEAD"));
        Assert.True(await Revisions.WasThereAsync(folder, "v2", CancellationToken.None));
        Assert.False(await Revisions.WasThereAsync(file, "v2", CancellationToken.None));
        Assert.True(await Revisions.WasThereAsync(_repository, "v2", CancellationToken.None));
        Assert.False(await Revisions.WasThereAsync(_all, "v2", CancellationToken.None));
    }

    [Fact]
    public async Task A_study_in_a_single_file_is_laid_over_a_revision_wherever_it_stands()
    {
        Write(_repository, "tide.cs", "a study by itself");

        var taken = await new Revisions(Path.Combine(_all, "cache"))
            .TakeAsync(Path.Combine(_repository, "tide.cs"), "HEAD~1", Revisions.Now, CancellationToken.None);

        Assert.Null(taken.Problem);
        Assert.Equal(("a study by itself", "first"), (await File.ReadAllTextAsync(taken.Path!),
            await File.ReadAllTextAsync(Path.Combine(Path.GetDirectoryName(taken.Path!)!, "lamps/Lamps.csproj"))));
    }

    /// <summary>As in a container that holds a checkout of somebody else's.</summary>
    [Fact(SkipUnless = nameof(IsRoot), Skip = "giving files to another user takes the rights of root")]
    public async Task A_repository_that_git_does_not_trust_is_told_with_the_way_out()
    {
        Process.Start("chown", ["-R", "12345", _repository]).WaitForExit();

        var taken = await new Revisions(Path.Combine(_all, "cache")).TakeAsync(
            Path.Combine(_repository, "lamps"), "v2", null, CancellationToken.None);

        Assert.Contains("git does not trust the repository of ", taken.Problem, StringComparison.Ordinal);
        Assert.EndsWith($"allow it with git config --global --add safe.directory '{_repository}'.", taken.Problem,
            StringComparison.Ordinal);
        Assert.Equal(taken.Problem, await Revisions.MissingAsync(Path.Combine(_repository, "lamps"), "v2", CancellationToken.None));
    }

    public static bool IsRoot => Environment.IsPrivilegedProcess && OperatingSystem.IsLinux();

    [Fact]
    public async Task Todays_study_is_laid_over_yesterdays_code()
    {
        var revisions = new Revisions(Path.Combine(_all, "cache"));
        Write(_repository, "lamps/New.cs", "today");
        Task<RevisionOutcome> TakeAsync(string project, string revision, string study)
            => revisions.TakeAsync(Path.Combine(_repository, project), revision, study, CancellationToken.None);

        var now = await TakeAsync("lamps", "HEAD~1", Revisions.Now);
        var again = await TakeAsync("lamps", "HEAD~1", Revisions.Now);
        var later = await TakeAsync("lamps", "HEAD~1", "v2");

        Assert.True(now.Problem is null && later.Problem is null, now.Problem + later.Problem);
        Assert.Equal(now, again);
        Assert.Equal(("not committed", "today"), (Read(now, "Lamps.csproj"), Read(now, "New.cs")));
        Assert.Equal("second", Read(later, "Lamps.csproj"));
        Assert.False(File.Exists(Path.Combine(later.Path!, "New.cs")));
        Assert.Equal("first",
            Read(await revisions.TakeAsync(Path.Combine(_repository, "lamps"), "HEAD~1", null, CancellationToken.None), "Lamps.csproj"));
        Write(_repository, "lamps/New.cs", "tomorrow");
        Assert.Equal("tomorrow", Read(await TakeAsync("lamps", "HEAD~1", Revisions.Now), "New.cs"));
        Assert.Contains("would lay all of", (await TakeAsync(".", "v2", Revisions.Now)).Problem, StringComparison.Ordinal);
    }

    private static string Read(RevisionOutcome taken, string file) => File.ReadAllText(Path.Combine(taken.Path!, file));

    [Fact]
    public async Task A_revision_is_taken_with_its_submodules_and_leaves_no_trace_in_the_repository()
    {
        var before = Trace();
        var revisions = new Revisions(Path.Combine(_all, "cache"));

        var taken = await Task.WhenAll(revisions.TakeAsync(Path.Combine(_repository, "lamps"), "v2", null, CancellationToken.None),
            revisions.TakeAsync(Path.Combine(_repository, "lamps"), "HEAD", null, CancellationToken.None));
        var first = await revisions.TakeAsync(Path.Combine(_repository, "lamps", "Lamps.csproj"), "HEAD~1", null, CancellationToken.None);

        Assert.All(taken, revision => Assert.True(revision.Problem is null, revision.Problem));
        Assert.Equal(taken[0], taken[1]);
        Assert.Equal("second", await File.ReadAllTextAsync(Path.Combine(taken[0].Path!, "Lamps.csproj")));
        Assert.Equal("old chart", await File.ReadAllTextAsync(Path.Combine(taken[0].Path!, "..", "sea chart", "chart.txt")));
        Assert.Equal("first", await File.ReadAllTextAsync(first.Path!));
        Assert.Equal(before, Trace());
        Assert.Equal(2, Directory.GetFileSystemEntries(Path.Combine(_all, "cache", "revisions")).Length);
        Assert.True((await Revisions.StateAsync(_repository, CancellationToken.None)).IsDirty);
        Assert.Equal(new CodeState(), await Revisions.StateAsync(_all, CancellationToken.None));
    }

    [Fact]
    public async Task What_is_not_there_is_told_with_what_is()
    {
        var revisions = new Revisions(Path.Combine(_all, "cache"));

        Assert.Matches("there is no revision v9 in .*Leuchtfeuer am Ufer; there are .*v2.*\\.",
            (await revisions.TakeAsync(_repository, "v9", null, CancellationToken.None)).Problem);
        Assert.Contains("lies in no git repository", (await revisions.TakeAsync(_all, "v2", null, CancellationToken.None)).Problem,
            StringComparison.Ordinal);
        Directory.CreateDirectory(Path.Combine(_repository, "buoys"));
        Assert.Contains("buoys is not in revision v2; name one that has it, or lay today's study over it with study=now.",
            (await revisions.TakeAsync(Path.Combine(_repository, "buoys"), "v2", null, CancellationToken.None)).Problem,
            StringComparison.Ordinal);
    }

    // All of the repository but when its files were last looked at.
    private List<(string, long)> Trace()
        => [.. new DirectoryInfo(_repository).EnumerateFiles("*", SearchOption.AllDirectories).Select(file => (file.FullName, file.Length))
            .Order()];

    private static void Write(string folder, string name, string text) => File.WriteAllText(Path.Combine(folder, name), text);

    private static void Commit(string folder, string message)
    {
        Git(folder, "init", "-q");
        // Without the filters that this machine's own settings would run for every file.
        File.WriteAllText(Path.Combine(folder, ".git", "info", "attributes"), "* -filter\n");
        Git(folder, "add", "-A");
        Git(folder, "-c", "user.name=Keeper", "-c", "user.email=keeper@sable.point", "commit", "-q", "-m", message);
    }

    private static void Git(string folder, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("git", ["-C", folder, .. arguments]) { RedirectStandardError = true })!;
        var error = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, error);
    }
}
