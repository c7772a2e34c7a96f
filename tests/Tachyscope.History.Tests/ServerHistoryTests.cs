using Tachyscope.Analysis.Histories;

namespace Tachyscope.History.Tests;

/// <summary>A history on a server: the same tests, and what only a server can do wrong.</summary>
public sealed class ServerHistoryTests : RunHistoryTests, IClassFixture<LampServer>
{
    private readonly LampServer _server;

    public ServerHistoryTests(LampServer server)
    {
        _server = server;
        Assert.SkipWhen(server.Missing is not null && Environment.GetEnvironmentVariable("CI") != "true", server.Missing ?? "");
        Assert.Null(server.Missing);
        Place = server.NewDatabase();
    }

    protected override string Place { get; }

    [Fact]
    public void Who_may_not_or_does_not_exist_is_told_without_a_secret()
    {
        var stranger = Assert.Throws<HistoryException>(() => RunHistory.Open(_server.PlaceOf("lamps", "stranger"))).Message;
        var missing = Assert.Throws<HistoryException>(() => RunHistory.Open(_server.PlaceOf("nowhere"))).Message;

        Assert.Contains("refused the user or the password", stranger, StringComparison.Ordinal);
        Assert.Contains("there is no database nowhere on 127.0.0.1", missing, StringComparison.Ordinal);
        Assert.Contains("has no runs", Assert.Throws<HistoryException>(() => RunHistory.OpenToRead(Place))
            .Message, StringComparison.Ordinal);
        Assert.DoesNotContain(LampServer.Password, stranger + missing, StringComparison.Ordinal);
    }

    [Fact]
    public void A_server_that_dies_loses_nothing_that_was_saved()
    {
        var history = RunHistory.Open(Place);
        var summary = RunSummary.Of(Simulated);
        history.Save(Simulated, summary, "before");
        _server.Stop();
        try
        {
            Assert.Contains("cannot be reached", Assert.Throws<HistoryException>(() => history.Save(Simulated, summary, "lost")).Message,
                StringComparison.Ordinal);
        }
        finally
        {
            _server.Start();
        }

        history.Save(Simulated, summary, "after");
        Assert.Equal(["after", "before"], history.List(new RunQuery()).Select(run => run.Label));
    }
}
