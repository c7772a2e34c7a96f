using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Makes guests ready: builds them, or finds what starts them.</summary>
public interface IGuestMaker
{
    /// <summary>Makes one ready.</summary>
    /// <param name="guest">What it is, as its study tells.</param>
    /// <param name="cancellation">Ends it early; nothing half is left behind.</param>
    Task<PreparedGuest> MakeAsync(GuestDescription guest, CancellationToken cancellation);
}
