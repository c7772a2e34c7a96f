using System.Diagnostics.CodeAnalysis;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Tachyscope.Answers;
using Tachyscope.Operations;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>A study that has its baseline; becomes a <see cref="Study"/> by assignment.</summary>
/// <typeparam name="TInput">What the operation works on.</typeparam>
/// <typeparam name="TResult">What the operation answers.</typeparam>
public sealed class StudyDraft<TInput, TResult>
{
    private const string Reflects = "Reads and writes JSON by reflection; give send and read that make and take a JsonElement.";

    private readonly StudyParts<TInput, TResult> _parts;

    internal StudyDraft(StudyParts<TInput, TResult> parts) => _parts = parts;

    /// <summary>Adds a variant.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant(string name, Func<TInput, TResult> operation)
        => With(name, operation, () => Again(name, operation));

    /// <summary>Adds a variant whose task is awaited in the timing.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(2)]
    public StudyDraft<TInput, TResult> Variant(string name, Func<TInput, Task<TResult>> operation)
        => With(name, operation, () => [Rows.Awaited(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant whose task is awaited in the timing.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(1)]
    public StudyDraft<TInput, TResult> Variant(string name, Func<TInput, ValueTask<TResult>> operation)
        => With(name, operation, () => [Rows.Awaited(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant with a dial; it is measured at each setting.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="dial">The dial.</param>
    /// <param name="operation">The operation, given the input and the setting.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant(string name, Dial dial, Func<TInput, int, TResult> operation)
    {
        ArgumentNullException.ThrowIfNull(dial);
        return With(name, operation, () => Rows.AtSettings(name, dial, operation), StudyMistakes.In(name, dial));
    }

    /// <summary>Adds a variant with two dials; it is measured at each pair of settings.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="first">The first dial.</param>
    /// <param name="second">The second dial.</param>
    /// <param name="operation">The operation, given the input and the two settings.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant(string name, Dial first, Dial second, Func<TInput, int, int, TResult> operation)
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        return With(
            name, operation, () => Rows.AtSettings(name, first, second, operation),
                [.. StudyMistakes.In(name, first), .. StudyMistakes.In(name, second)]);
    }

    /// <summary>Adds a variant that prepares something of its input once and uses it often; both are measured apart.</summary>
    /// <typeparam name="TPrepared">What is prepared.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="prepare">What is done once.</param>
    /// <param name="use">What is done each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant<TPrepared>(
        string name, Func<TInput, TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
    {
        ArgumentNullException.ThrowIfNull(prepare);
        return With(name, use, () => Rows.Prepared(name, isBaseline: false, prepare, use));
    }

    /// <summary>Adds a variant that prepares something once, whatever the input, and uses it often; both are measured apart.</summary>
    /// <typeparam name="TPrepared">What is prepared.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="prepare">What is done once.</param>
    /// <param name="use">What is done each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant<TPrepared>(string name, Func<TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
    {
        ArgumentNullException.ThrowIfNull(prepare);
        return With(name, use, () => Rows.Prepared(name, isBaseline: false, prepare, use));
    }

    /// <summary>Adds an implementation in another language, one row for each of its builds; inputs and answers travel as JSON.</summary>
    /// <param name="name">Its name, unique in the study; with several builds each row has the build's behind it.</param>
    /// <param name="guest">Where it is and how it is built.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <remarks>Names are written in camel case; NaN and infinities as the texts "NaN", "Infinity" and "-Infinity".</remarks>
    [RequiresUnreferencedCode(Reflects)]
    [RequiresDynamicCode(Reflects)]
    public StudyDraft<TInput, TResult> Guest(string name, Guest guest) => Guest(name, guest, input => (object?)input);

    /// <summary>Adds an implementation in another language, one row for each of its builds.</summary>
    /// <param name="name">Its name, unique in the study; with several builds each row has the build's behind it.</param>
    /// <param name="guest">Where it is and how it is built.</param>
    /// <param name="send">What of an input is written as JSON and sent to it, such as <c>chart => new { chart.X, chart.Y }</c>.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [RequiresUnreferencedCode(Reflects)]
    [RequiresDynamicCode(Reflects)]
    public StudyDraft<TInput, TResult> Guest(string name, Guest guest, Func<TInput, object?> send)
        => Guest(name, guest, send, answer => answer.Deserialize<TResult>(GuestJson.Options)!);

    /// <summary>Adds an implementation in another language, one row for each of its builds.</summary>
    /// <param name="name">Its name, unique in the study; with several builds each row has the build's behind it.</param>
    /// <param name="guest">Where it is and how it is built.</param>
    /// <param name="send">What of an input is written as JSON and sent to it.</param>
    /// <param name="read">Makes the study's answer of the JSON that it answers.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [RequiresUnreferencedCode(Reflects)]
    [RequiresDynamicCode(Reflects)]
    public StudyDraft<TInput, TResult> Guest(string name, Guest guest, Func<TInput, object?> send, Func<JsonElement, TResult> read)
    {
        ArgumentNullException.ThrowIfNull(send);
        return Guest(name, guest, input => JsonSerializer.SerializeToElement(send(input), GuestJson.Options), read);
    }

    /// <summary>Adds an implementation in another language, one row for each of its builds.</summary>
    /// <param name="name">Its name, unique in the study; with several builds each row has the build's behind it.</param>
    /// <param name="guest">Where it is and how it is built.</param>
    /// <param name="send">Writes an input as JSON.</param>
    /// <param name="read">Reads an answer.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <remarks>This one needs no reflection, so that a study compiled ahead of time can have it.</remarks>
    public StudyDraft<TInput, TResult> Guest(
        string name, Guest guest, Func<TInput, JsonElement> send, Func<JsonElement, TResult> read)
    {
        ArgumentNullException.ThrowIfNull(guest);
        ArgumentNullException.ThrowIfNull(send);
        ArgumentNullException.ThrowIfNull(read);
        return With(name, read, () => Rows.OfGuest(name, guest, send, read));
    }

    /// <summary>Has numbers agree when they differ by no more than a tolerance.</summary>
    /// <param name="tolerance">
    /// Largest difference allowed, as a share of the larger of 1 and the two magnitudes; above or equal to 0.
    /// </param>
    public StudyDraft<TInput, TResult> Agree(double tolerance) => new(_parts with { Rule = AnswerRule<TResult>.Within(tolerance) });

    /// <summary>Has answers agree by a rule of your own.</summary>
    /// <param name="agrees">Given the baseline's answer and a variant's, whether they agree.</param>
    /// <exception cref="ArgumentNullException"><paramref name="agrees"/> is null.</exception>
    public StudyDraft<TInput, TResult> Agree(Func<TResult, TResult, bool> agrees)
    {
        ArgumentNullException.ThrowIfNull(agrees);
        return new(_parts with { Rule = AnswerRule<TResult>.Own(agrees) });
    }

    /// <summary>Says that variants change their input: every call gets one of its own, made outside the timing.</summary>
    /// <remarks>
    /// All variants of the study are treated alike. Inputs are made in batches small enough for the second-level cache;
    /// an operation shorter than a microsecond is better given inputs that are cheap to make.
    /// </remarks>
    public StudyDraft<TInput, TResult> ChangesInput() => new(_parts with { IsInputChanged = true, Reset = null });

    /// <summary>Says that variants change their input, and how to undo that: inputs are made once and reset before each batch.</summary>
    /// <param name="reset">Puts an input back as it was made; called outside the timing.</param>
    /// <exception cref="ArgumentNullException"><paramref name="reset"/> is null.</exception>
    public StudyDraft<TInput, TResult> ChangesInput(Action<TInput> reset)
    {
        ArgumentNullException.ThrowIfNull(reset);
        return new(_parts with { IsInputChanged = true, Reset = reset });
    }

    /// <summary>Has every variant called from several threads at once, once for each number of threads.</summary>
    /// <param name="counts">Numbers of threads, each from 1 to 1,024, such as 1, 2, 4.</param>
    /// <exception cref="ArgumentNullException"><paramref name="counts"/> is null.</exception>
    public StudyDraft<TInput, TResult> Threads(params int[] counts)
    {
        ArgumentNullException.ThrowIfNull(counts);
        return new(_parts with { ThreadCounts = [.. counts] });
    }

    /// <summary>Declares what one call gets done, from which rates follow.</summary>
    /// <param name="perCall">Given an input, the work; see <see cref="Work"/>.</param>
    /// <exception cref="ArgumentNullException"><paramref name="perCall"/> is null.</exception>
    public StudyDraft<TInput, TResult> PerCall(Func<TInput, Work> perCall)
    {
        ArgumentNullException.ThrowIfNull(perCall);
        return new(_parts with { Work = input => perCall(input).PerCall });
    }

    /// <summary>Declares an allowance for one call that variants must keep; a run in which one is broken ends with exit code 1.</summary>
    /// <param name="nanoseconds">Most wall time, in nanoseconds, above 0; null for any.</param>
    /// <param name="processorNanoseconds">Most processor time, in nanoseconds, above 0; null for any.</param>
    /// <param name="bytes">Most bytes allocated, 0 or more; null for any.</param>
    /// <param name="of">The variant that must keep it; null for all of them, the baseline too.</param>
    /// <param name="on">Label of the input it holds on, such as "256 beacons"; null for all.</param>
    /// <remarks>May be called several times. Kept is a limit when the upper end of the figure's interval lies within it.</remarks>
    public StudyDraft<TInput, TResult> Limit(
        double? nanoseconds = null, double? processorNanoseconds = null, double? bytes = null, string? of = null, string? on = null)
        => new(_parts with
        {
            Limits = [.. _parts.Limits,
                new LimitDescription { Nanoseconds = nanoseconds, ProcessorNanoseconds = processorNanoseconds, AllocatedBytes = bytes,
                    Variant = of, Input = on }],
        });

    /// <summary>Declares how often the operation is called where it is used, from which follows what a difference is worth.</summary>
    /// <param name="times">Calls, above 0.</param>
    /// <param name="per">The time in which one caller makes them.</param>
    /// <param name="by">Processes, machines or users that call as often; 1 by default.</param>
    public StudyDraft<TInput, TResult> Called(double times, TimeSpan per, int by = 1)
        => new(_parts with { Rate = new CallRate { CallsPerSecond = times / per.TotalSeconds, Callers = by } });

    /// <summary>Completes the study.</summary>
    public Study ToStudy() => StudyAssembly.Of(_parts);

    /// <summary>Completes the study.</summary>
    /// <param name="draft">The draft to complete.</param>
    public static implicit operator Study(StudyDraft<TInput, TResult> draft)
    {
        ArgumentNullException.ThrowIfNull(draft);
        return draft.ToStudy();
    }

    internal StudyDraft<TInput, TResult> With(
        string name, Delegate operation, Func<IEnumerable<VariantOperation<TInput, TResult>>> make, IEnumerable<string>? mistakes = null)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(operation);
        return new(_parts with { Rows = [.. _parts.Rows, .. make()], Mistakes = [.. _parts.Mistakes, .. mistakes ?? []] });
    }

    // What enumerated the baseline's answer enumerates this one's.
    private IEnumerable<VariantOperation<TInput, TResult>> Again(string name, Func<TInput, TResult> operation)
        => [_parts.Rows[0].Another(Rows.Named(name, isBaseline: false), operation)
            ?? Rows.Plain(Rows.Named(name, isBaseline: false), operation)];
}
