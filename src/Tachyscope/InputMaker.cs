using Tachyscope.Runs;

namespace Tachyscope;

internal sealed record InputMaker<TInput>(InputDescription Description, Func<int, TInput> Make);
