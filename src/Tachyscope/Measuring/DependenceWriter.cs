using System.Reflection;
using System.Reflection.Emit;

namespace Tachyscope.Measuring;

/// <summary>Writes the instructions that make a number of a value, which cannot be known before the value is.</summary>
/// <param name="il">Where to write.</param>
internal sealed class DependenceWriter(ILGenerator il)
{
    /// <summary>Pushes a number that depends on a value; says whether it is a small or a large integer.</summary>
    /// <param name="type">The value's type.</param>
    /// <param name="loadValue">Pushes the value.</param>
    /// <param name="loadAddress">Pushes its address.</param>
    public Carrier Write(Type type, Action loadValue, Action loadAddress)
    {
        switch (Dependences.Of(type))
        {
            case Dependence.Number:
                loadValue();
                return Number(type);
            case Dependence.Contents:
                loadValue();
                il.Emit(OpCodes.Call, ((Func<object?, long>)ContentBits.Of).Method);
                return Carrier.LargeInteger;
            default:
                WriteParts(type, type.IsValueType ? loadAddress : loadValue);
                return Carrier.LargeInteger;
        }
    }

    /// <summary>Pushes a number that depends on where a value is, or what it begins with: enough for one that is there anyway.</summary>
    public Carrier WriteShort(LocalBuilder local)
    {
        if (Carriers.Of(local.LocalType) == Carrier.Memory)
        {
            il.Emit(OpCodes.Ldloca, local);
            il.Emit(OpCodes.Ldind_U1);
            return Carrier.SmallInteger;
        }

        il.Emit(OpCodes.Ldloc, local);
        return Number(local.LocalType);
    }

    /// <summary>What that takes for a value in memory that is no number: as much, of what was just stored.</summary>
    /// <param name="type">The value's type.</param>
    /// <param name="loadArray">Pushes an array of one item of eight bytes.</param>
    /// <param name="loadAddress">Pushes the address of that item.</param>
    public void WriteAlike(Type type, Action loadArray, Action loadAddress)
    {
        if (Dependences.Of(type) == Dependence.Contents)
        {
            loadArray();
            il.Emit(OpCodes.Call, ((Func<object?, long>)ContentBits.Of).Method);
            return;
        }

        il.Emit(OpCodes.Ldc_I8, 0L);
        for (var part = 0; part < Math.Max(1, Dependences.PartsOf(type).Count); part++)
        {
            loadAddress();
            il.Emit(OpCodes.Volatile);
            il.Emit(OpCodes.Ldind_I8);
            il.Emit(OpCodes.Xor);
        }
    }

    private void WriteParts(Type type, Action loadOwner)
    {
        var isNull = il.DefineLabel();
        var end = il.DefineLabel();
        if (!type.IsValueType)
        {
            loadOwner();
            il.Emit(OpCodes.Brfalse, isNull);
        }

        il.Emit(OpCodes.Ldc_I8, 0L);
        foreach (var way in Dependences.PartsOf(type))
        {
            loadOwner();
            foreach (var field in way[..^1])
            {
                il.Emit(OpCodes.Ldflda, field);
            }

            LoadPart(way[^1]);
            il.Emit(OpCodes.Xor);
        }

        if (!type.IsValueType)
        {
            il.Emit(OpCodes.Br, end);
            il.MarkLabel(isNull);
            il.Emit(OpCodes.Ldc_I8, 0L);
            il.MarkLabel(end);
        }
    }

    // Volatile, so that it is loaded from where it was stored whatever the compiler knows of it.
    private void LoadPart(FieldInfo field)
    {
        il.Emit(OpCodes.Volatile);
        il.Emit(OpCodes.Ldfld, field);
        if (Number(field.FieldType) == Carrier.SmallInteger)
        {
            il.Emit(OpCodes.Conv_I8);
        }
    }

    // Of a number on the stack, or of an address.
    private Carrier Number(Type type)
    {
        switch (Carriers.Of(type))
        {
            case Carrier.SmallInteger:
                return Carrier.SmallInteger;
            case Carrier.LargeInteger:
                return Carrier.LargeInteger;
            case Carrier.FloatingPoint when type == typeof(float):
                il.Emit(OpCodes.Call, ((Func<float, int>)BitConverter.SingleToInt32Bits).Method);
                return Carrier.SmallInteger;
            case Carrier.FloatingPoint:
                il.Emit(OpCodes.Call, ((Func<double, long>)BitConverter.DoubleToInt64Bits).Method);
                return Carrier.LargeInteger;
            default:
                il.Emit(OpCodes.Conv_I);
                il.Emit(OpCodes.Conv_I8);
                return Carrier.LargeInteger;
        }
    }
}
