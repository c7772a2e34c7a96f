using System.Diagnostics.CodeAnalysis;
using System.Reflection;

namespace Tachyscope.Measuring;

/// <summary>
/// What of a value the next call waits for: the one description that all loops go by (docs/method.md, "What a call waits for").
/// </summary>
internal enum Dependence
{
    /// <summary>The number itself.</summary>
    Number,

    /// <summary>The parts of a structure, or the fields of an object: numbers, and of what they refer to its address.</summary>
    Parts,

    /// <summary>What an object begins and ends with, whatever its type: an interface or a base class tells nothing of its fields.</summary>
    Contents,
}

/// <summary>Tells what of a type's values the next call waits for.</summary>
internal static class Dependences
{
    private const BindingFlags OfInstances = BindingFlags.Instance | BindingFlags.Public | BindingFlags.NonPublic;

    // What the compiler keeps in registers of a structure: as many parts, when they are all there is of it.
    private const int MostPartsInRegisters = 4;
    private const int MostBytesInRegisters = 32;

    // Of a larger structure the first ones; all of what is usual.
    private const int MostParts = 32;

    /// <summary>Whether a value is a number, which needs no reading.</summary>
    public static bool IsNumber(Type type) => Carriers.Of(type) is not (Carrier.Memory or Carrier.Reference);

    /// <summary>Whether a value need not cross memory on its way: a number, or a structure of a few fields.</summary>
    /// <param name="type">Its type.</param>
    /// <param name="bytes">Its size.</param>
    public static bool IsInRegisters(Type type, int bytes)
        => IsNumber(type) || (type.IsValueType && bytes <= MostBytesInRegisters && PartsOf(type).Count <= MostPartsInRegisters);

    public static Dependence Of(Type type) => Carriers.Of(type) switch
    {
        Carrier.Memory => Dependence.Parts,
        Carrier.Reference => HasNoKnownFields(type) ? Dependence.Contents : Dependence.Parts,
        _ => Dependence.Number,
    };

    private static bool HasNoKnownFields(Type type)
        => type.IsArray || type == typeof(string) || type.IsInterface || PartsOf(type).Count == 0;

    /// <summary>The ways to the parts of a structure, or of an object: fields one inside the other.</summary>
    [UnconditionalSuppressMessage("Trimming", "IL2070",
        Justification = "Matters only where loops are emitted, and nothing is trimmed there.")]
    [UnconditionalSuppressMessage("Trimming", "IL2075", Justification = "As above.")]
    public static IReadOnlyList<FieldInfo[]> PartsOf(Type type)
    {
        var parts = new List<FieldInfo[]>();
        for (var level = type; level is not null && level != typeof(object) && level != typeof(ValueType); level = level.BaseType)
        {
            foreach (var field in level.GetFields(OfInstances | BindingFlags.DeclaredOnly))
            {
                AddParts([field], parts);
            }
        }

        return parts;
    }

    private static void AddParts(FieldInfo[] way, List<FieldInfo[]> parts)
    {
        var type = way[^1].FieldType;
        if (parts.Count == MostParts)
        {
            return;
        }

        if (!type.IsValueType || IsWhole(type))
        {
            parts.Add(way);
            return;
        }

        foreach (var field in PartsInside(type))
        {
            AddParts([.. way, field], parts);
        }
    }

    [UnconditionalSuppressMessage("Trimming", "IL2070", Justification = "As for the way to it.")]
    private static FieldInfo[] PartsInside(Type type) => type.GetFields(OfInstances);

    private static bool IsWhole(Type type) => type.IsPrimitive || type.IsEnum || type.IsPointer || type.IsFunctionPointer;
}
