using System.Text.Json;
using Tachyscope.Scripted;

// Speaks the protocol as docs/protocol.md has it, and measures nothing: the script beside it says what there is to read.
var folder = AppContext.BaseDirectory;
using var script = JsonDocument.Parse(File.ReadAllBytes(Path.Combine(folder, "script.json")));
using var replies = Console.OpenStandardOutput();
var mischief = new Mischief(script.RootElement.GetProperty("faults"), folder, replies);
mischief.Make("start", [], _ => 0);
new ScriptedWorker(script.RootElement, mischief, replies).Serve(Console.OpenStandardInput());
