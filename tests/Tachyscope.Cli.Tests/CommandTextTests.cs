using Tachyscope.Cli.Histories;

namespace Tachyscope.Cli.Tests;

public sealed class CommandTextTests
{
    [Theory]
    [InlineData("lamps", "lamps")]
    [InlineData("/home/keeper/sea charts/lamps.csproj", "…/lamps.csproj")]
    [InlineData("dir=/home/keeper/lamps,name=old", "dir=…/lamps,name=old")]
    [InlineData(@"C:\Users\keeper\lamps.cs", "…/lamps.cs")]
    [InlineData("../lamps", "../lamps")]
    [InlineData("it's", @"'it'\''s'")]
    [InlineData("", "''")]
    [InlineData("n / 2 / 3", "'n / 2 / 3'")]
    public void A_command_can_be_typed_again_and_tells_no_folders(string word, string kept)
        => Assert.Equal($"tachyscope run {kept}", CommandText.Of(["tachyscope", "run", word]));
}
