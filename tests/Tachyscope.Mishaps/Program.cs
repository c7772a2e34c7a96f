using Tachyscope;
using Tachyscope.Mishaps;

// A project that prints before it hands over, and leaves the line open.
Console.Write("the lamp is lit");
return await Studies.RunAsync(args, Environment.GetEnvironmentVariable("MISHAPS") == "mistakes" ? Mistaken.All : [.. Misbehaving.All, .. Doubtful.All]);
