using Tachyscope.Cli.Rehearsals;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Cli.Tests;

/// <summary>What is gone through for the sake of the compiler.</summary>
public sealed class RehearsalTests
{
    [Fact]
    public void What_is_rehearsed_is_a_whole_answer()
    {
        var (output, error) = (new StringWriter(), new StringWriter());

        AnswerRehearsal.Hold(new Surroundings { Output = output, Error = error, Cache = Path.GetTempPath() }, isPlain: true,
            ReportOptions.Default);

        var text = output.ToString();
        Assert.Contains("rehearsal: Take v1, the fastest", text, StringComparison.Ordinal);
        Assert.Matches(@"rehearsal · v2 · one: ▼ slower × 1\.5\d* ± ", text);
        Assert.Contains("the core to itself beside 66.7 %", text, StringComparison.Ordinal);
        Assert.Empty(error.ToString());
    }
}
