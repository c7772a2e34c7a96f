using Tachyscope.Measuring;

namespace Tachyscope.Operations;

/// <summary>A call with everything settled but the input.</summary>
/// <param name="ThroughDelegate">The call through a delegate.</param>
/// <param name="OnItem">The same for each item of a row, by its index; null where one call does for all.</param>
/// <param name="Target">What an emitted loop calls instead.</param>
internal sealed record BoundCall<TInput, TMeasured>(
    Func<TInput, TMeasured> ThroughDelegate, CallTarget Target, Func<int, TMeasured>? OnItem = null);
