namespace Tachyscope.Runs;

public sealed partial record AllocatedType;
public sealed partial record CacheLevel;
public sealed partial record CallRate;
public sealed partial class CamelCaseEnumConverter<T>;
public sealed partial record CalleeCode;
public sealed partial record CellAnswer;
public sealed partial record CellCode;
public sealed partial record CellDescription;
public sealed partial record CellDiagnosis;
public sealed partial record CellFailure;
public sealed partial record CellObservation;
public sealed partial record CodeState;
public sealed partial record CodeVersion;
public sealed partial record CoreHeard;
public sealed partial record DialSetting;
public sealed partial record GuestDescription;
public sealed partial record HardwareCounts;
public sealed partial record InputDescription;
public sealed partial record InputSize;
public sealed partial record LimitDescription;
public sealed partial record LoopShape;
public sealed partial record MachineDescription;
public sealed partial record MachineLimits;
public sealed partial record MachineSurvey;
public sealed partial record MemoryLimit;
public readonly partial record struct Reading;
public static partial class ReadingColumns;
public sealed partial record MethodPlace;
public sealed partial class ReadingConverter;
public sealed partial record Run
{
    /// <summary>Reads a saved run.</summary>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be read.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
    /// <exception cref="InvalidDataException">The file holds no run that this version reads; the message says where and why.</exception>
    public static Run Read(string path) => Storing.RunFile.Read(path);
}

public sealed partial record RunPlan;
public sealed partial record RunShare;
public sealed partial record RunProgress;
public sealed partial record SittingRecord;
public sealed partial record SourcePlace;
public sealed partial record StageCost;
public sealed partial record StageReading;
public sealed partial record StageTime;
public sealed partial record StudyDescription;
public sealed partial record StudyRecord;
public sealed partial record SwitchState;
public sealed partial record TargetDescription;
public sealed partial record TurnGauge;
public sealed partial class TurnGaugeConverter;
public sealed partial record VariantDescription;
public sealed partial record WarmUp;
public sealed partial record WarmUpPoint;
public sealed partial class WarmUpPointConverter;
public sealed partial record WorkPerCall;
public sealed partial record WorkerEnvironment;
public sealed partial record WorkerIncident;
