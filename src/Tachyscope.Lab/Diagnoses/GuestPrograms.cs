using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>The programs that guests of a study were built to, and where in them their operations are.</summary>
/// <param name="workshop">Builds them.</param>
/// <param name="plan">How long they may take to answer.</param>
public sealed class GuestPrograms(GuestWorkshop workshop, RunPlan plan)
{
    private readonly Patience _patience = new(plan);

    /// <summary>Builds the guest of a row and finds the loop around its operation, into which the compiler may have put it.</summary>
    /// <param name="study">Name of the study.</param>
    /// <param name="row">The row.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>The program and the symbol of the loop in it; or why there is none, with the way out.</returns>
    public async Task<(NativeProgram? Program, string? Symbol, string? Problem)> FindAsync(
        string study, VariantDescription row, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(row);
        var prepared = await workshop.MakeAsync(row.Guest!, cancellation);
        if (prepared.Problem is { } problem)
        {
            return (null, null, problem);
        }

        if (prepared.Program is not { } path)
        {
            return (null, null, row.Guest!.IsOnTarget
                ? $"it is this project on another target; look at it with --target \"{row.Guest.Build}\""
                : $"{row.Guest.Language} makes its code when it runs, or is no program of its own; look at guests in C, C++, Rust or Go");
        }

        var (native, unread) = await NativeProgram.OpenAsync(path, cancellation);
        if (native is null)
        {
            return (null, null, unread);
        }

        var description = new StudyDescription { Name = study, Agreement = "", Inputs = [], Variants = [row] };
        var met = (await GuestMeeting.MeetAsync(workshop, [description], _patience, cancellation))[0];
        return met.Problem is { } silent ? (null, null, silent)
            : native.Names.FirstOrDefault(symbol => IsLoop(symbol, met.Row.Guest!)) is { } symbol ? (native, symbol, null)
            : (null, null, $"the program has no symbol of {met.Row.Guest!.Operation}; build it without stripping it");
    }

    // As the kits name the loops, and compilers write those names.
    private static bool IsLoop(string symbol, GuestDescription guest) => guest.Language switch
    {
        "Rust" => symbol.Contains("10tachyscope7chained", StringComparison.Ordinal)
            && symbol.Contains($"{guest.Operation!.Length}{guest.Operation}", StringComparison.Ordinal),
        "Go" => symbol == $"main.{guest.Operation}",
        _ => symbol.Contains($"{guest.Operation}_chained_", StringComparison.Ordinal),
    };
}
