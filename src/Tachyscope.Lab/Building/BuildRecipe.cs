using System.Runtime.InteropServices;
using System.Runtime.Intrinsics.X86;
using System.Security;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>What a target asks of a build: arguments for the dotnet command, and properties and references that go over the project's own.</summary>
/// <param name="target">The target.</param>
/// <param name="project">Path of the project.</param>
/// <param name="framework">Framework to compile it for; null for its own.</param>
/// <param name="compiler">Program of the compiler; null for the SDK's.</param>
internal sealed class BuildRecipe(Target target, string project, string? framework, string? compiler)
{
    private const string FileName = "recipe.targets";

    /// <summary>Whether it ends with a program of its own, or with assemblies that carry compiled code: published, not only built.</summary>
    public bool IsPublished => target.IsAheadOfTime || target.IsReadyToRun || target.IsTrimmed;

    /// <summary>Whether the program starts by itself, with a runtime or without needing one.</summary>
    public bool IsProgram => target.IsAheadOfTime || target.IsTrimmed;

    /// <summary>The instruction set that this machine's just-in-time compiler uses, in the words of the ahead-of-time one; null where it has none to name.</summary>
    public static string? OwnInstructions
        => !X86Base.IsSupported ? null : Avx512F.IsSupported ? "x86-64-v4" : Avx2.IsSupported ? "x86-64-v3" : "x86-64-v2";

    private static string Platform => RuntimeInformation.RuntimeIdentifier;

    /// <summary>Arguments after the project's path; writes what goes over the project into the folder of the build.</summary>
    /// <param name="folder">Folder of the build.</param>
    public string[] Arguments(string folder)
    {
        var file = Path.Combine(folder, FileName);
        var content = Content();
        // Left alone when nothing changed, or everything would count as changed.
        if (!File.Exists(file) || File.ReadAllText(file) != content)
        {
            File.WriteAllText(file, content);
        }

        return
        [
            $"-p:BeforeMicrosoftNETSdkTargets={file}",
            "-p:TreatWarningsAsErrors=false",
            // What is only looked at while building takes longer than compiling.
            "-p:RunAnalyzers=false",
            .. target.Language is null ? (string[])[] : [$"-p:LangVersion={target.Language}"],
            .. compiler is null ? (string[])[] : [$"-p:CscToolPath={Path.GetDirectoryName(compiler)}", $"-p:CscToolExe={Path.GetFileName(compiler)}", "-p:UseSharedCompilation=false"],
            .. target.IsOptimized ? (string[])[] : ["-p:Optimize=false"],
            .. target.Properties.Select(property => $"-p:{property.Key}={Escaped(property.Value)}"),
            .. Publishing(),
        ];
    }

    private string[] Publishing() => target switch
    {
        { IsAheadOfTime: true } => [$"-p:RuntimeIdentifier={Platform}", "-p:PublishAot=true", .. (target.Instructions ?? OwnInstructions) is { } set ? (string[])[$"-p:IlcInstructionSet={set}"] : []],
        { IsTrimmed: true } => [$"-p:RuntimeIdentifier={Platform}", "-p:SelfContained=true", "-p:PublishTrimmed=true", .. target.IsReadyToRun ? (string[])["-p:PublishReadyToRun=true"] : []],
        { IsReadyToRun: true } => [$"-p:RuntimeIdentifier={Platform}", "-p:SelfContained=false", "-p:PublishReadyToRun=true"],
        _ => [],
    };

    // Evaluated after the project's own body and before the SDK looks at its framework, which restoring does not take from a
    // property of the command; the lock file is written beside the build, never into the user's tree.
    private string Content()
        => $"""
            <Project>
              <PropertyGroup>
                <DefineConstants>{string.Join(';', (string[])["$(DefineConstants)", .. target.Defines])}</DefineConstants>
            {(compiler is null ? "" : "    <LangVersion Condition=\"'$(LangVersion)' == ''\">latest</LangVersion>\n")}    <NuGetLockFilePath>$(BaseIntermediateOutputPath)packages.lock.json</NuGetLockFilePath>
                <RestoreLockedMode>false</RestoreLockedMode>
              </PropertyGroup>
            {(framework is null ? "" : Framework(framework))}  <ItemGroup>
            {string.Concat(target.Packages.Select(package => Override(SecurityElement.Escape(package.Key), SecurityElement.Escape(package.Value))))}  </ItemGroup>
            </Project>

            """;

    // What it references chooses for itself.
    private string Framework(string name)
        => $"""
              <PropertyGroup Condition="'$(MSBuildProjectName)' == '{SecurityElement.Escape(Path.GetFileNameWithoutExtension(project))}'">
                <TargetFramework>{SecurityElement.Escape(name)}</TargetFramework>
                <TargetFrameworks></TargetFrameworks>
              </PropertyGroup>

            """;

    private static string Override(string name, string version)
        => $"""
                <PackageReference Update="{name}" Version="[{version}]" Condition="'$(ManagePackageVersionsCentrally)' != 'true'" />
                <PackageReference Update="{name}" VersionOverride="[{version}]" Condition="'$(ManagePackageVersionsCentrally)' == 'true'" />

            """;

    // What MSBuild would read as a list or as another property.
    private static string Escaped(string value)
        => value.Replace("%", "%25", StringComparison.Ordinal).Replace(";", "%3B", StringComparison.Ordinal).Replace(",", "%2C", StringComparison.Ordinal);
}
