using System.Runtime.InteropServices;

namespace Tachyscope.Working;

/// <summary>Where the <c>dotnet</c> command is that runs this process.</summary>
static partial class DotnetHost
{
    private static readonly string Name = OperatingSystem.IsWindows() ? "dotnet.exe" : "dotnet";

    /// <summary>Path of the command; its bare name where no path is known.</summary>
    public static string Path
        => Candidates().FirstOrDefault(File.Exists) ?? Name;

    private static IEnumerable<string> Candidates()
    {
        if (Environment.GetEnvironmentVariable("DOTNET_HOST_PATH") is { Length: > 0 } host)
        {
            yield return host;
        }

        if (Environment.ProcessPath is { } self && System.IO.Path.GetFileName(self) == Name)
        {
            yield return self;
        }

        // shared/Microsoft.NETCore.App/VERSION lies three folders below the command.
        yield return System.IO.Path.GetFullPath(System.IO.Path.Combine(RuntimeEnvironment.GetRuntimeDirectory(), "..", "..", "..", Name));
    }
}
