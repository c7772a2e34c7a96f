using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Tachyscope.Measuring;

/// <summary>Reads and writes this process asked of the system: files, pipes and terminals.</summary>
/// <remarks>One read into a buffer kept for it: what it calls must not become worth compiling anew.</remarks>
internal static unsafe class SystemTraffic
{
    private const string Account = "/proc/self/io";

    private static readonly SafeFileHandle? Opened = Open();
    private static readonly byte[] Text = new byte[1_024];
    private static long s_looks;

    /// <summary>Calls so far, without those made to find out; null where the system does not tell.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static long? Count()
    {
        if (Opened is null)
        {
            return null;
        }

        int length;
        fixed (byte* text = Text)
        {
            length = (int)pread((int)Opened.DangerousGetHandle(), text, Text.Length, 0);
        }

        // The look itself is counted from the next one on.
        return ValueAfter(length, (byte)'r') + ValueAfter(length, (byte)'w') - s_looks++;
    }

    // After "syscr: " or "syscw: ".
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long ValueAfter(int length, byte kind)
    {
        for (var i = 0; i + 6 < length; i++)
        {
            if (Text[i] != 's' || Text[i + 1] != 'y' || Text[i + 4] != kind)
            {
                continue;
            }

            var value = 0L;
            for (var digit = i + 7; digit < length && Text[digit] is >= (byte)'0' and <= (byte)'9'; digit++)
            {
                value = (value * 10) + Text[digit] - '0';
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

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint pread(int descriptor, byte* buffer, nint length, nint offset);
}
