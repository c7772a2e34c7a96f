using System.Reflection;
using System.Text.Json;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Operations;

/// <summary>A row that another process calls: here are its inputs written down for it, and what it answers read.</summary>
internal sealed class GuestOperation<TInput, TResult> : VariantOperation<TInput, TResult>
{
    /// <summary>Writes an input down.</summary>
    public required Func<TInput, JsonElement> Send { get; init; }

    /// <summary>Reads an answer.</summary>
    public required Func<JsonElement, TResult> Read { get; init; }

    public override IEnumerable<Assembly> Assemblies => [];

    public override MethodInfo? Method => null;

    public override TResult Answer(TInput input) => throw Elsewhere();

    public override LoopPair Loops(InputRow<TInput> row, LoopShape shape) => throw Elsewhere();

    public override LoopPair IdentityLoops(InputRow<TInput> row, LoopShape shape) => throw Elsewhere();

    public override VariantOperation<TInput, TResult> With(VariantDescription row)
        => new GuestOperation<TInput, TResult> { Description = row, Send = Send, Read = Read };

    private InvalidOperationException Elsewhere()
        => new($"\"{Description.Name}\" is a guest and is called in a process of its own; ask that one.");
}
