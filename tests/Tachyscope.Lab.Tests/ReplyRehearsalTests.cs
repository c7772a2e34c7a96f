using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Tests;

/// <summary>Replies that are read for the sake of the compiler.</summary>
public sealed class ReplyRehearsalTests
{
    [Fact]
    public void Every_reply_of_it_is_one()
        => Assert.Null(Record.Exception(ReplyRehearsal.Hold));
}
