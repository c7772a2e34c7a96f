using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Tests;

/// <summary>Packages in other versions than the project names.</summary>
public sealed class PackageTests : IDisposable
{
    private readonly LampsProject _lamps = new();

    public void Dispose() => _lamps.Dispose();

    [Fact]
    public async Task A_package_is_taken_in_another_version_or_what_there_is_is_told()
    {
        var project = Path.Combine(_lamps.Folder, "Lamps.csproj");
        File.WriteAllText(project, File.ReadAllText(project)
            .Replace("<ItemGroup>", "<ItemGroup><PackageReference Include=\"System.IO.Hashing\" Version=\"8.0.0\" />",
                StringComparison.Ordinal));
        async Task<BuildOutcome> BuildAsync(string package, string version)
            => await new ProjectBuilder(_lamps.Cache)
                .BuildAsync(_lamps.Folder,
                    new Target { Name = version, Framework = "net10.0", Packages = new Dictionary<string, string> { [package] = version } },
                    CancellationToken.None);

        var old = await BuildAsync("system.io.hashing", "6.0.0");
        Assert.True(old.Assembly is not null, string.Join('\n', old.Errors));
        Assert.Equal(6, System.Reflection.AssemblyName.GetAssemblyName(Path.Combine(Path.GetDirectoryName(old.Assembly)!,
            "System.IO.Hashing.dll")).Version!.Major);
        var missing = await BuildAsync("System.IO.Hashing", "7.77.0");
        Assert.Matches("^there is no System.IO.Hashing 7.77.0; it is served in 6.0.0, 8.0.0.*\\.$", Assert.Single(missing.Errors));
        var foreign = await BuildAsync("Spectre.Console", "0.57.2");
        Assert.Equal("the project references no package Spectre.Console; it references System.IO.Hashing.", Assert.Single(foreign.Errors));
        Assert.True(missing.IsWrongUse && foreign.IsWrongUse);
    }
}
