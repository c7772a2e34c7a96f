using System.Diagnostics;
using System.Text;
using Tachyscope.Cli;
using Tachyscope.Lab.Building;

Console.OutputEncoding = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false);
return await Tool.InvokeAsync(args, new Surroundings
{
    Output = Console.Out,
    Error = Console.Error,
    IsTerminal = !Console.IsOutputRedirected,
    Cache = ProjectBuilder.DefaultCache,
    Started = Process.GetCurrentProcess().StartTime,
});
