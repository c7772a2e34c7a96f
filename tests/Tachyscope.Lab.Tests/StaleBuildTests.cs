using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Tests;

/// <summary>
/// Builds are used again until something that went in changes, wherever it lies, and never taken away from who uses them.
/// </summary>
public sealed class StaleBuildTests : IDisposable
{
    private readonly string _all = Directory.CreateTempSubdirectory("tachyscope ü").FullName;

    private string Cache => Path.Combine(_all, "cache");

    private string Project => Path.Combine(_all, "lamps", "Lamps.csproj");

    public void Dispose() => Directory.Delete(_all, recursive: true);

    [Fact]
    public async Task A_build_is_used_again_until_something_that_went_in_changes()
    {
        Write("elsewhere/Sign.cs", "public static class Sign { public const int Value = 1; }");
        Write("elsewhere/Common.props", "<Project />");
        Write("elsewhere/notes.txt", "a lamp");
        File.Copy(typeof(BuildCache).Assembly.Location, Path.Combine(_all, "elsewhere", "Oil.dll"));
        Write("lamps/Program.cs", "System.Console.Write(Sign.Value);");
        Write("lamps/Lamps.csproj", """
            <Project Sdk="Microsoft.NET.Sdk">
              <Import Project="../elsewhere/Common.props" />
              <PropertyGroup><OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework></PropertyGroup>
              <ItemGroup>
                <Compile Include="../elsewhere/Sign.cs" />
                <EmbeddedResource Include="../elsewhere/notes.txt" />
                <Reference Include="Oil"><HintPath>../elsewhere/Oil.dll</HintPath></Reference>
              </ItemGroup>
            </Project>
            """);

        // Two at once build once.
        var first = await Task.WhenAll(BuildAsync(), BuildAsync());
        Assert.Single(first, isNew => isNew);
        File.SetLastWriteTimeUtc(Path.Combine(_all, "lamps", "Program.cs"), DateTime.UtcNow);
        Assert.False(await BuildAsync(), "Only its time has changed.");
        Assert.True(Changes("elsewhere/Sign.cs", "public static class Sign { public const int Value = 2; }"), "A linked source.");
        Assert.True(Changes("elsewhere/Common.props", "<Project><PropertyGroup><Note>storm</Note></PropertyGroup></Project>"),
            "An imported file.");
        Assert.True(Changes("elsewhere/notes.txt", "another lamp"), "An embedded file.");
        Assert.True(Changes("elsewhere/Oil.dll", "another library"), "A referenced assembly.");
        Assert.True(Changes("lamps/Buoy.cs", "class Buoy;"), "Another source in the folder.");
        Assert.True(Changes("Directory.Build.props", "<Project />"), "A file above that was not there.");
        Assert.False(Changes("elsewhere/more notes.txt", "a buoy"), "What nothing refers to.");

        // What a run uses is neither written nor taken away.
        var used = await BuiltAsync();
        Assert.False(used.IsNew);
        var before = await File.ReadAllBytesAsync(used.Assembly!);
        Write("elsewhere/Sign.cs", "public static class Sign { public const int Value = 3; }");
        var other = await BuiltAsync();
        Assert.NotEqual(used.Assembly, other.Assembly);
        Assert.Equal(before, await File.ReadAllBytesAsync(used.Assembly!));
        other.Lease!.Dispose();
        used.Lease!.Dispose();
        Assert.Equal((other.Assembly, false), ((await BuiltAsync()).Assembly, await BuildAsync()));
        Assert.True(await BuildAsync(isRebuilt: true));
    }

    // Whether a change makes the build stale; what was there is put back.
    private bool Changes(string name, string content)
    {
        var folder = Directory.GetDirectories(Path.Combine(Cache, "builds")).Single();
        bool IsFresh() => BuildStamp.Read(folder)!.IsFresh(Project, folder);
        var path = Path.Combine(_all, name);
        var before = File.Exists(path) ? File.ReadAllBytes(path) : null;
        Assert.True(IsFresh());
        File.WriteAllText(path, content);
        var isStale = !IsFresh();
        if (before is null)
        {
            File.Delete(path);
        }
        else
        {
            File.WriteAllBytes(path, before);
        }

        return isStale;
    }

    [Fact]
    public async Task The_sdk_is_the_one_that_the_projects_own_global_json_asks_for()
    {
        Write("lamps/Program.cs", "System.Console.Write(1);");
        Write("lamps/Lamps.csproj",
            "<Project Sdk=\"Microsoft.NET.Sdk\"><PropertyGroup><OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework></PropertyGroup></Project>");
        Write("lamps/global.json", "{\"sdk\":{\"version\":\"3.0.199\",\"rollForward\":\"disable\"}}");

        var built = await new ProjectBuilder(Cache).BuildAsync(Project, Target, CancellationToken.None);

        Assert.StartsWith("global.json asks for the .NET SDK 3.0.199, which is not on this machine", Assert.Single(built.Errors),
            StringComparison.Ordinal);
        Assert.False(built.IsWrongUse);
    }

    [Fact]
    public async Task The_limits_of_the_cache_pass_by_what_is_used()
    {
        var builds = Directory.CreateDirectory(Path.Combine(_all, "builds")).FullName;
        var leases = new List<IDisposable>();
        for (var number = 0; number < 60; number++)
        {
            using var folder = await BuildFolder.TakeAsync(Path.Combine(builds, $"build-{number}"), CancellationToken.None);
            File.SetLastWriteTimeUtc(Path.Combine(folder.Path, "build.lock"), DateTime.UnixEpoch.AddDays(number));
            if (number < 5)
            {
                leases.Add(folder.Lease());
            }
        }

        BuildFolder.Prune(builds);

        var left = Directory.EnumerateDirectories(builds).Select(Path.GetFileName).ToHashSet();
        Assert.All(Enumerable.Range(0, 5), number => Assert.Contains($"build-{number}", left));
        Assert.All(Enumerable.Range(5, 7), number => Assert.DoesNotContain($"build-{number}", left));
        Assert.Contains("build-59", left);
        leases.ForEach(lease => lease.Dispose());
    }

    [Fact]
    public async Task A_folder_that_may_not_be_written_is_told_at_once_and_not_as_another_run()
    {
        var exception = await Assert.ThrowsAnyAsync<Exception>(() => BuildFolder.TakeAsync("/proc/fog/build", CancellationToken.None));

        Assert.True(exception is IOException or UnauthorizedAccessException);
        Assert.DoesNotContain("another run", exception.Message, StringComparison.Ordinal);
    }

    private static Target Target => new() { Name = "new" };

    private async Task<bool> BuildAsync(bool isRebuilt = false)
    {
        var built = await BuiltAsync(isRebuilt);
        built.Lease!.Dispose();
        return built.IsNew;
    }

    private async Task<BuildOutcome> BuiltAsync(bool isRebuilt = false)
    {
        // The clock of files is coarse, and a change within its step would rightly be built twice.
        await Task.Delay(20);
        var built = await new ProjectBuilder(Cache) { IsRebuilt = isRebuilt }.BuildAsync(Project, Target, CancellationToken.None);
        Assert.True(built.Assembly is not null, string.Join('\n', built.Errors));
        return built;
    }

    private void Write(string name, string content)
    {
        var path = Path.Combine(_all, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, content);
    }
}
