using System.Diagnostics.CodeAnalysis;
using System.Reflection.Emit;

namespace Tachyscope.Measuring;

/// <summary>Writes the instructions of one measured loop.</summary>
internal sealed class LoopBody<TInput, TResult>
{
    [DynamicallyAccessedMembers(DynamicallyAccessedMemberTypes.PublicFields)]
    private static readonly Type ChamberType = typeof(Chamber<TInput, TResult>);
    private static readonly Carrier InputCarrier = CarrierOf(typeof(TInput));
    private static readonly Carrier ResultCarrier = CarrierOf(typeof(TResult));

    // An integer input is made anew by adding zero, in a register; any other is loaded from an address that depends
    // on the result.
    private static readonly bool IsInputInRegister = InputCarrier is Carrier.SmallInteger or Carrier.LargeInteger;

    private readonly ILGenerator _il;
    private readonly LocalBuilder _first;
    private readonly LocalBuilder _input;
    private readonly LocalBuilder _result;
    private readonly LocalBuilder _offset;

    public LoopBody(ILGenerator il)
    {
        _il = il;
        _first = il.DeclareLocal(typeof(TInput));
        _input = il.DeclareLocal(typeof(TInput));
        _result = il.DeclareLocal(typeof(TResult));
        _offset = il.DeclareLocal(typeof(nint));
    }

    /// <summary>Writes the loop around an operation; around one that returns its input when null.</summary>
    public void Write(Func<TInput, TResult>? operation)
    {
        var target = operation?.Target is { } instance ? LoadTarget(instance.GetType()) : null;
        LoadField(nameof(Chamber<TInput, TResult>.Input));
        _il.Emit(OpCodes.Dup);
        _il.Emit(OpCodes.Stloc, _first);
        _il.Emit(OpCodes.Stloc, _input);
        var again = _il.DefineLabel();
        _il.MarkLabel(again);
        if (!IsInputInRegister)
        {
            LoadInputAtOffset();
        }

        var bits = operation is null ? WriteIdentity() : WriteCall(operation, target);
        ChainInto(bits);
        CountDown(again);
        StoreResult();
        _il.Emit(OpCodes.Ret);
    }

    private static Carrier CarrierOf(Type type)
    {
        var actual = type.IsEnum ? Enum.GetUnderlyingType(type) : type;
        if (!actual.IsValueType)
        {
            return Carrier.Reference;
        }

        return Type.GetTypeCode(actual) switch
        {
            TypeCode.Boolean or TypeCode.Char or TypeCode.SByte or TypeCode.Byte or TypeCode.Int16 or TypeCode.UInt16
                or TypeCode.Int32 or TypeCode.UInt32 => Carrier.SmallInteger,
            TypeCode.Int64 or TypeCode.UInt64 => Carrier.LargeInteger,
            TypeCode.Single or TypeCode.Double => Carrier.FloatingPoint,
            _ => Carrier.Memory,
        };
    }

    private LocalBuilder LoadTarget(Type type)
    {
        var target = _il.DeclareLocal(type);
        LoadField(nameof(Chamber<TInput, TResult>.Operation));
        _il.Emit(OpCodes.Call, typeof(Delegate).GetProperty(nameof(Delegate.Target))!.GetMethod!);
        _il.Emit(OpCodes.Castclass, type);
        _il.Emit(OpCodes.Stloc, target);
        return target;
    }

    private void LoadField(string name)
    {
        _il.Emit(OpCodes.Ldarg_0);
        _il.Emit(OpCodes.Ldfld, ChamberType.GetField(name)!);
    }

    private void LoadInputAtOffset()
    {
        _il.Emit(OpCodes.Ldarg_0);
        _il.Emit(OpCodes.Ldflda, ChamberType.GetField(nameof(Chamber<TInput, TResult>.Input))!);
        _il.Emit(OpCodes.Ldloc, _offset);
        _il.Emit(OpCodes.Add);
        _il.Emit(OpCodes.Ldobj, typeof(TInput));
        _il.Emit(OpCodes.Stloc, _input);
    }

    private Carrier WriteCall(Func<TInput, TResult> operation, LocalBuilder? target)
    {
        if (target is not null)
        {
            _il.Emit(OpCodes.Ldloc, target);
        }

        _il.Emit(OpCodes.Ldloc, _input);
        _il.Emit(OpCodes.Call, operation.Method);
        _il.Emit(OpCodes.Stloc, _result);
        return LoadBits(ResultCarrier, _result);
    }

    // A structure's result crosses memory, so its identity has to cross it too.
    private Carrier WriteIdentity()
    {
        if (ResultCarrier != Carrier.Memory)
        {
            return LoadBits(InputCarrier, _input);
        }

        _il.Emit(OpCodes.Ldloca, _result);
        LoadBits(InputCarrier, _input);
        _il.Emit(OpCodes.Conv_U1);
        _il.Emit(OpCodes.Stind_I1);
        return LoadBits(ResultCarrier, _result);
    }

    /// <summary>Pushes a number that depends on a value; says whether it is a small or a large integer.</summary>
    private Carrier LoadBits(Carrier carrier, LocalBuilder local)
    {
        if (carrier == Carrier.Memory)
        {
            _il.Emit(OpCodes.Ldloca, local);
            _il.Emit(OpCodes.Ldind_U1);
            return Carrier.SmallInteger;
        }

        _il.Emit(OpCodes.Ldloc, local);
        switch (carrier)
        {
            case Carrier.FloatingPoint when local.LocalType == typeof(float):
                _il.Emit(OpCodes.Call, ((Func<float, int>)BitConverter.SingleToInt32Bits).Method);
                return Carrier.SmallInteger;
            case Carrier.FloatingPoint:
                _il.Emit(OpCodes.Call, ((Func<double, long>)BitConverter.DoubleToInt64Bits).Method);
                return Carrier.LargeInteger;
            case Carrier.Reference:
                _il.Emit(OpCodes.Conv_I);
                _il.Emit(OpCodes.Conv_I8);
                return Carrier.LargeInteger;
            default:
                return carrier;
        }
    }

    private void ChainInto(Carrier bits)
    {
        var isNarrow = bits == Carrier.SmallInteger && InputCarrier == Carrier.SmallInteger;
        if (bits == Carrier.SmallInteger && !isNarrow)
        {
            _il.Emit(OpCodes.Conv_I8);
        }

        _il.Emit(OpCodes.Ldarg_0);
        _il.Emit(OpCodes.Volatile);
        _il.Emit(OpCodes.Ldfld, ChamberType.GetField(nameof(Chamber<TInput, TResult>.OpaqueZero))!);
        if (isNarrow)
        {
            _il.Emit(OpCodes.Conv_I4);
        }

        _il.Emit(OpCodes.And);
        if (!IsInputInRegister)
        {
            _il.Emit(OpCodes.Conv_I);
            _il.Emit(OpCodes.Stloc, _offset);
            return;
        }

        if (InputCarrier == Carrier.SmallInteger && !isNarrow)
        {
            _il.Emit(OpCodes.Conv_I4);
        }

        _il.Emit(OpCodes.Ldloc, _first);
        _il.Emit(OpCodes.Add);
        _il.Emit(OpCodes.Stloc, _input);
    }

    private void CountDown(Label again)
    {
        _il.Emit(OpCodes.Ldarg_1);
        _il.Emit(OpCodes.Ldc_I4_1);
        _il.Emit(OpCodes.Conv_I8);
        _il.Emit(OpCodes.Sub);
        _il.Emit(OpCodes.Starg_S, (byte)1);
        _il.Emit(OpCodes.Ldarg_1);
        _il.Emit(OpCodes.Ldc_I4_0);
        _il.Emit(OpCodes.Conv_I8);
        _il.Emit(OpCodes.Bgt, again);
    }

    // The last input as well: in the loop around the identity it is all that comes out, and what comes to nothing is
    // compiled to nothing.
    private void StoreResult()
    {
        _il.Emit(OpCodes.Ldarg_0);
        _il.Emit(OpCodes.Ldloc, _input);
        _il.Emit(OpCodes.Stfld, ChamberType.GetField(nameof(Chamber<TInput, TResult>.Input))!);
        _il.Emit(OpCodes.Ldarg_0);
        _il.Emit(OpCodes.Ldloc, _result);
        _il.Emit(OpCodes.Stfld, ChamberType.GetField(nameof(Chamber<TInput, TResult>.Result))!);
    }
}
