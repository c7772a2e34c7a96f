using System.CommandLine;
using System.Text.RegularExpressions;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope new [NAME].</summary>
internal static partial class NewCommand
{
    private const string UsualName = "study";
    private const string NameInTemplate = "HarbourStudy";
    private const string VersionInTemplate = "TACHYSCOPE-VERSION";

    public static Command Create(Surroundings around)
    {
        var name = new Argument<string>("NAME")
        {
            Description = "A folder to be made with a project in it, or a file ending in .cs for a study in one file; study by default.",
            DefaultValueFactory = _ => UsualName,
        };
        var command = new Command("new", "Begin a study: a project or a single file that builds and runs as it is.") { name };
        command.SetAction((result, cancellation) => MakeAsync(around, result.GetValue(name)!, cancellation));
        return command;
    }

    private static async Task<int> MakeAsync(Surroundings around, string path, CancellationToken cancellation)
    {
        var isFile = path.EndsWith(".cs", StringComparison.OrdinalIgnoreCase);
        var name = Path.GetFileNameWithoutExtension(Path.TrimEndingDirectorySeparator(path));
        if (!isFile)
        {
            name = Path.GetFileName(Path.TrimEndingDirectorySeparator(Path.GetFullPath(path)));
        }

        if (!Named().IsMatch(name))
        {
            return await around.ComplainAsync(
                [$"\"{name}\" cannot be the name of a project; "
                    + "begin with a letter, and use letters, digits, dots, dashes and underscores, such as lamp-signals."],
                ExitCode.WrongUse);
        }

        if (isFile ? File.Exists(path) : Directory.Exists(path) && Directory.EnumerateFileSystemEntries(path).Any())
        {
            return await around.ComplainAsync(
                [$"{path} is there already{(isFile ? "" : " and not empty")}, and nothing was changed; choose another name."],
                    ExitCode.WrongUse);
        }

        var target = isFile ? Path.GetDirectoryName(Path.GetFullPath(path))! : Path.GetFullPath(path);
        var templates = Path.Combine(AppContext.BaseDirectory, "templates");
        Directory.CreateDirectory(target);
        foreach (var source in Directory.GetFiles(Path.Combine(templates, isFile ? "study-file" : "study")))
        {
            var text = await File.ReadAllTextAsync(source, cancellation);
            // In a single file the study stands below what else a project says.
            text += isFile ? await File.ReadAllTextAsync(Path.Combine(templates, "study", "Program.cs"), cancellation) : "";
            var file = Path.Combine(target, Path.GetFileName(source).Replace(NameInTemplate, name, StringComparison.Ordinal));
            await File.WriteAllTextAsync(file, text.Replace(VersionInTemplate, Tool.Version, StringComparison.Ordinal), cancellation);
        }

        await around.Output.WriteLineAsync(isFile
            ? $"made {path}; measure it with: tachyscope run {path}"
            : $"made {path} with {name}.csproj and Program.cs; measure it with: tachyscope run {path}, or in it: dotnet run -c Release");
        return ExitCode.Fine;
    }

    [GeneratedRegex(@"^\p{L}[\p{L}\p{N}._-]*$")]
    private static partial Regex Named();
}
