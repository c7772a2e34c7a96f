using Microsoft.CodeAnalysis;

namespace Tachyscope.Analyzers;

/// <summary>The rules about studies, each with a page in docs/rules.</summary>
internal static class Rules
{
    private const string Category = "Studies";
    private const string Pages = "docs/rules/";

    public static DiagnosticDescriptor ResultThrownAway { get; } = new(
        "TACHY01",
        "A result is thrown away",
        "'{0}' gives a result that nobody uses, and the compiler may leave it out; return it",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY01.md");

    public static DiagnosticDescriptor ClockOrPrinting { get; } = new(
        "TACHY02",
        "An operation prints or reads a clock",
        "'{0}' is timed with the operation, and may well take longer; leave it out",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY02.md");

    public static DiagnosticDescriptor UnseededRandom { get; } = new(
        "TACHY03",
        "A random source has no seed",
        "'{0}' gives other values in every process, so that sittings differ in what they measure; give it a seed",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY03.md");

    public static DiagnosticDescriptor AsyncWithoutTask { get; } = new(
        "TACHY04",
        "An asynchronous operation is not awaited",
        "This is asynchronous and gives no task, so that its work is not in the time; let it return a task",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY04.md");

    public static DiagnosticDescriptor CapturedChanged { get; } = new(
        "TACHY05",
        "An operation changes what it captured",
        "'{0}' is changed by every call, so that no two do the same; make it inside, or declare .ChangesInput()",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY05.md");

    public static DiagnosticDescriptor SameCode { get; } = new(
        "TACHY06",
        "Two variants are the same code",
        "This is the same code as \"{0}\"; a run has a twin of the baseline already, for what cannot be told apart",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY06.md");

    public static DiagnosticDescriptor TaskNotAwaited { get; } = new(
        "TACHY07",
        "A task is not waited for",
        "'{0}' is not waited for, so that its work is not in the time; put await before it",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY07.md");

    public static DiagnosticDescriptor InputMadeInside { get; } = new(
        "TACHY08",
        "An operation makes its own input",
        "'{0}' is made by every call and timed with it, and the input is not used; make it where the input is made",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY08.md");

    public static DiagnosticDescriptor SequenceAsObject { get; } = new(
        "TACHY09",
        "A sequence is given back before it is evaluated",
        "'{0}' is evaluated by whoever reads it, and as '{1}' nobody does; evaluate it, or give it back as what it is",
        Category,
        DiagnosticSeverity.Warning,
        isEnabledByDefault: true,
        helpLinkUri: $"{Pages}TACHY09.md");
}
