namespace Tachyscope.Runs;

/// <summary>The size of an input along one axis.</summary>
/// <param name="Axis">What it counts, such as "beacons", or the variable that it is the value of, such as "n".</param>
/// <param name="Value">How many, 0 or more.</param>
sealed partial record InputSize(string Axis, int Value)
{
    /// <summary>Whether an axis reads as a variable does: one word that is no plural.</summary>
    /// <param name="axis">The axis.</param>
    /// <exception cref="ArgumentNullException"><paramref name="axis"/> is null.</exception>
    public static bool IsVariable(string axis)
    {
        ArgumentNullException.ThrowIfNull(axis);
        return axis.Length > 0 && char.IsLower(axis[0]) && axis[^1] != 's'
            && axis.All(letter => char.IsLetterOrDigit(letter) || letter == '_');
    }

    /// <summary>The size in words: "64 beacons", and "n = 64" of a variable.</summary>
    public override string ToString()
        => FormattableString.Invariant(IsVariable(Axis) ? $"{Axis} = {Value:N0}" : (FormattableString)$"{Value:N0} {Axis}");
}
