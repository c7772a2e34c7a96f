using System.CommandLine;
using Tachyscope.Cli.Options;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope completion SHELL.</summary>
internal static class CompletionCommand
{
    // Each asks the tool itself, which knows its options, targets and the studies of what it has measured.
    private static readonly Dictionary<string, string> Scripts = new(StringComparer.Ordinal)
    {
        ["bash"] = """
            # In ~/.bashrc: source <(tachyscope completion bash)
            _tachyscope_words() {
                local IFS=$'\n' word="${COMP_WORDS[COMP_CWORD]}"
                local words=($(tachyscope "[suggest:${COMP_POINT}]" "${COMP_LINE}" 2> /dev/null))
                COMPREPLY=($(compgen -W "${words[*]}" -- "$word"))
            }
            complete -o filenames -o bashdefault -o default -F _tachyscope_words tachyscope
            """,
        ["zsh"] = """
            # In ~/.zshrc, after compinit: source <(tachyscope completion zsh)
            _tachyscope_words() {
                local -a words_found
                words_found=("${(@f)$(tachyscope "[suggest:${CURSOR}]" "${BUFFER}" 2> /dev/null)}")
                compadd -a words_found || _files
            }
            compdef _tachyscope_words tachyscope
            """,
        ["fish"] = """
            # In ~/.config/fish/completions/tachyscope.fish
            complete -c tachyscope -a '(tachyscope "[suggest:"(commandline -C)"]" (commandline -b) 2> /dev/null)'
            """,
    };

    public static Command Create(Surroundings around)
    {
        var shell = new Argument<string>("SHELL") { Description = "bash, zsh or fish." };
        WordValue.Allow(shell, Scripts.Keys);
        var command = new Command("completion", "Print what makes a shell complete commands, options, targets and studies.") { shell };
        command.SetAction(async (result, _) =>
        {
            await around.Output.WriteLineAsync(Scripts[result.GetValue(shell)!]);
            return ExitCode.Fine;
        });
        return command;
    }
}
