using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Tests;

/// <summary>What commands inherit from this process; alone, since whatever other tests start meanwhile would inherit it too.</summary>
[Collection(nameof(InheritedVariableTests))]
public sealed class InheritedVariableTests
{
    [Fact]
    public async Task What_a_command_writes_is_kept_apart_and_gits_variables_stay_outside()
    {
        Environment.SetEnvironmentVariable("GIT_DIR", "/no/such/repository");
        try
        {
            var found = await ShellCommand.RunAsync(
                "sh", Path.GetTempPath(), ["-c", "echo out; echo err >&2; echo \"[$GIT_DIR$GIT_INDEX_FILE]\"; pwd; exit 4"],
                [("GIT_INDEX_FILE", "own")], CancellationToken.None);

            Assert.Equal((4, $"out\n[own]\n{Path.GetTempPath().TrimEnd('/')}\n", "err\n"), (found.ExitCode, found.Output, found.Error));
            Assert.EndsWith("err\n", found.All, StringComparison.Ordinal);
        }
        finally
        {
            Environment.SetEnvironmentVariable("GIT_DIR", null);
        }
    }

    /// <summary>Tests beside which no other may run.</summary>
    [CollectionDefinition(nameof(InheritedVariableTests), DisableParallelization = true)]
    public sealed class Alone;
}
