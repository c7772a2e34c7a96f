using System.Linq.Expressions;
using System.Runtime.CompilerServices;
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

    private static readonly LoopShape[] Shapes =
    [
        new(), new() { Order = CallOrder.Overlapped }, new() { Supply = InputSupply.Each },
            new() { Order = CallOrder.Overlapped, Supply = InputSupply.Each },
    ];

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
        Assert.All(study.Description.Variants, variant => Assert.Equal(CallPath.Delegate, variant.Loop.Path));
    }

    [Fact]
    public void The_identity_loop_of_every_shape_leaves_input_and_answer_alone()
    {
        foreach (var shape in Shapes)
        {
            var chamber = new Chamber<string, int>(InputRow<string>.Mix(["fog", "fog"], [1, 1], 1), _ => 0);
            EmittedLoop.Around(chamber, null, shape)(1_000);
            DelegateLoop.Around(chamber, shape)(1_000);
            Assert.Equal(("fog", 0), (chamber.Input, chamber.Result));
        }
    }

    [Fact]
    public void The_identity_loop_side_by_side_stores_a_reference_as_others_do_and_leaves_none()
    {
        var chamber = new Chamber<int, string>(InputRow<int>.Same(3), _ => "fog");

        EmittedLoop.Around(chamber, null, new LoopShape { Order = CallOrder.Overlapped, Result = ResultKind.Opaque })(1_000);

        Assert.Equal((3, null), (chamber.Input, chamber.Result));
    }

    [Fact]
    public void Threads_get_a_core_of_their_own_before_two_share_one()
    {
        Assert.Equal([0, 1, 2, 4, 5, 3],
            Affinity.Spread([0, 1, 2, 3, 4, 5], processor => processor switch { 2 or 3 => "2-3", 5 => null, var own => $"{own}" }));
        Assert.Equal([0, 1, 4, 5], Affinity.Spread([0, 1, 4, 5], processor => $"{processor % 4}").Take(4).Order());
        Assert.Equal([0, 1], Affinity.Spread([0, 1, 4, 5], processor => $"{processor % 4}").Take(2));
        Assert.Equal(Affinity.Allowed.Order(), Affinity.CoreByCore().Order());
    }

    [Fact]
    public void An_exception_leaves_the_loop()
    {
        var loop = Emitted(7, x => x == 7 ? throw new InvalidOperationException("dark") : x);

        Assert.Equal("dark", Assert.Throws<InvalidOperationException>(() => loop(3)).Message);
    }

    [Fact]
    public void The_loop_allocates_nothing_and_counts_what_the_operation_allocates_to_the_byte()
    {
        Assert.Equal(0, Allocated((int x) => x + 1));
        Assert.Equal(24 * Calls, Allocated((int x) => new object()));
        Assert.Equal(128 * Calls, Allocated((int x) => new byte[100]));
    }

    [Fact]
    public void Settings_and_what_was_prepared_reach_a_direct_call_in_their_places()
    {
        Func<string, int, int, string> dialled = (word, from, count) => Counted(word.Substring(from, count));
        Func<List<string>, string, int> used = (list, word) => Counted(list.IndexOf(word));

        Assert.Equal("or", Result<string, string>("foghorn", new CallTarget(dialled, 0, [4, 2])));
        Assert.Equal(1, Result<string, int>("horn", new CallTarget(used, 1, [new List<string> { "fog", "horn" }])));
    }

    [Fact]
    public void Spans_and_sequences_become_numbers_inside_the_timing_and_sequences_are_gone_through()
    {
        ReadOnlySpanOperation<string, char> tail = word => Counted(word).AsSpan(3);
        Func<int, IEnumerable<int>> counted = CountTo;

        Assert.NotEqual(0, Result<string, long>("foghorn", new CallTarget(tail, 0, [], ((SpanBits)Reductions.Of).Method)));
        s_calls = 0;
        var sum = Emit<int, long>(4, new CallTarget(counted, 0, [], ((Func<IEnumerable<int>, long>)Reductions.Enumerate).Method)).Loop;
        sum(Calls);
        Assert.Equal(4 * Calls, s_calls);
    }

    [Theory]
    [InlineData(new double[] { 95, 5 }, new[] { 19, 1 })]
    [InlineData(new double[] { 1, 1, 1 }, new[] { 1, 1, 1 })]
    [InlineData(new double[] { 3, 1 }, new[] { 3, 1 })]
    [InlineData(new double[] { 0.125, 0.875 }, new[] { 1, 7 })]
    [InlineData(new double[] { 97, 2, 1 }, new[] { 97, 2, 1 })]
    [InlineData(new double[] { 1_000_000, 1 }, new[] { 1_000, 0 })]
    public void A_stretch_of_a_mix_has_every_kind_as_often_as_its_weight_says(double[] weights, int[] stretch)
        => Assert.Equal(stretch, MixDeal.Stretch(weights));

    [Fact]
    public void Every_stretch_of_a_mix_is_whole_and_shuffled_for_itself_and_anew_for_every_sitting()
    {
        var row = InputRow<string>.Mix(["plain", "damaged"], [95, 5], seed: 3);

        Assert.Equal(20, row.Stretch);
        var stretches = row.Items.Chunk(20).ToList();
        Assert.All(stretches, stretch => Assert.Equal(1, stretch.Count(item => item == "damaged")));
        Assert.InRange(stretches.Select(stretch => Array.IndexOf(stretch, "damaged")).Distinct().Count(), 18, 20);
        Assert.Equal(row.Items, InputRow<string>.Mix(["plain", "damaged"], [95, 5], seed: 3).Items);
        Assert.NotEqual(row.Items, InputRow<string>.Mix(["plain", "damaged"], [95, 5], seed: 4).Items);
    }

    [Fact]
    public void Every_reading_of_a_mix_is_of_the_whole_mix_and_goes_on_where_the_last_one_ended()
    {
        var row = InputRow<int>.Mix([.. Enumerable.Range(0, 3)], [5, 2, 1], seed: 3);
        var seen = new List<int>();
        Func<int, int> note = kind =>
        {
            seen.Add(kind);
            return kind;
        };
        var shape = new LoopShape { Supply = InputSupply.Each };
        var awaited = new AwaitedLoop<int, TaskAwaiter<int>, TaskCall<int, int>>(
            new TaskCall<int, int>(kind => Task.FromResult(note(kind))), row);
        MeasuredLoop[] loops =
        [
            EmittedLoop.Around(new Chamber<int, int>(row, note) { Target = note }, new CallTarget(note, 0, []), shape),
                DelegateLoop.Around(new Chamber<int, int>(row, note), shape), awaited.Run,
        ];

        Assert.All(loops, loop =>
        {
            seen.Clear();
            for (var reading = 0; reading < 2_000; reading++)
            {
                // What is thrown away between readings may end in the middle of a stretch.
                loop(16);
                Assert.Equal([5, 2, 1], seen.TakeLast(8).CountBy(kind => kind).OrderBy(kind => kind.Key).Select(kind => kind.Value));
                loop(3);
            }

            // 24 items on each time, round and round.
            Assert.Equal(Enumerable.Range(0, 200).Select(index => row.Items[index * 24 % row.Items.Length]), seen.Chunk(19).Take(200)
                .Select(reading => reading[0]));
        });
    }

    [Fact]
    public void Fresh_inputs_are_made_or_reset_before_a_batch_and_each_is_used_once()
    {
        var (made, reset) = (0, 0);
        var row = InputRow<int[]>.Fresh(() => [++made], input => { input[0] = 0; reset++; });
        var chamber = new Chamber<int[], int>(row, input => input[0]++);
        var loop = EmittedLoop.Around(chamber, new CallTarget(chamber.Operation, 0, []), new LoopShape { Supply = InputSupply.Each });

        row.Refill!();
        loop(row.MostCalls);

        Assert.Equal(row.Items.Length, reset);
        Assert.All(row.Items, item => Assert.Equal(1, item[0]));
        Assert.InRange(row.Items.Length, 64, 1_024);
        var before = made;
        InputRow<int[]>.Fresh(() => [++made], null).Refill!();
        Assert.True(made > before + 64);
    }

    [Fact]
    public void Every_kind_of_task_is_awaited_whether_over_at_once_or_later()
    {
        Assert.Equal(Calls, Awaited(new TaskCall<int>(async _ => { await Task.Yield(); Interlocked.Increment(ref s_calls); })));
        Assert.Equal(Calls, Awaited(new ValueTaskCall<int>(_ => { s_calls++; return default; })));
        Assert.Equal(Calls, AwaitedResult(new TaskCall<int, int>(async x => { await Task.Delay(1); return Counted(x); })));
        Assert.Equal(Calls, AwaitedValue(new ValueTaskCall<int, string>(async _ => { await Task.Yield(); return Counted("fog"); })));
        Assert.Equal("dark", Assert.Throws<InvalidOperationException>(
            () => Awaited(new TaskCall<int>(async _ => { await Task.Yield(); throw new InvalidOperationException("dark"); }))).Message);
        Assert.Equal("dark", Assert.Throws<InvalidOperationException>(()
            => Awaited(new TaskCall<int>(_ => throw new InvalidOperationException("dark")))).Message);
    }

    [Fact]
    public void Several_threads_each_make_all_calls_and_what_one_throws_is_thrown_on()
    {
        var crew = new ThreadedLoop(3);
        var calls = 0L;
        crew.Around([.. Enumerable.Range(0, 3).Select(_ => (MeasuredLoop)(count => Interlocked.Add(ref calls, count)))])(Calls);

        Assert.Equal(3 * Calls, calls);
        Assert.True(crew.End > crew.Start);
        MeasuredLoop thrower = _ => throw new InvalidOperationException("dark");
        Assert.Throws<InvalidOperationException>(() => crew.Around([thrower, _ => { }, _ => { }])(1));
        crew.Around([_ => { }, _ => { }, _ => { }])(1);
    }

    [Fact]
    public void The_collector_is_kept_out_as_far_as_its_budget_goes()
    {
        var small = new MeasuredCell(new() { Kind = CellKind.Variant },
            calls => { for (; calls > 0; calls--) { GC.KeepAlive(new byte[1_000]); } });

        Assert.True(CellReader.TakeHeld(small, 1_000).IsCollectionHeld);
        Assert.False(CellReader.TakeHeld(small, 2 * CollectionHold.BudgetBytes / 1_000).IsCollectionHeld);
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
        var loop = Emitted(7, operation);
        loop(2_000);
        return Enumerable.Range(0, 50).Min(_ => ReadingTaker.Take(loop, 200).NanosecondsPerCall);
    }

    private static MeasuredLoop Emitted<TInput, TResult>(TInput input, Func<TInput, TResult> operation)
        => Emit<TInput, TResult>(input, new CallTarget(operation, 0, [])).Loop;

    private static (MeasuredLoop Loop, Chamber<TInput, TResult> Chamber) Emit<TInput, TResult>(TInput input, CallTarget call)
    {
        var chamber = new Chamber<TInput, TResult>(InputRow<TInput>.Same(input), _ => default!) { Target = call.Operation,
            Extras = call.Extras };
        return (EmittedLoop.Around(chamber, call, new LoopShape()), chamber);
    }

    private static TResult? Result<TInput, TResult>(TInput input, CallTarget call)
    {
        var (loop, chamber) = Emit<TInput, TResult>(input, call);
        s_calls = 0;
        loop(Calls);
        Assert.Equal(Calls, s_calls);
        return chamber.Result;
    }

    private static int Awaited<TAwaiter, TCall>(IAwaitedCall<int, TAwaiter> call)
        where TAwaiter : ICriticalNotifyCompletion
        where TCall : struct, IAwaitedCall<int, TAwaiter>
    {
        s_calls = 0;
        var loop = new AwaitedLoop<int, TAwaiter, TCall>((TCall)call, InputRow<int>.Same(7));
        loop.Run(Calls);
        Assert.True(loop.End >= loop.Start);
        return s_calls;
    }

    private static int Awaited(TaskCall<int> call) => Awaited<TaskAwaiter, TaskCall<int>>(call);

    private static int Awaited(ValueTaskCall<int> call) => Awaited<ValueTaskAwaiter, ValueTaskCall<int>>(call);

    private static int AwaitedResult(TaskCall<int, int> call) => Awaited<TaskAwaiter<int>, TaskCall<int, int>>(call);

    private static int AwaitedValue(ValueTaskCall<int, string> call) => Awaited<ValueTaskAwaiter<string>, ValueTaskCall<int, string>>(call);

    private static IEnumerable<int> CountTo(int last)
    {
        for (var number = 1; number <= last; number++)
        {
            yield return Counted(number);
        }
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
        var loop = Emitted(7, operation);
        loop(3);
        Metronome.Read();
        return ReadingTaker.Take(loop, Calls).AllocatedBytes;
    }

    private static void Check<TInput, TResult>(TInput input, Func<TInput, TResult> operation, TResult expected)
    {
        foreach (var shape in Shapes)
        {
            var chamber = new Chamber<TInput, TResult>(InputRow<TInput>.Mix([input, input], [1, 1], 1), operation);
            var call = new CallTarget(operation, 0, []);
            foreach (var loop in (MeasuredLoop[])[EmittedLoop.Around(chamber, call, shape), DelegateLoop.Around(chamber, shape)])
            {
                s_calls = 0;
                chamber.Result = default;
                loop(Calls);
                Assert.Equal(Calls, s_calls);
                Assert.Equal(expected, chamber.Result);
                Assert.Equal(input, chamber.Input);
            }
        }
    }

    private static T Counted<T>(T value)
    {
        s_calls++;
        return value;
    }

    private static int Doubled(int x) => Counted(2 * x);

    private delegate long SpanBits(ReadOnlySpan<char> span);
}
