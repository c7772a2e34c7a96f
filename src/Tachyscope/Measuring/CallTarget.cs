using System.Reflection;

namespace Tachyscope.Measuring;

/// <summary>What an emitted loop calls: a delegate's method, what it is given beside the input, what is made of its result.</summary>
/// <param name="Operation">The delegate as the user gave it.</param>
/// <param name="InputPosition">Which of its parameters the input is.</param>
/// <param name="Extras">Values of the other parameters, in order.</param>
/// <param name="Each">What was prepared of each item of a row, in its order, and stands for the last of the values; null where one does
/// for all.</param>
/// <param name="Reduce">Static method that makes a number of the result inside the timing; null to keep the result.</param>
internal sealed record CallTarget(Delegate Operation, int InputPosition, object?[] Extras, MethodInfo? Reduce = null, Array? Each = null);
