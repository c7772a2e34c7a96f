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
    Age = Age(),
});

// Between two looks at the calendar clock, so that one set just then cannot spoil the whole run.
static TimeSpan Age()
{
    var age = DateTime.Now - Process.GetCurrentProcess().StartTime;
    return age < TimeSpan.Zero || age > TimeSpan.FromSeconds(5) ? TimeSpan.Zero : age;
}
