using System.Collections.Concurrent;
using System.ComponentModel;
using System.Diagnostics;
using System.Security.Cryptography;
using System.Text;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Commands;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Builds guests into the cache, each of its builds once as long as nothing that goes into it changes.</summary>
public sealed class GuestWorkshop : IGuestMaker, IDisposable
{
    private const string Kits = "guests";
    private const string Done = "built";
    private const int LinesShown = 12;

    private readonly string _cache;
    private readonly string _folder;
    private readonly string _kits;
    private readonly bool _isRebuilt;
    private readonly ConcurrentDictionary<string, Task<string?>> _versions = new();
    private readonly List<PreparedTarget> _targets = [];
    private readonly string _project;

    /// <summary>A workshop that keeps its builds in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    /// <param name="project">The study's project, a folder, or a file in one; sources and commands are named from that folder.</param>
    /// <param name="isRebuilt">Whether everything is built anew, although nothing changed.</param>
    public GuestWorkshop(string cache, string project, bool isRebuilt = false)
    {
        ArgumentNullException.ThrowIfNull(cache);
        ArgumentNullException.ThrowIfNull(project);
        (_cache, _project, _isRebuilt) = (Path.GetFullPath(cache), Path.GetFullPath(project), isRebuilt);
        _folder = Directory.Exists(_project) ? _project : Path.GetDirectoryName(_project)!;
        _kits = Path.Combine(AppContext.BaseDirectory, Kits);
    }

    /// <summary>Guests that were built anew: each source with each of its builds.</summary>
    public int NewlyBuilt { get; private set; }

    /// <summary>How long building them took.</summary>
    public TimeSpan BuildingTook { get; private set; }

    /// <summary>Name of the language of a source file, by its ending; null where there is no kit for it.</summary>
    /// <param name="source">Path of the file.</param>
    public static string? LanguageOf(string source)
        => GuestLanguage.All.FirstOrDefault(language => language.Extensions.Contains(Path.GetExtension(source)))?.Name;

    /// <inheritdoc/>
    public async Task<PreparedGuest> MakeAsync(GuestDescription guest, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(guest);
        try
        {
            return guest.IsOnTarget ? await OnTargetAsync(guest, cancellation)
                : guest.Source is null ? Started(guest)
                : await BuildAsync(guest, guest.Source, cancellation);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return new PreparedGuest(guest, null, $"a file or folder could not be used: {exception.Message}");
        }
    }

    /// <summary>Lets go of what it built for targets.</summary>
    public void Dispose()
    {
        _targets.ForEach(target => target.Dispose());
        _targets.Clear();
    }

    private async Task<PreparedGuest> OnTargetAsync(GuestDescription guest, CancellationToken cancellation)
    {
        if (Path.GetExtension(_project).Equals(".dll", StringComparison.OrdinalIgnoreCase))
        {
            return new PreparedGuest(guest, null, $"a built .dll cannot be built for {guest.Build}; measure its project");
        }

        IReadOnlyDictionary<string, string> named;
        try
        {
            named = TargetFile.Read(_folder);
        }
        catch (InvalidDataException exception)
        {
            return new PreparedGuest(guest, null, exception.Message);
        }

        var asked = TargetParser.Parse([guest.Build], named);
        if (asked is not { Mistakes: [], Targets: [var target] })
        {
            return new PreparedGuest(guest, null, asked.Mistakes
                .FirstOrDefault($"\"{guest.Build}\" stands for several targets; name one a row"));
        }

        var begun = Stopwatch.GetTimestamp();
        var prepared = await new TargetWorkshop(_cache, _isRebuilt).PrepareAsync(_project, target, cancellation);
        _targets.Add(prepared);
        if (prepared.IsNewlyBuilt)
        {
            NoteBuilt(begun);
        }

        return prepared.Starter is null
            ? new PreparedGuest(guest, null, prepared.Errors.FirstOrDefault("it does not build"),
                [.. prepared.Errors.Skip(1).Take(LinesShown)])
            : new PreparedGuest(guest, prepared.Starter);
    }

    private PreparedGuest Started(GuestDescription guest)
    {
        if (GuestCommand.Parse(guest.Build) is not { } command)
        {
            return new PreparedGuest(guest, null, $"\"{guest.Build}\" is no command; name a program and what is handed to it");
        }

        // A path is meant from the project's folder, a name is looked up.
        var program = command.Program.Contains('/', StringComparison.Ordinal) ? Path.GetFullPath(command.Program, _folder)
            : command.Program;
        return guest.IsWhole && !SpawnedProcess.IsSupported
            ? new PreparedGuest(guest, null, "programs that are started anew for each call can be measured on Linux and macOS only")
            : Found(program) is { } found && guest.IsWhole
            ? new PreparedGuest(guest, new CommandStarter(guest, command with { Program = found }, _folder))
            : Found(program) is not null
            ? new PreparedGuest(guest, new GuestStarter(new GuestStart(program, command.Arguments), _folder))
            : new PreparedGuest(guest, null, $"there is no program {command.Program}; name one by its path from {_folder}, or one of PATH");
    }

    private async Task<PreparedGuest> BuildAsync(GuestDescription guest, string named, CancellationToken cancellation)
    {
        if (GuestLanguage.Of(guest.Language) is not { } language)
        {
            var known = string.Join(", ", GuestLanguage.All.Select(other => other.Name));
            return new PreparedGuest(guest, null, $"there is no kit for {guest.Language}; there are kits for {known}");
        }

        if (SourceOf(named) is not { } source)
        {
            return new PreparedGuest(
                guest, null, $"there is no {named} in {_folder} or above it; name the source from the folder of the study's project");
        }

        if (GuestCommand.Parse(guest.Build.Length == 0 ? language.Usual : guest.Build) is not { } command)
        {
            return new PreparedGuest(guest, null, $"\"{guest.Build}\" is no compiler with flags; write one such as \"{language.Usual}\"");
        }

        if (await VersionAsync(command.Program, language.Version, cancellation) is not { } version)
        {
            return new PreparedGuest(guest, null, Missing(command.Program));
        }

        if (language.Needs() is { } need)
        {
            return new PreparedGuest(guest, null, need);
        }

        // A runtime tells more of itself once it runs.
        var told = guest with
        {
            Build = guest.Build.Length == 0 ? language.Usual : guest.Build,
            Version = language.IsCompiled ? version : null,
        };
        var build = Build(language, source, command, version);
        Directory.CreateDirectory(Path.GetDirectoryName(build.Folder)!);
        using var folder = await BuildFolder.TakeAsync(build.Folder, cancellation);
        var start = language.Start(build);
        var done = build.InFolder(Done);
        if (_isRebuilt || !File.Exists(done) || (start.IsProgram && !File.Exists(start.Program)))
        {
            File.Delete(done);
            var begun = Stopwatch.GetTimestamp();
            if (await RunStepsAsync(language, build, cancellation) is var (problem, lines))
            {
                return new PreparedGuest(told, null, problem, lines);
            }

            await File.WriteAllTextAsync(done, "", cancellation);
            NoteBuilt(begun);
        }

        return new PreparedGuest(told, new GuestStarter(start, Path.GetDirectoryName(source)!), Program: start.IsProgram ? start.Program
            : null);
    }

    private void NoteBuilt(long begun)
    {
        NewlyBuilt++;
        BuildingTook += Stopwatch.GetElapsedTime(begun);
    }

    private GuestBuild Build(GuestLanguage language, string source, GuestCommand command, string version)
    {
        var kit = Path.Combine(_kits, language.Folder);
        var flags = $"{command.Program}\n{string.Join('\n', command.Arguments)}\n{version}";
        using var all = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        all.AppendData(Encoding.UTF8.GetBytes($"{language.Name}\n{source}\n{flags}\n{kit}\n"));
        var beside = Directory.EnumerateFiles(Path.GetDirectoryName(source)!)
            .Where(file => language.Extensions.Contains(Path.GetExtension(file)));
        foreach (var file in beside.Concat(Directory.EnumerateFiles(kit, "*", SearchOption.AllDirectories)).Order(StringComparer.Ordinal))
        {
            all.AppendData(Encoding.UTF8.GetBytes($"{Path.GetFileName(file)}\n"));
            all.AppendData(File.ReadAllBytes(file));
        }

        var guests = Path.Combine(_cache, Kits);
        var key = Convert.ToHexStringLower(all.GetHashAndReset())[..12];
        return new GuestBuild(source, command, kit, Path.Combine(guests, $"{Path.GetFileNameWithoutExtension(source)}-{key}"))
        {
            Shared = Path.Combine(guests, $"{language.Folder}-{BuildCache.NameOf(flags)}"),
        };
    }

    private static async Task<(string Problem, IReadOnlyList<string> Lines)?> RunStepsAsync(
        GuestLanguage language, GuestBuild build, CancellationToken cancellation)
    {
        foreach (var (name, text) in language.Files(build))
        {
            await File.WriteAllTextAsync(build.InFolder(name), text, cancellation);
        }

        foreach (var step in language.Steps(build))
        {
            try
            {
                var finished = await ShellCommand.RunAsync(step.Program, build.Folder, [.. step.Arguments], [.. step.Variables],
                    cancellation);
                if (finished.ExitCode != 0)
                {
                    var lines = finished.All.Split('\n', StringSplitOptions.RemoveEmptyEntries);
                    return ($"{Path.GetFileName(step.Program)} does not build {Path.GetFileName(build.Source)}: {FirstError(lines)}",
                        [.. lines.Take(LinesShown)]);
                }
            }
            catch (Win32Exception)
            {
                return (Missing(step.Program), []);
            }
        }

        return null;
    }

    private static string FirstError(string[] lines)
    {
        var line = Array.Find(lines, line => line.Contains("error", StringComparison.OrdinalIgnoreCase)) ?? lines
            .FirstOrDefault("it says nothing");
        return line.Contains("cjson/cJSON.h", StringComparison.Ordinal)
            ? "the C kit needs cJSON; install libcjson-dev"
            : line.Trim();
    }

    private static string Missing(string command)
        => $"there is no {command} on this machine; on Debian and Ubuntu apt-get install {GuestLanguage.Package(command)} brings it";

    // Its whole path; null where there is no such program.
    private static string? Found(string program) => Path.IsPathRooted(program) ? File.Exists(program) ? program : null
        : (Environment.GetEnvironmentVariable("PATH") ?? "").Split(Path.PathSeparator).Where(folder => folder.Length > 0)
            .Select(folder => Path.Combine(folder, program)).FirstOrDefault(File.Exists);

    // In the project's folder; a built .dll lies further down.
    private string? SourceOf(string named)
    {
        for (var folder = _folder; folder is not null; folder = Path.GetDirectoryName(folder))
        {
            var path = Path.GetFullPath(named, folder);
            if (File.Exists(path))
            {
                return path;
            }
        }

        return null;
    }

    // Its first line, as far as it says something.
    private Task<string?> VersionAsync(string program, IReadOnlyList<string> arguments, CancellationToken cancellation)
        => _versions.GetOrAdd(program, async _ =>
        {
            try
            {
                var finished = await ShellCommand.RunAsync(program, null, [.. arguments], [], cancellation);
                return finished.ExitCode != 0 ? null
                    : finished.All.Split('\n').Select(line => line.Trim()).FirstOrDefault(line => line.Length > 0, program);
            }
            catch (Win32Exception)
            {
                return null;
            }
        });
}
