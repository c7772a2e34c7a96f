using System.Text.Json;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Tests;

/// <summary>Rows of guests as a study describes them, and what is compared of their answers.</summary>
public sealed class GuestRowTests
{
    private static Study Sums => Study.Of("sums").Inputs("levels", [3], (count, seed) => Enumerable.Range(seed, count).ToArray())
        .Baseline("here", levels => (double)levels.Sum())
        .Guest("C", Guest.C("sum.c", "gcc -O2", "clang -O3"), levels => new { Levels = levels, First = levels[0] })
        .Guest("one", Guest.Rust("sum.rs").Calling("sum"), levels => JsonSerializer.SerializeToElement(levels), answer
            => answer.GetDouble())
        .Guest("whole", Guest.Whole("sort -n", "cat").Around("cp a b", null).ColdToo("a"))
        .Guest("elsewhere", Guest.OnTarget("here", "net8.0"))
        .Agree(tolerance: 1e-9);

    [Fact]
    public void Every_build_is_a_row_and_with_cold_files_two()
    {
        var rows = Sums.Description.Variants;

        Assert.Equal(
            ["here", "C, gcc -O2", "C, clang -O3", "one", "whole, sort -n", "whole, sort -n, cold files", "whole, cat",
                "whole, cat, cold files", "elsewhere"],
            rows.Select(row => row.Name));
        Assert.Null(rows[0].Guest);
        Assert.Equal(new GuestDescription { Language = "Rust", Source = "sum.rs", Operation = "sum" }, rows[3].Guest);
        Assert.Equal(("command", true, "cp a b", null, null), Around(rows[4].Guest!));
        Assert.Equal(["a"], rows[5].Guest!.Cold!);
        Assert.Equal(new GuestDescription { Language = "C#", Build = "net8.0", Operation = "here", IsOnTarget = true }, rows[8].Guest);
        Assert.All(rows.Skip(1), row => Assert.Null(row.Method));
        Assert.Empty(Sums.Description.Mistakes);

        static (string, bool, string?, string?, IReadOnlyList<string>?) Around(GuestDescription guest)
            => (guest.Language, guest.IsWhole, guest.Before, guest.After, guest.Cold);
    }

    [Fact]
    public void An_input_is_written_as_the_row_asks()
    {
        string Sent(int row) => Sums.Body.Send(new InputRequest { Study = "sums", Seed = 5, Input = 0, Variant = row }).Value.GetRawText();

        Assert.Equal("{\"levels\":[5,6,7],\"first\":5}", Sent(1));
        Assert.Equal("[5,6,7]", Sent(3));
        Assert.Equal("[5,6,7]", Sent(4));
    }

    [Theory]
    [InlineData("18", null)]
    [InlineData("18.0000000001", null)]
    [InlineData("19", "answers 19 where \"here\" answers 18")]
    [InlineData("\"NaN\"", "answers NaN where \"here\" answers 18")]
    [InlineData("[18]", "answers [18], which cannot be read as Double; give .Guest(…) a read that can")]
    public void An_answer_is_compared_by_the_rule_of_the_study(string answer, string? reason)
    {
        var reply = Sums.Body.Judge(new JudgeRequest
        {
            Study = "sums", Seed = 5, Input = 0, Variant = 1, Reference = 0, Value = JsonDocument.Parse(answer).RootElement,
        });

        Assert.Equal((reason is null ? null : CellFailureKind.Disagrees, reason), (reply.Failure, reply.Reason));
    }

    [Fact]
    public void The_first_guest_that_answers_is_the_reference_where_no_other_row_is()
    {
        var body = Sums.Body;
        CheckReply Judge(int row, int reference, string answer) => body.Judge(new JudgeRequest
        {
            Study = "sums", Seed = 5, Input = 0, Variant = row, Reference = reference, Value = JsonDocument.Parse(answer).RootElement,
        });

        Assert.Null(Judge(1, 1, "20").Failure);
        Assert.Null(Judge(2, 1, "20").Failure);
        Assert.Equal("answers 18 where \"C, gcc -O2\" answers 20", Judge(2, 1, "18").Reason);
    }
}
