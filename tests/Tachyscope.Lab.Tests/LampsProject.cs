namespace Tachyscope.Lab.Tests;

/// <summary>A real project that prints what it was built as, and a cache of its own.</summary>
internal sealed class LampsProject : IDisposable
{
    private readonly string _all = Directory.CreateTempSubdirectory("tachyscope ü").FullName;

    public string Folder => Path.Combine(_all, "lamps of the harbour");

    public string Cache => Path.Combine(_all, "cache");

    public LampsProject()
    {
                Directory.CreateDirectory(Folder);
        File.WriteAllText(Path.Combine(Folder, "Lamps.csproj"), """
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <OutputType>Exe</OutputType><TargetFrameworks>net8.0;net10.0</TargetFrameworks>
                <DefineConstants>OWN</DefineConstants><Note>calm</Note>
              </PropertyGroup>
              <ItemGroup><AssemblyMetadata Include="Note" Value="$(Note)" /></ItemGroup>
            </Project>
            """);
        File.WriteAllText(Path.Combine(Folder, "Program.cs"), """
            using System;
            using System.Linq;
            using System.Reflection;
            using System.Runtime.Versioning;
            #if OWN && FOG && STORM
            var seen = "fog and storm";
            #else
            var seen = "clear";
            #endif
            var assembly = Assembly.GetExecutingAssembly();
            var unoptimised = assembly.GetCustomAttribute<System.Diagnostics.DebuggableAttribute>()?.IsJITOptimizerDisabled;
            Console.Write($"{assembly.GetCustomAttribute<TargetFrameworkAttribute>()!.FrameworkName} {Environment.Version.Major} {seen} {assembly.GetCustomAttributes<AssemblyMetadataAttribute>().First(note => note.Key == "Note").Value} {unoptimised == true}");
            """);
    }

    public void Dispose() => Directory.Delete(_all, recursive: true);
}
