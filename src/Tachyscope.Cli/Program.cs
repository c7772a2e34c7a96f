using System.Text;
using Tachyscope.Cli;
using Tachyscope.Lab.Building;

using var interruption = new Interruption();
var around = new Surroundings
{
    Output = new SteadyWriter(new StreamWriter(Console.OpenStandardOutput(), new UTF8Encoding(false)) { AutoFlush = true }),
    Error = new SteadyWriter(new StreamWriter(Console.OpenStandardError(), new UTF8Encoding(false)) { AutoFlush = true }),
    Input = new StreamReader(Console.OpenStandardInput(), new UTF8Encoding(false)),
    Terminal = Console.IsOutputRedirected ? null : TerminalSize,
    Cache = BuildCache.DefaultFolder,
};
return await Tool.InvokeAsync(args, around, interruption.Token);

// A terminal that was just closed has none.
static (int Width, int Height) TerminalSize()
{
    try
    {
        return (Console.WindowWidth, Console.WindowHeight);
    }
    catch (IOException)
    {
        return (0, 0);
    }
}
