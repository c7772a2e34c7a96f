using System.Text.Json;
using System.Text.Json.Serialization;
using Tachyscope.Analysis.Gates;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Cli.Gates;

/// <summary>Reads what a gate asks for from the tachyscope.json beside a project.</summary>
internal static class GateFile
{
    private const string Example =
        """{ "gate": { "margin": "2%", "unclear": "pass", "rules": [{ "cells": "nearest*", "margin": "5%" }] } }""";

    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase, ReadCommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true,
    };

    /// <summary>The rules, those for all cells first, and all the time they allow, in seconds.</summary>
    /// <exception cref="InvalidDataException">The file does not say what it should; the message says where, and what it should
    /// be.</exception>
    public static (IReadOnlyList<GateRule> Rules, double? WithinSeconds) Read(string project)
    {
        var folder = Directory.Exists(project) ? project : Path.GetDirectoryName(Path.GetFullPath(project)) ?? ".";
        var path = Path.Combine(folder, TargetFile.Name);
        if (!File.Exists(path))
        {
            return ([new GateRule()], null);
        }

        try
        {
            var said = JsonSerializer.Deserialize<Content>(File.ReadAllText(path), Options)?.Gate ?? new All();
            var first = Rule(path, said, new GateRule());
            return ([first, .. (said.Rules ?? []).Select(rule => Rule(path, rule, first))], said.Within is { } within
                ? Seconds(path, within) : null);
        }
        catch (JsonException exception)
        {
            throw new InvalidDataException(FormattableString.Invariant(
                $"{path}, line {(exception.LineNumber ?? 0) + 1}, {exception.Path}: it is no rule of a gate; write {Example}."), exception);
        }
    }

    private static GateRule Rule(string path, Said said, GateRule otherwise) => new()
    {
        Cells = said.Cells ?? "*",
        MarginShare = said.Margin is { } margin ? Share(path, margin) : otherwise.MarginShare,
        IsMoreAllocationAllowed = Word(path, "bytes", said.Bytes, "no more", "any") ?? otherwise.IsMoreAllocationAllowed,
        IsUnclearFailure = Word(path, "unclear", said.Unclear, "pass", "fail") ?? otherwise.IsUnclearFailure,
    };

    private static bool? Word(string path, string name, string? said, string no, string yes)
        => said is null ? null : said == yes ? true : said == no ? false
            : throw new InvalidDataException($"{path}, gate, {name}: \"{said}\" is neither \"{no}\" nor \"{yes}\"; write one of them.");

    private static double Share(string path, string said)
        => PercentValue.Of(said) ?? throw new InvalidDataException($"{path}, gate, margin: {PercentValue.Problem(said)}");

    private static double Seconds(string path, string said)
        => TimeValue.Of(said)?.TotalSeconds ?? throw new InvalidDataException($"{path}, gate, within: {TimeValue.Problem(said)}");

    [JsonUnmappedMemberHandling(JsonUnmappedMemberHandling.Disallow)]
    private record Said
    {
        public string? Cells { get; init; }

        public string? Margin { get; init; }

        public string? Bytes { get; init; }

        public string? Unclear { get; init; }
    }

    [JsonUnmappedMemberHandling(JsonUnmappedMemberHandling.Disallow)]
    private sealed record All : Said
    {
        public string? Within { get; init; }

        public IReadOnlyList<Said>? Rules { get; init; }
    }

    private sealed record Content(All? Gate);
}
