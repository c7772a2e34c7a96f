using System.CommandLine;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Options;

/// <summary>The option that names files to write what a command shows to, each by its ending.</summary>
internal sealed class FilesOption
{
    private readonly Option<string[]> _out;

    /// <param name="what">What is written, as it reads in "Write it to a file".</param>
    /// <param name="endings">The endings there are.</param>
    /// <param name="problemOf">What is wrong with a file's ending; null for nothing.</param>
    public FilesOption(string what, IReadOnlyList<string> endings, Func<string, string?> problemOf)
    {
        _out = new("--out")
        {
            Description = $"Write {what} to a file, by its ending: {string.Join(", ", endings)}. May be repeated.", HelpName = "FILE",
            AllowMultipleArgumentsPerToken = false,
        };
        _out.Validators.Add(files =>
        {
            foreach (var file in files.Tokens.Select(token => token.Value))
            {
                if ((problemOf(file) ?? WholeFile.ProblemOf(file)) is { } wrong)
                {
                    files.AddError($"--out {file}: {wrong}");
                }
            }
        });
    }

    public Option Option => _out;

    /// <summary>The files to write.</summary>
    public IReadOnlyList<string> Of(ParseResult result) => result.GetValue(_out) ?? [];
}
