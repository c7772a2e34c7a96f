using System.Globalization;
using System.Runtime.InteropServices;
using System.Security;
using System.Text.RegularExpressions;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>
/// What a target asks of a build: arguments for the dotnet command, and properties and references that go over the project's own.
/// </summary>
/// <param name="target">The target.</param>
/// <param name="project">Path of the project.</param>
/// <param name="compiler">Program of the compiler; null for the SDK's.</param>
internal sealed partial class BuildRecipe(Target target, string project, string? compiler)
{
    /// <summary>A property that names an assembly to which what is internal is to be open; one that is signed opens it to none.</summary>
    public const string Friend = "TachyscopeFriend";

    private const string FileName = "recipe.targets";

    // Frameworks by major version, from the newest that could be named down to the oldest that can be started.
    private const int NewestFramework = 30;
    private const int OldestFramework = 5;

    /// <summary>Properties that a build tells of its project.</summary>
    private static readonly string[] ToldProperties =
        ["TargetPath", "OutputType", "TargetFramework", "PublishDir", "AssemblyName", "TargetFileName"];

    /// <summary>
    /// Whether it ends with a program of its own, or with assemblies that carry compiled code: published, not only built.
    /// </summary>
    public bool IsPublished => target.IsAheadOfTime || target.IsReadyToRun || target.IsTrimmed;

    /// <summary>Whether the program starts by itself, with a runtime or without needing one.</summary>
    public bool IsProgram => target.IsAheadOfTime || target.IsTrimmed;

    /// <summary>Folder in which a build tells what it read and made.</summary>
    public static string Told(string folder) => Path.Combine(folder, "told");

    /// <summary>The build's own log, which says what was imported.</summary>
    public static string ImportsLog(string folder) => Path.Combine(folder, "imports.log");

    private static string Platform => RuntimeInformation.RuntimeIdentifier;

    /// <summary>Arguments after the project's path; writes what goes over the project into the folder of the build.</summary>
    /// <param name="folder">Folder of the build.</param>
    public string[] Arguments(string folder)
    {
        var file = Path.Combine(folder, FileName);
        var content = Content(folder);
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
            // A single file is built by the command line itself, which takes none of MSBuild's own switches beside it.
            .. Path.GetExtension(project) == ".cs" ? (string[])[] : [$"-flp:LogFile={ImportsLog(folder)};Verbosity=detailed"],
            .. target.Language is null ? (string[])[] : [$"-p:LangVersion={target.Language}"],
            .. compiler is null
                ? (string[])[]
                : [$"-p:CscToolPath={Path.GetDirectoryName(compiler)}", $"-p:CscToolExe={Path.GetFileName(compiler)}",
                    "-p:UseSharedCompilation=false"],
            .. target.IsOptimized ? (string[])[] : ["-p:Optimize=false"],
            .. target.Properties.Select(property => $"-p:{property.Key}={Escaped(property.Value)}"),
            .. Publishing(),
        ];
    }

    private string[] Publishing() => target switch
    {
        { IsAheadOfTime: true } =>
        [
            $"-p:RuntimeIdentifier={Platform}", "-p:PublishAot=true",
            .. Instructions is { } set ? (string[])[$"-p:IlcInstructionSet={Escaped(set)}"] : [],
        ],
        { IsTrimmed: true } => [$"-p:RuntimeIdentifier={Platform}", "-p:SelfContained=true", "-p:PublishTrimmed=true",
            .. target.IsReadyToRun ? (string[])["-p:PublishReadyToRun=true"] : []],
        { IsReadyToRun: true } => [$"-p:RuntimeIdentifier={Platform}", "-p:SelfContained=false", "-p:PublishReadyToRun=true"],
        _ => [],
    };

    private string? Instructions => target.Instructions ?? ProcessorInstructions.Own.InstructionSet;

    // Evaluated after the project's own body and before the SDK looks at its framework, which restoring does not take from a
    // property of the command; the lock file is written beside the build, never into the user's tree. A commit's name in the assembly would
    // make every commit other code.
    private string Content(string folder)
        => $"""
            <Project>
              <PropertyGroup>
                <DefineConstants>{string.Join(';', (string[])["$(DefineConstants)", .. target.Defines])}</DefineConstants>
            {Language()}    <NuGetLockFilePath>$(BaseIntermediateOutputPath)packages.lock.json</NuGetLockFilePath>
                <RestoreLockedMode>false</RestoreLockedMode>
                <IncludeSourceRevisionInInformationalVersion>false</IncludeSourceRevisionInInformationalVersion>
              </PropertyGroup>
            {Framework()}  <ItemGroup>
            {string.Concat(target.Packages.Select(Override))}  </ItemGroup>
              <ItemGroup Condition="'$({Friend})' != '' and '$(SignAssembly)' != 'true'">
                <InternalsVisibleTo Include="$({Friend})" />
              </ItemGroup>
            {Telling(SecurityElement.Escape(Told(folder)))}</Project>

            """;

    private string Language()
        => compiler is null ? "" : "    <LangVersion Condition=\"'$(LangVersion)' == ''\">latest</LangVersion>\n";

    // The project made of a single file bears the file's whole name.
    private string IsThis
    {
        get
        {
            var (name, file) = (Path.GetFileNameWithoutExtension(project), Path.GetFileName(project));
            return $"'$(MSBuildProjectName)' == '{SecurityElement.Escape(name)}' "
                + $"or '$(MSBuildProjectName)' == '{SecurityElement.Escape(file)}'";
        }
    }

    // The newest of the project's frameworks that the target's runtime can run; where it has none, that runtime's own.
    // What it references chooses for itself.
    private string Framework()
    {
        var isAsked = target.Framework is not null;
        var most = isAsked || target.Runtime is null
            ? NewestFramework
            : int.Parse(Major().Match(target.Runtime).Value, CultureInfo.InvariantCulture);
        var choices = isAsked
            ? [Choice(SecurityElement.Escape(target.Framework!))]
            : Enumerable.Range(OldestFramework, most - OldestFramework + 1).Reverse().Select(Choice)
                .Concat(target.Runtime is null ? [] : [Choice(FormattableString.Invariant($"net{most}.0"))]);
        return $"""
              <PropertyGroup Condition="{IsThis}">
                <TachyscopeNamed>;$(TargetFrameworks);</TachyscopeNamed>
                <TachyscopeNamed Condition="'$(TargetFrameworks)' == ''">;$(TargetFramework);</TachyscopeNamed>
                <TachyscopeNamed>$(TachyscopeNamed.Replace(' ', ''))</TachyscopeNamed>
            {string.Concat(choices)}    <TargetFramework Condition="'$(TachyscopeFramework)' != ''">$(TachyscopeFramework)</TargetFramework>
                <TargetFrameworks Condition="'$(TachyscopeFramework)' != ''"></TargetFrameworks>
              </PropertyGroup>

            """;
    }

    private static string Choice(string framework)
        => $"""
                <TachyscopeFramework Condition="'$(TachyscopeFramework)' == ''">{framework}</TachyscopeFramework>

            """;

    private static string Choice(int major)
    {
        var pattern = string.Create(CultureInfo.InvariantCulture, $@"(?&lt;=;)net{major}\.\d[^;]*");
        return Choice($"$([System.Text.RegularExpressions.Regex]::Match($(TachyscopeNamed), `{pattern}`))");
    }

    private static string Override(KeyValuePair<string, string> package)
    {
        var (name, version) = (SecurityElement.Escape(package.Key), SecurityElement.Escape(package.Value));
        return $"""
                <PackageReference Update="{name}" Version="[{version}]" Condition="'$(ManagePackageVersionsCentrally)' != 'true'" />
                <PackageReference Update="{name}" VersionOverride="[{version}]" Condition="'$(ManagePackageVersionsCentrally)' == 'true'" />

            """;
    }

    // In every project of the build, and of this one what it made.
    private string Telling(string told)
    {
        var outputs = string.Join(';', ToldProperties.Select(name => $"{name}=$({name})"));
        return $"""
              <Target Name="TachyscopeTellInputs" AfterTargets="CoreCompile">
                <ItemGroup>
                  <TachyscopeInput Include="@(Compile->'%(FullPath)');@(ReferencePath->'%(FullPath)');@(EmbeddedResource->'%(FullPath)')" />
                  <TachyscopeInput Include="@(AdditionalFiles->'%(FullPath)');@(EditorConfigFiles->'%(FullPath)')" />
                  <TachyscopeInput Include="@(Analyzer->'%(FullPath)');@(Content->'%(FullPath)');@(None->'%(FullPath)')" />
                  <TachyscopeInput Include="$(MSBuildProjectFullPath)" />
                </ItemGroup>
                <MakeDir Directories="{told}" />
                <WriteLinesToFile File="{told}/$(MSBuildProjectName)-$(TargetFramework).inputs" Lines="@(TachyscopeInput)"
                                  Overwrite="true" />
              </Target>
              <Target Name="TachyscopeTellOutputs" AfterTargets="TachyscopeTellInputs" Condition="{IsThis}">
                <WriteLinesToFile File="{told}/outputs" Lines="{outputs}" Overwrite="true" />
              </Target>

            """;
    }

    // What MSBuild would read as a list or as another property.
    private static string Escaped(string value)
        => value.Replace("%", "%25", StringComparison.Ordinal).Replace(";", "%3B", StringComparison.Ordinal)
            .Replace(",", "%2C", StringComparison.Ordinal);

    [GeneratedRegex(@"\d+")]
    private static partial Regex Major();
}
