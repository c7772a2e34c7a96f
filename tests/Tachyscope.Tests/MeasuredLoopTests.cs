using System.Linq.Expressions;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Tests;

public sealed class MeasuredLoopTests
{
    private const int Calls = 37;
    private static int s_calls;

    public enum Lamp : byte
    {
        Dark,
        Lit,
    }

    private static CellDescription Direct => new() { Kind = CellKind.Variant, Path = CallPath.Direct };

    [Fact]
    public void Every_type_of_input_and_result_is_called_as_often_as_asked_with_the_same_input()
    {
        Check(7, x => Counted(x + 1), 8);
        Check((short)7, x => Counted((byte)(x + 1)), (byte)8);
        Check(7L, x => Counted(x * 2), 14L);
        Check(7, x => Counted(x * 2L), 14L);
        Check(7L, x => Counted((int)x), 7);
        Check(true, x => Counted(!x), false);
        Check('a', x => Counted((char)(x + 1)), 'b');
        Check(Lamp.Lit, x => Counted(x == Lamp.Lit), true);
        Check(2.5, x => Counted(x * 2), 5.0);
        Check(2.5f, x => Counted(x * 2), 5f);
        Check(7, x => Counted(x / 2.0), 3.5);
        Check("fog", x => Counted(x.Length), 3);
        Check("fog", x => Counted(x + "horn"), "foghorn");
        Check("fog", x => Counted<string?>(null), null);
        Check(new Guid(1, 2, 3, new byte[8]), x => Counted(x), new Guid(1, 2, 3, new byte[8]));
        Check((1, "two", 3.0), x => Counted((x.Item3, x.Item2)), (3.0, "two"));
        Check(new DateTime(2026, 1, 2), x => Counted(x.AddDays(1)), new DateTime(2026, 1, 3));
        Check((int?)5, x => Counted(x + 1), (int?)6);
        Check(12m, x => Counted(x + 1), 13m);
    }

    [Fact]
    public void A_static_method_and_a_capturing_lambda_are_called_directly()
    {
        var added = 5;

        Check(7, Doubled, 14);
        Check(7, x => Counted(x + added), 12);
        Assert.True(DirectCall.IsPossible((Func<int, int>)Doubled));
        Assert.True(DirectCall.IsPossible((int x) => x + added));
    }

    [Fact]
    public void What_cannot_be_called_directly_goes_through_its_delegate()
    {
        var compiled = Expression.Lambda<Func<int, int>>(Expression.Constant(4), Expression.Parameter(typeof(int))).Compile();
        var several = (Func<int, int>)Doubled + Doubled;
        var bound = (Func<int, bool>)Enumerable.Range(1, 3).Contains;

        Assert.False(DirectCall.IsPossible(compiled));
        Assert.False(DirectCall.IsPossible(several));
        Assert.False(DirectCall.IsPossible(bound));
        Study study = Study.Of("odd").Input("a number", () => 7).Baseline("compiled", compiled).Variant("several", several);
        Assert.All(study.Description.Variants, variant => Assert.Equal(CallPath.Delegate, variant.Path));
    }

    [Fact]
    public void The_identity_loop_leaves_input_and_answer_alone()
    {
        foreach (var path in Enum.GetValues<CallPath>())
        {
            var cell = MeasuredCell.OfIdentity<string, int>(new() { Kind = CellKind.Identity, Path = path }, "fog");
            cell.BuildLoop();
            cell.Loop(1_000);
            cell.Loop(1);
        }
    }

    [Fact]
    public void An_exception_leaves_the_loop()
    {
        var cell = MeasuredCell.OfOperation<int, int>(Direct, 7, x => x == 7 ? throw new InvalidOperationException("dark") : x);
        cell.BuildLoop();

        Assert.Equal("dark", Assert.Throws<InvalidOperationException>(() => cell.Loop(3)).Message);
    }

    [Fact]
    public void The_loop_allocates_nothing_and_counts_what_the_operation_allocates_to_the_byte()
    {
        Assert.Equal(0, Allocated((int x) => x + 1));
        Assert.Equal(24 * Calls, Allocated((int x) => new object()));
        Assert.Equal(128 * Calls, Allocated((int x) => new byte[100]));
    }

    [Fact]
    public void A_loop_of_longer_work_takes_longer_in_proportion()
    {
        // Wide margins: the known-cost program in bench/ holds the narrow ones.
        var one = Time(x => Links(x, 100));
        var ten = Time(x => Links(x, 1_000));

        Assert.InRange(ten / one, 5, 20);
    }

    private static double Time(Func<int, int> operation)
    {
        var cell = MeasuredCell.OfOperation(Direct, 7, operation);
        cell.BuildLoop();
        cell.Loop(2_000);
        return Enumerable.Range(0, 50).Min(_ => ReadingTaker.Take(cell.Loop, 200).NanosecondsPerCall);
    }

    private static int Links(int x, int count)
    {
        for (var i = 0; i < count; i++)
        {
            x = unchecked((x * 31) + i);
        }

        return x;
    }

    private static long Allocated<TResult>(Func<int, TResult> operation)
    {
        var cell = MeasuredCell.OfOperation(Direct, 7, operation);
        cell.BuildLoop();
        cell.Loop(3);
        Metronome.Read();
        return ReadingTaker.Take(cell.Loop, Calls).AllocatedBytes;
    }

    private static void Check<TInput, TResult>(TInput input, Func<TInput, TResult> operation, TResult expected)
    {
        var chamber = new Chamber<TInput, TResult>(input, operation);
        foreach (var loop in (MeasuredLoop[])[EmittedLoop.Around(chamber), DelegateLoop.Around(chamber)])
        {
            s_calls = 0;
            loop(Calls);
            Assert.Equal(Calls, s_calls);
            Assert.Equal(expected, chamber.Result);
            Assert.Equal(input, chamber.Input);
        }
    }

    private static T Counted<T>(T value)
    {
        s_calls++;
        return value;
    }

    private static int Doubled(int x) => Counted(2 * x);
}
