using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Tells how a type travels.</summary>
internal static class Carriers
{
    public static Carrier Of(Type type)
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

    public static ResultKind ResultOf(Type type) => Of(type) switch
    {
        _ when type == typeof(bool) => ResultKind.YesOrNo,
        Carrier.SmallInteger or Carrier.LargeInteger => ResultKind.WholeNumber,
        Carrier.FloatingPoint => ResultKind.FloatingPoint,
        Carrier.Reference => Dependences.Of(type) == Dependence.Contents ? ResultKind.Opaque : ResultKind.Reference,
        _ => ResultKind.Structure,
    };
}
