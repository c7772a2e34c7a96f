using System.Text.Json;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Wire;

/// <summary>Reads the requests that every sitting makes; members that are not known are passed over.</summary>
internal static class Requests
{
    /// <summary>Words of enumerations, in their order.</summary>
    public static readonly string[] Kinds = ["variant", "twin", "identity", "metronome", "breadth"];
    public static readonly string[] Paths = ["direct", "delegate", "interpreted", "started", "awaited"];
    public static readonly string[] Orders = ["chained", "overlapped"];
    public static readonly string[] Supplies = ["same", "each"];
    public static readonly string[] Results =
    [
        "wholeNumber", "yesOrNo", "floatingPoint", "reference", "opaque", "structure", "span", "enumerated", "none",
    ];

    /// <summary>A request: its number, its method, and its parameters as they were written, none where there are none.</summary>
    /// <exception cref="JsonException">The line is no request.</exception>
    public static (long? Id, string Method) Envelope(ReadOnlySpan<byte> line, out ReadOnlySpan<byte> parameters)
    {
        (long? id, string? method) = (null, null);
        parameters = default;
        var at = new JsonCursor(line);
        at.BeginObject();
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("id"u8))
            {
                id = at.TakeNull() ? null : at.Integer();
            }
            else if (name.SequenceEqual("method"u8))
            {
                method = at.Text();
            }
            else if (name.SequenceEqual("params"u8) && !at.TakeNull())
            {
                parameters = at.Skip();
            }
            else if (!name.SequenceEqual("params"u8))
            {
                at.Skip();
            }
        }

        at.End();
        return (id, method ?? throw Missing("method"));
    }

    public static OpenRequest Open(ReadOnlySpan<byte> parameters)
    {
        (string? study, int? seed, var shuffle, CellDescription[]? cells) = (null, null, 0, null);
        var at = Begun(parameters);
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("study"u8))
            {
                study = at.Text();
            }
            else if (name.SequenceEqual("seed"u8))
            {
                seed = at.Int();
            }
            else if (name.SequenceEqual("shuffle"u8))
            {
                shuffle = at.Int();
            }
            else if (name.SequenceEqual("cells"u8))
            {
                cells = Cells(ref at);
            }
            else
            {
                at.Skip();
            }
        }

        return new OpenRequest
        {
            Study = study ?? throw Missing("study"), Seed = seed ?? throw Missing("seed"), Shuffle = shuffle,
            Cells = cells ?? throw Missing("cells"),
        };
    }

    public static WarmRequest Warm(ReadOnlySpan<byte> parameters)
    {
        int[]? cells = null;
        var request = new WarmRequest { Cells = [] };
        var at = Begun(parameters);
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("cells"u8))
            {
                cells = Ints(ref at);
            }
            else if (name.SequenceEqual("quietMilliseconds"u8))
            {
                request = request with { QuietMilliseconds = at.Int() };
            }
            else if (name.SequenceEqual("capMilliseconds"u8))
            {
                request = request with { CapMilliseconds = at.Int() };
            }
            else if (name.SequenceEqual("leastCalls"u8))
            {
                request = request with { LeastCalls = at.Int() };
            }
            else if (name.SequenceEqual("isCodeHeard"u8))
            {
                request = request with { IsCodeHeard = at.Flag() };
            }
            else if (name.SequenceEqual("readingNanoseconds"u8))
            {
                request = request with { ReadingNanoseconds = at.Int() };
            }
            else
            {
                at.Skip();
            }
        }

        return request with { Cells = cells ?? throw Missing("cells") };
    }

    public static ReadRequest Read(ReadOnlySpan<byte> parameters)
    {
        (RoundOrder[]? rounds, int? metronome) = (null, null);
        var request = new ReadRequest { Rounds = [], Metronome = 0 };
        var at = Begun(parameters);
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("rounds"u8))
            {
                rounds = Rounds(ref at);
            }
            else if (name.SequenceEqual("metronome"u8))
            {
                metronome = at.Int();
            }
            else if (name.SequenceEqual("readingsPerTurn"u8))
            {
                request = request with { ReadingsPerTurn = at.Int() };
            }
            else if (name.SequenceEqual("processors"u8) && !at.TakeNull())
            {
                request = request with { Processors = Ints(ref at) };
            }
            else if (name.SequenceEqual("quietGauge"u8))
            {
                request = request with { QuietGauge = at.Int() };
            }
            else if (name.SequenceEqual("isCollectionHeld"u8))
            {
                request = request with { IsCollectionHeld = at.Flag() };
            }
            else if (!name.SequenceEqual("processors"u8))
            {
                at.Skip();
            }
        }

        return request with { Rounds = rounds ?? throw Missing("rounds"), Metronome = metronome ?? throw Missing("metronome") };
    }

    private static CellDescription[] Cells(ref JsonCursor at)
    {
        List<CellDescription> cells = [];
        for (at.BeginArray(); at.NextItem();)
        {
            cells.Add(Cell(ref at));
        }

        return [.. cells];
    }

    private static CellDescription Cell(ref JsonCursor at)
    {
        (CellKind? kind, LoopShape? loop) = (null, null);
        var cell = new CellDescription { Kind = CellKind.Variant };
        at.BeginObject();
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("kind"u8))
            {
                kind = (CellKind)at.OneOf(Kinds);
            }
            else if (name.SequenceEqual("variant"u8))
            {
                cell = cell with { Variant = at.Int() };
            }
            else if (name.SequenceEqual("input"u8))
            {
                cell = cell with { Input = at.Int() };
            }
            else if (name.SequenceEqual("loop"u8) && !at.TakeNull())
            {
                loop = Loop(ref at);
            }
            else if (name.SequenceEqual("target"u8))
            {
                cell = cell with { Target = at.Int() };
            }
            else if (name.SequenceEqual("guest"u8))
            {
                cell = cell with { Guest = at.TakeNull() ? null : at.Int() };
            }
            else if (name.SequenceEqual("copy"u8))
            {
                cell = cell with { Copy = at.Int() };
            }
            else if (name.SequenceEqual("worker"u8))
            {
                cell = cell with { Worker = at.Int() };
            }
            else if (!name.SequenceEqual("loop"u8))
            {
                at.Skip();
            }
        }

        return cell with
        {
            Kind = kind ?? throw Missing("kind"),
            Loop = loop ?? throw new JsonException("A cell names no loop; send one for every cell, the metronome's included."),
        };
    }

    private static LoopShape Loop(ref JsonCursor at)
    {
        var loop = new LoopShape();
        at.BeginObject();
        while (at.NextMember(out var name))
        {
            if (name.SequenceEqual("path"u8))
            {
                loop = loop with { Path = (CallPath)at.OneOf(Paths) };
            }
            else if (name.SequenceEqual("order"u8))
            {
                loop = loop with { Order = (CallOrder)at.OneOf(Orders) };
            }
            else if (name.SequenceEqual("supply"u8))
            {
                loop = loop with { Supply = (InputSupply)at.OneOf(Supplies) };
            }
            else if (name.SequenceEqual("result"u8))
            {
                loop = loop with { Result = (ResultKind)at.OneOf(Results) };
            }
            else if (name.SequenceEqual("threads"u8))
            {
                loop = loop with { Threads = at.TakeNull() ? null : at.Int() };
            }
            else if (name.SequenceEqual("isCalled"u8))
            {
                loop = loop with { IsCalled = at.Flag() };
            }
            else if (name.SequenceEqual("emptiedBytes"u8))
            {
                loop = loop with { EmptiedBytes = at.TakeNull() ? null : at.Integer() };
            }
            else
            {
                at.Skip();
            }
        }

        return loop;
    }

    private static RoundOrder[] Rounds(ref JsonCursor at)
    {
        List<RoundOrder> rounds = [];
        for (at.BeginArray(); at.NextItem();)
        {
            (int? number, int? processor, var firstPlace, int[]? cells) = (null, null, 0, null);
            at.BeginObject();
            while (at.NextMember(out var name))
            {
                if (name.SequenceEqual("round"u8))
                {
                    number = at.Int();
                }
                else if (name.SequenceEqual("processor"u8))
                {
                    processor = at.TakeNull() ? null : at.Int();
                }
                else if (name.SequenceEqual("firstPlace"u8))
                {
                    firstPlace = at.Int();
                }
                else if (name.SequenceEqual("cells"u8))
                {
                    cells = Ints(ref at);
                }
                else
                {
                    at.Skip();
                }
            }

            rounds.Add(new RoundOrder
            {
                Round = number ?? throw Missing("round"), Processor = processor, FirstPlace = firstPlace,
                Cells = cells ?? throw Missing("cells"),
            });
        }

        return [.. rounds];
    }

    private static int[] Ints(ref JsonCursor at)
    {
        var (numbers, count) = (new int[8], 0);
        for (at.BeginArray(); at.NextItem(); count++)
        {
            if (count == numbers.Length)
            {
                Array.Resize(ref numbers, 2 * count);
            }

            numbers[count] = at.Int();
        }

        return numbers[..count];
    }

    private static JsonCursor Begun(ReadOnlySpan<byte> parameters)
    {
        if (parameters.IsEmpty)
        {
            throw new JsonException("It has no parameters.");
        }

        var at = new JsonCursor(parameters);
        at.BeginObject();
        return at;
    }

    private static JsonException Missing(string name) => new($"It has no \"{name}\".");
}
