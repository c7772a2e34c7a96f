using Tachyscope;
using Tachyscope.Mishaps;

// One that will not run twice in a process.
if (Environment.GetEnvironmentVariable("MISHAPS") == "once")
{
    if (AppDomain.CurrentDomain.GetData("lit") is not null)
    {
        Environment.Exit(3);
    }

    AppDomain.CurrentDomain.SetData("lit", true);
}

// A project that prints before it hands over, and leaves the line open.
Console.Write("the lamp is lit");
return await Studies.RunAsync(args, Environment.GetEnvironmentVariable("MISHAPS") == "mistakes"
    ? Mistaken.All
    : [.. Misbehaving.All, .. Doubtful.All]);
