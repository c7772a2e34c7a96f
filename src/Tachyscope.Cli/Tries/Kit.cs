using System.Globalization;
using System.Security;

namespace Tachyscope.Cli.Tries;

/// <summary>The library that comes with the tool, for each framework: what the tool's own projects are built against.</summary>
internal static class Kit
{
    /// <summary>Its folder; below it a folder for each framework.</summary>
    public static string Folder { get; } = Path.Combine(AppContext.BaseDirectory, "kit");

    /// <summary>Name of the assembly.</summary>
    public const string Assembly = "Tachyscope.dll";

    /// <summary>The framework that this process runs on.</summary>
    public static string OwnFramework { get; } = FormattableString.Invariant($"net{Environment.Version.Major}.0");

    /// <summary>The newest it is made for, which newer runtimes run too.</summary>
    public static string NewestFramework { get; } = Directory.EnumerateDirectories(Folder).Select(Path.GetFileName)
        .OrderBy(name => int.Parse(name![3..^2], CultureInfo.InvariantCulture)).Last()!;

    /// <summary>The assembly for this process's framework.</summary>
    public static string Own { get; } = Path.Combine(Folder, NewestFramework, Assembly);

    /// <summary>A program of ours as a project, against the assembly beside the tool, so that it needs no package.</summary>
    /// <param name="references">Assemblies beyond it.</param>
    public static string Project(IEnumerable<string> references) =>
        $"""
        <Project Sdk="Microsoft.NET.Sdk">
          <PropertyGroup>
            <OutputType>Exe</OutputType>
            <TargetFramework>{NewestFramework}</TargetFramework>
            <LangVersion>latest</LangVersion>
            <Nullable>enable</Nullable>
            <ImplicitUsings>enable</ImplicitUsings>
            <AllowUnsafeBlocks>true</AllowUnsafeBlocks>
          </PropertyGroup>
          <ItemGroup>
            <Reference Include="{SecurityElement.Escape(Folder)}/$(TargetFramework)/{Assembly}" />
        {string.Concat(references.Select(Reference))}  </ItemGroup>
        </Project>

        """;

    private static string Reference(string assembly) => $"    <Reference Include=\"{SecurityElement.Escape(assembly)}\" />\n";
}
