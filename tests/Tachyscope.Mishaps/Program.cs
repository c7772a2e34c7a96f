using Tachyscope;
using Tachyscope.Mishaps;

// A project that prints before it hands over, and leaves the line open; in one mood it never hands over, in another its line never ends.
Console.Write("the lamp is lit");
var mood = Environment.GetEnvironmentVariable("MISHAPS");
while (mood is "lingers" or "babbles")
{
    Console.Write(mood == "babbles" ? new string('~', 1 << 20) : "");
    Thread.Sleep(mood == "babbles" ? 1 : 100);
}

return await Studies.RunAsync(args, mood == "mistakes" ? Mistaken.All : [.. Misbehaving.All, .. Doubtful.All, Questions.Study]);
