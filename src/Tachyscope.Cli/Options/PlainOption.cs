using System.CommandLine;

namespace Tachyscope.Cli.Options;

/// <summary>The option that asks for text without colour or movement.</summary>
internal sealed class PlainOption
{
    private readonly Option<bool> _option = new("--plain") { Description = "Text without colour or movement, as in a pipe." };

    public Option Option => _option;

    public bool IsPlain(ParseResult result) => result.GetValue(_option);
}
