using System.Diagnostics.CodeAnalysis;
using System.Reflection;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Writes the instructions of one measured loop.</summary>
internal sealed class LoopBody<TInput, TResult>
{
    [DynamicallyAccessedMembers(DynamicallyAccessedMemberTypes.PublicFields | DynamicallyAccessedMemberTypes.PublicMethods)]
    private static readonly Type ChamberType = typeof(Chamber<TInput, TResult>);
    private static readonly Carrier InputCarrier = Carriers.Of(typeof(TInput));
    private static readonly Carrier ResultCarrier = Carriers.Of(typeof(TResult));

    private readonly ILGenerator _il;
    private readonly DependenceWriter _dependence;
    private readonly bool _isCalled;
    private readonly CallOrder _order;
    private readonly InputSupply _supply;
    private readonly LocalBuilder _first;
    private readonly LocalBuilder _input;
    private readonly LocalBuilder _result;
    private readonly LocalBuilder _offset;
    private readonly LocalBuilder _index;

    public LoopBody(ILGenerator il, LoopShape shape)
    {
        _il = il;
        _isCalled = shape.IsCalled;
        _dependence = new DependenceWriter(il);
        _order = shape.Order;
        _supply = shape.Supply;
        _first = il.DeclareLocal(typeof(TInput));
        _input = il.DeclareLocal(typeof(TInput));
        _result = il.DeclareLocal(typeof(TResult));
        _offset = il.DeclareLocal(typeof(nint));
        _index = il.DeclareLocal(typeof(int));
    }

    // An integer input is made anew by adding zero, in a register; any other is loaded from an address that depends
    // on the result.
    private bool IsInputInRegister
        => _order == CallOrder.Chained && _supply == InputSupply.Same && InputCarrier is Carrier.SmallInteger or Carrier.LargeInteger;

    /// <summary>Writes the loop around an operation; around one that returns its input when null.</summary>
    public void Write(CallTarget? call)
    {
        Operands? operands = call is null ? null : LoadOperands(call);
        LoadField(nameof(Chamber<TInput, TResult>.Input));
        _il.Emit(OpCodes.Dup);
        _il.Emit(OpCodes.Stloc, _first);
        _il.Emit(OpCodes.Stloc, _input);
        if (_supply == InputSupply.Each)
        {
            LoadField(nameof(Chamber<TInput, TResult>.Next));
            _il.Emit(OpCodes.Stloc, _index);
        }

        var again = _il.DefineLabel();
        _il.MarkLabel(again);
        LoadInput(operands?.Each is { } each ? (each, operands.Value.Extras[^1]) : null);
        if (call is not null)
        {
            WriteCall(call, operands!.Value);
        }

        if (_order == CallOrder.Chained)
        {
            ChainInto(call is null ? IdentityBits() : LoadBits(_result));
        }
        else
        {
            StoreVolatile(isIdentity: call is null);
        }

        CountDown(again);
        StoreResult();
        if (_supply == InputSupply.Each)
        {
            _il.Emit(OpCodes.Ldarg_0);
            _il.Emit(OpCodes.Ldloc, _index);
            _il.Emit(OpCodes.Call, ChamberType.GetMethod(nameof(Chamber<TInput, TResult>.EndAt))!);
        }

        _il.Emit(OpCodes.Ret);
    }

    /// <summary>Loads into locals, before the loop, whatever a call is given beside the input, and the object it is called on.</summary>
    private Operands LoadOperands(CallTarget call)
    {
        var target = call.Operation.Target is { } instance ? LoadTarget(instance.GetType()) : null;
        var parameters = call.Operation.Method.GetParameters();
        var extras = new LocalBuilder[call.Extras.Length];
        for (var i = 0; i < extras.Length; i++)
        {
            var type = parameters[i < call.InputPosition ? i : i + 1].ParameterType;
            extras[i] = _il.DeclareLocal(type);
            LoadField(nameof(Chamber<TInput, TResult>.Extras));
            _il.Emit(OpCodes.Ldc_I4, i);
            _il.Emit(OpCodes.Ldelem_Ref);
            _il.Emit(OpCodes.Unbox_Any, type);
            _il.Emit(OpCodes.Stloc, extras[i]);
        }

        return new(target, extras, call.Each is null ? null : LoadEach(call.Each.GetType()), _isCalled ? LoadCode() : null);
    }

    private LocalBuilder LoadCode()
    {
        var code = _il.DeclareLocal(typeof(nint));
        LoadField(nameof(Chamber<TInput, TResult>.Code));
        _il.Emit(OpCodes.Stloc, code);
        return code;
    }

    private LocalBuilder LoadEach(Type type)
    {
        var each = _il.DeclareLocal(type);
        LoadField(nameof(Chamber<TInput, TResult>.Each));
        _il.Emit(OpCodes.Castclass, type);
        _il.Emit(OpCodes.Stloc, each);
        return each;
    }

    private LocalBuilder LoadTarget(Type type)
    {
        var target = _il.DeclareLocal(type);
        LoadField(nameof(Chamber<TInput, TResult>.Target));
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

    private void LoadInput((LocalBuilder Each, LocalBuilder Into)? prepared)
    {
        if (_supply == InputSupply.Each)
        {
            if (prepared is { } of)
            {
                LoadItem(() => _il.Emit(OpCodes.Ldloc, of.Each), of.Into);
            }

            LoadNextItem();
        }
        else if (_order == CallOrder.Overlapped)
        {
            _il.Emit(OpCodes.Ldarg_0);
            _il.Emit(OpCodes.Volatile);
            _il.Emit(OpCodes.Ldfld, ChamberType.GetField(nameof(Chamber<TInput, TResult>.Input))!);
            _il.Emit(OpCodes.Stloc, _input);
        }
        else if (!IsInputInRegister)
        {
            LoadInputAtOffset();
        }
    }

    // Items[index + offset]; index = index + 1 == Items.Length ? 0 : index + 1
    private void LoadNextItem()
    {
        LoadItem(() => LoadField(nameof(Chamber<TInput, TResult>.Items)), _input);
        var goesOn = _il.DefineLabel();
        _il.Emit(OpCodes.Ldloc, _index);
        _il.Emit(OpCodes.Ldc_I4_1);
        _il.Emit(OpCodes.Add);
        _il.Emit(OpCodes.Dup);
        _il.Emit(OpCodes.Stloc, _index);
        LoadField(nameof(Chamber<TInput, TResult>.Items));
        _il.Emit(OpCodes.Ldlen);
        _il.Emit(OpCodes.Conv_I4);
        _il.Emit(OpCodes.Bne_Un, goesOn);
        _il.Emit(OpCodes.Ldc_I4_0);
        _il.Emit(OpCodes.Stloc, _index);
        _il.MarkLabel(goesOn);
    }

    // row[index + offset]
    private void LoadItem(Action loadRow, LocalBuilder into)
    {
        loadRow();
        _il.Emit(OpCodes.Ldloc, _index);
        _il.Emit(OpCodes.Ldloc, _offset);
        _il.Emit(OpCodes.Conv_I4);
        _il.Emit(OpCodes.Add);
        _il.Emit(OpCodes.Ldelem, into.LocalType);
        _il.Emit(OpCodes.Stloc, into);
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

    private void WriteCall(CallTarget call, Operands operands)
    {
        if (operands.Target is { } target)
        {
            _il.Emit(OpCodes.Ldloc, target);
        }

        for (var i = 0; i <= operands.Extras.Length; i++)
        {
            var isInput = i == call.InputPosition;
            _il.Emit(OpCodes.Ldloc, isInput ? _input : operands.Extras[i < call.InputPosition ? i : i - 1]);
        }

        if (operands.Code is { } code)
        {
            EmitIndirect(call.Operation.Method, code);
        }
        else
        {
            _il.Emit(OpCodes.Call, call.Operation.Method);
        }

        if (call.Reduce is not null)
        {
            _il.Emit(OpCodes.Call, call.Reduce);
        }
        else if (call.Operation.Method.ReturnType == typeof(void))
        {
            _il.Emit(OpCodes.Ldc_I4_0);
        }

        _il.Emit(OpCodes.Stloc, _result);
    }

    // Through its address, which the compiler does not know.
    private void EmitIndirect(MethodInfo method, LocalBuilder code)
    {
        _il.Emit(OpCodes.Ldloc, code);
        _il.EmitCalli(OpCodes.Calli, method.IsStatic ? CallingConventions.Standard : CallingConventions.HasThis, method.ReturnType,
            [.. method.GetParameters().Select(parameter => parameter.ParameterType)], null);
    }

    // What is done to a result on its way to the next input has to be done here as well: what is in memory crosses it, a small
    // integer is widened.
    private Carrier IdentityBits()
    {
        if (Dependences.IsInRegisters(typeof(TResult), Unsafe.SizeOf<TResult>()))
        {
            var bits = _dependence.WriteShort(_input);
            if (ResultCarrier != Carrier.SmallInteger || bits == Carrier.SmallInteger)
            {
                return bits;
            }

            _il.Emit(OpCodes.Conv_I4);
            return Carrier.SmallInteger;
        }

        LoadSlotAddress();
        if (_dependence.WriteShort(_input) == Carrier.SmallInteger)
        {
            _il.Emit(OpCodes.Conv_I8);
        }

        _il.Emit(OpCodes.Volatile);
        _il.Emit(OpCodes.Stind_I8);
        _dependence.WriteAlike(typeof(TResult), () => LoadField(nameof(Chamber<TInput, TResult>.Slot)), LoadSlotAddress);
        return Carrier.LargeInteger;
    }

    private void LoadSlotAddress()
    {
        LoadField(nameof(Chamber<TInput, TResult>.Slot));
        _il.Emit(OpCodes.Ldc_I4_0);
        _il.Emit(OpCodes.Ldelema, typeof(long));
    }

    /// <summary>Pushes a number that depends on a value; says whether it is a small or a large integer.</summary>
    private Carrier LoadBits(LocalBuilder local)
        => _dependence.Write(local.LocalType, () => _il.Emit(OpCodes.Ldloc, local), () => _il.Emit(OpCodes.Ldloca, local));

    private void ChainInto(Carrier bits)
    {
        var isNarrow = bits == Carrier.SmallInteger && IsInputInRegister && InputCarrier == Carrier.SmallInteger;
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

    // Volatile, so that every call's result has to be there, and none has to wait for another.
    private void StoreVolatile(bool isIdentity)
    {
        _il.Emit(OpCodes.Ldarg_0);
        if (isIdentity && ResultCarrier == Carrier.Reference)
        {
            // Any object: the collector is told of every reference that is stored, and that is a cost of the loop.
            LoadField(nameof(Chamber<TInput, TResult>.Slot));
        }
        else
        {
            _il.Emit(OpCodes.Ldloc, _result);
        }

        _il.Emit(OpCodes.Volatile);
        _il.Emit(OpCodes.Stfld, ChamberType.GetField(nameof(Chamber<TInput, TResult>.Result))!);
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

    private readonly record struct Operands(LocalBuilder? Target, LocalBuilder[] Extras, LocalBuilder? Each, LocalBuilder? Code);
}
