namespace Tachyscope.Measuring;

public static partial class Clock;
public static partial class CoreWatch;
public static partial class Metronome;
