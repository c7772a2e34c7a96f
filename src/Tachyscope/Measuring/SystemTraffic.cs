using System.Runtime.CompilerServices;
using Microsoft.Win32.SafeHandles;

namespace Tachyscope.Measuring;

/// <summary>Reads and writes this process asked of the system: files, pipes and terminals.</summary>
/// <remarks>One read into a buffer kept for it: what it calls must not become worth compiling anew.</remarks>
internal static class SystemTraffic
{
    private const string Account = "/proc/self/io";

    private static readonly SafeFileHandle? s_account = Open();
    private static readonly byte[] s_text = new byte[1_024];
    private static long s_looks;

    /// <summary>Calls so far, without those made to find out; null where the system does not tell.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static long? Count()
    {
        if (s_account is null)
        {
            return null;
        }

        var length = RandomAccess.Read(s_account, s_text, 0);
        // The look itself is counted from the next one on.
        return ValueAfter(length, (byte)'r') + ValueAfter(length, (byte)'w') - s_looks++;
    }

    // After "syscr: " or "syscw: ".
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long ValueAfter(int length, byte kind)
    {
        for (var i = 0; i + 6 < length; i++)
        {
            if (s_text[i] != 's' || s_text[i + 1] != 'y' || s_text[i + 4] != kind)
            {
                continue;
            }

            var value = 0L;
            for (var digit = i + 7; digit < length && s_text[digit] is >= (byte)'0' and <= (byte)'9'; digit++)
            {
                value = (value * 10) + s_text[digit] - '0';
            }

            return value;
        }

        return 0;
    }

    private static SafeFileHandle? Open()
    {
        if (!OperatingSystem.IsLinux())
        {
            return null;
        }

        try
        {
            return File.OpenHandle(Account);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}
