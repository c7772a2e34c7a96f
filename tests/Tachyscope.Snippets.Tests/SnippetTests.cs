using System.Reflection;

namespace Tachyscope.Snippets.Tests;

public sealed class SnippetTests
{
    private const string Lamps = "var lamps = new[] { 3, 1, 2 };";

    [Theory]
    [InlineData("lamps.Max()", "lamps.Max()", "lamps.Max()")]
    [InlineData("by hand: lamps[0]", "by hand", "lamps[0]")]
    [InlineData("v2.1, new: lamps[0]", "v2.1, new", "lamps[0]")]
    [InlineData("global::System.Math.Abs(n)", "global::System.Math.Abs(n)", "global::System.Math.Abs(n)")]
    [InlineData("n > 0 ? lamps[0] : lamps[1]", "n > 0 ? lamps[0] : lamps[1]", "n > 0 ? lamps[0] : lamps[1]")]
    [InlineData("  lamps\n    .Max()  ", "lamps .Max()", "lamps\n    .Max()")]
    public void A_label_is_words_before_a_colon_and_a_blank(string text, string label, string code)
        => Assert.Equal(new Snippet(label, code), Snippet.Of(text));

    [Fact]
    public void A_long_snippet_is_shortened_to_its_label_and_two_alike_are_kept_apart()
    {
        var snippets = Snippet.Apart([Snippet.Of(new string('n', 80)), Snippet.Of("n + 1"), Snippet.Of("n + 1")]);

        Assert.Equal(48, snippets[0].Label.Length);
        Assert.Equal(["n + 1", "n + 1 (2)"], snippets.Skip(1).Select(snippet => snippet.Label));
    }

    [Fact]
    public void An_expression_a_block_and_a_habitual_semicolon_are_all_variants()
    {
        var study = Made(new SnippetWish
        {
            Variants = Of("lamps.Max()", "var most = 0; foreach (var lamp in lamps) { most = Math.Max(most, lamp); } return most;",
                "{ var most = lamps[0]; return Math.Max(most, lamps[1]); }", "lamps.Max();", "lamps.Max() // the highest",
                "var most = lamps.Max(); return most // the semicolon forgotten", "return lamps.Max()"),
            Given = ["var lamps = new List<int> { 3, 1, 2 } // here too"],
        });

        Assert.Equal(7, study.Description.Variants.Count);
        Assert.True(study.Description.Variants[0].IsBaseline);
        Assert.Equal(["as given"], study.Description.Inputs.Select(input => input.Label));
    }

    [Fact]
    public void Whole_numbers_are_sizes_and_all_else_are_labels()
    {
        var sizes = Made(new SnippetWish { Variants = Of("n * 2", "n + n"), Inputs = ["n = 10, 100"] });
        var both = Made(new SnippetWish { Variants = Of("n * k", "k * n"), Inputs = ["n = 10, 100", "k = 2, 3"] });
        var words = Made(new SnippetWish { Variants = Of("text.Length + n"), Inputs = ["text = \"a\", \"bc\"", "n = 1, 2"] });

        Assert.Equal([10, 100], sizes.Description.Inputs.Select(input => input.Sizes[0].Value));
        Assert.Equal([2, 2, 2, 2], both.Description.Inputs.Select(input => input.Sizes.Count));
        Assert.Equal(
            ["text = \"a\", n = 1", "text = \"a\", n = 2", "text = \"bc\", n = 1", "text = \"bc\", n = 2"],
                words.Description.Inputs.Select(input => input.Label));
    }

    [Theory]
    [InlineData("numbers that widen", "lamps.Length", "lamps.LongLength")]
    [InlineData("a sequence and a list", "lamps.Where(lamp => lamp > 1)", "lamps.ToList()")]
    [InlineData("a list and an array", "lamps.ToList()", "lamps.ToArray()")]
    [InlineData("spans", "lamps.AsSpan(0, 2)", "lamps.AsSpan()[..2]")]
    [InlineData("nothing", "Array.Fill(lamps, 4)", "Array.Fill(lamps, 4, 0, 3)")]
    [InlineData("a task and a value", "await Task.FromResult(lamps[0])", "lamps[0] + 0")]
    [InlineData("a task handed on", "Task.FromResult(lamps[0])", "ValueTask.FromResult(lamps[0])")]
    [InlineData("tuples", "(lamps[0], lamps[1])", "(lamps[0] + 0, lamps[1])")]
    [InlineData("a type of its own", "new Pair(lamps[0], 1)", "new Pair(lamps[1], 1)")]
    [InlineData("a function of its own", "Twice(lamps[0])", "lamps[0] * 2")]
    [InlineData("pointers", "fixed (int* first = lamps) { return *first; }", "lamps[0] + 0")]
    [InlineData("a function within that awaits", "new[] { 1 }.Select(async _ => { await Task.Yield(); return 3; }).Count()", "lamps[1]+0")]
    [InlineData("a decrement", "--lamps[0]", "lamps[0] + 0")]
    [InlineData("several variables", "lamps[0] + other", "other + lamps[0]")]
    [InlineData("a variable named as a keyword", "@class.Length", "lamps.Length")]
    public void Snippets_that_go_together_make_a_study(string what, string one, string other)
    {
        string[] given = [Lamps, "var other = lamps.Length; var @class = \"lamp\";",
            "int Twice(int lamp) => lamp + lamp + other - other; record Pair(int One, int Other);"];
        var study = Made(new SnippetWish { Variants = Of(one, other), Given = given });

        Assert.True(study.Description.Variants.Count == 2, what);
    }

    // It would be as many bytes for every call, and variables that nobody needs.
    [Fact]
    public void What_a_given_function_captures_costs_those_that_call_it_only()
    {
        var made = Make(new SnippetWish
        {
            Variants = Of("lamps.Length - 1", "Twice(1)", "lamps.Select(Once).Sum() - 4"),
            Given = [Lamps, "var other = 0; int Once(int lamp) => lamp; int Twice(int lamp) => Once(lamp) + Once(lamp) + other;",
                "async Task<int> Later() { await Task.Yield(); return lamps[0]; }"],
        });

        Assert.Empty(made.Problems);
        string[] methods = [.. made.Source.Split("private static ").Where(part => part.StartsWith("int V", StringComparison.Ordinal))];
        Assert.Equal([(false, false), (true, true), (true, false)], methods.Select(method
            => (method.Contains("int Once(", StringComparison.Ordinal), method.Contains("int Twice(", StringComparison.Ordinal))));
        Assert.All(methods, method => Assert.DoesNotContain("Later", method, StringComparison.Ordinal));
        Assert.Equal([false, true, false], methods.Select(method => method.Contains("var @other", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("lamps[0] * 0.1", null, false, "exactly")]
    [InlineData("lamps[0] * 0.1", 1e-9, false, "within 1E-09")]
    [InlineData("Guid.NewGuid()", null, true, "by the study's own rule")]
    [InlineData("Array.Fill(lamps, 4)", 1e-9, false, "exactly")]
    [InlineData("Task.Delay(0)", 1e-9, false, "exactly")]
    [InlineData("lamps.AsSpan()", null, true, "by the study's own rule")]
    public void Answers_agree_as_it_was_wished(string code, double? tolerance, bool isAnyTaken, string agreement)
        => Assert.Equal(agreement, Made(new SnippetWish
        {
            Variants = Of(code), Given = [Lamps], Tolerance = tolerance, IsAnyAnswerTaken = isAnyTaken,
        }).Description.Agreement);

    // As files begin.
    [Fact]
    public void Namespaces_may_come_with_a_snippet()
    {
        const string Aliased = "using Text = System.Text.StringBuilder;\nusing System.Diagnostics;\n"
            + "new Text(Stopwatch.Frequency > 0 ? 3 : 4).Length";
        var study = Made(new SnippetWish
        {
            Variants = [Snippet.Of(Aliased),
                Snippet.Of("using System.Diagnostics; using var none = new Activity(\"\"); return lamps[0] - 3;")],
            Given = [Lamps],
        });
        var mistaken = Make(new SnippetWish { Variants = Of("using System.Fog; lamps[0] + 0"), Given = [Lamps] });

        Assert.Equal(["new Text(Stopwatch.Frequency > 0 ? 3 : 4).Length", "using var none = new Activity(\"\"); return lamps…"],
            study.Description.Variants.Select(variant => variant.Name));
        Assert.StartsWith("the snippet: The type or namespace name 'Fog' does not exist", mistaken.Problems[0].Message,
            StringComparison.Ordinal);
        Assert.Equal(("using System.Fog;", 13), (mistaken.Problems[0].Line, mistaken.Problems[0].Column));
    }

    // As they are cut out of a class, or a whole class with its call.
    [Fact]
    public void Methods_and_types_may_come_with_a_snippet()
    {
        var study = Made(new SnippetWish
        {
            Variants = Of("public static int Most(int[] all) => all.Max();\nreturn Most(lamps)",
                "return Highest.Of(lamps);\nstatic class Highest { public static int Of(int[] all) { var own = all[0]; "
                    + "foreach (var lamp in all) { own = Math.Max(own, lamp); } return own; } }",
                "internal static class Last { public static int Of(int[] all) => all[0]; } Last.Of(lamps)"),
            Given = [Lamps, "private static int Unused(int lamp) => lamp;"],
        });

        Assert.Equal(3, study.Description.Variants.Count);
    }

    [Fact]
    public void Two_types_of_one_name_are_told()
    {
        var made = Make(new SnippetWish
        {
            Variants = [new("a", "lamps[0] + Own.Value\nstatic class Own { public static int Value => 1; }"),
                new("b", "lamps[0] + Own.Value\nstatic class Own { public static int Value => 2; }")],
            Given = [Lamps],
        });

        Assert.Equal(
            "snippet 2 (b): Own is declared elsewhere too, and types hold for all snippets; call one of them something else (CS0101)",
            Assert.Single(made.Problems).Message);
    }

    [Theory]
    [InlineData("static int Most(int[] all) => all.Max();", 11,
        "is declared and called by nobody; end the snippet with what is to be timed, such as 'return Most(…);'.")]
    [InlineData("static class Highest { }", 0, "is a type, and nothing is done with it; begin the snippet with what is to be timed.")]
    [InlineData("namespace Harbour;", 10, "a snippet has no namespace of its own; leave that out, or lend a project's types by --project.")]
    public void What_only_declares_is_told_that_it_does_nothing(string code, int column, string message)
    {
        var problem = Make(new SnippetWish { Variants = Of(code, "lamps[0] + 1"), Given = [Lamps] }).Problems[0];

        Assert.Equal(($"snippet 1: {message}", code, column), (problem.Message, problem.Line, problem.Column));
    }

    [Fact]
    public void Types_that_are_given_may_have_variables_of_the_same_names()
    {
        const string Lamp = "class Lamp { public string n = \"\"; "
            + "public int Lit() { var n = 3.5; int Twice() => (int)n * 2; return Twice(); } }";
        var study = Made(new SnippetWish { Variants = Of("new Lamp().Lit() + n", "n + 6"), Given = [Lamp], Inputs = ["n = 4, 8"] });

        Assert.Equal([4, 8], study.Description.Inputs.Select(input => input.Sizes[0].Value));
    }

    [Fact]
    public void A_dial_is_turned_in_the_snippets_that_use_it()
    {
        var study = Made(new SnippetWish { Variants = Of("lamps.Chunk(3).Count()", "lamps.Chunk(block).Count()"), Given = [Lamps],
            Dial = "block = 3, 4" });

        Assert.Equal([0, 1, 1], study.Description.Variants.Select(variant => variant.Settings.Count));
    }

    [Theory]
    [InlineData("lamps.Foo()", 6, 3, "snippet 1: 'int[]' does not contain a definition for 'Foo'")]
    [InlineData("lamps.Max(", 10, 1, "snippet 1: ) expected")]
    [InlineData("def lamp", 0, 3, "snippet 1: Unexpected token 'lamp'")]
    [InlineData("", 0, 0, "snippet 1 is empty; write an expression")]
    [InlineData("lamps.Max", 0, 9, "snippet 1: names the method Max and does not call it; write lamps.Max(…).")]
    [InlineData("() => lamps.Max()", 0, 17, "is a function that nobody calls")]
    [InlineData("x => x + 1", 0, 10, "is a function that nobody calls")]
    [InlineData("lamps", 0, 5, "only reads a value that was made before")]
    [InlineData("(2 + 3) * 4", 0, 11, "is a constant, which the compiler has worked out already")]
    [InlineData("new Task(() => lamps.Max())", 0, 27, "is a task that nobody starts")]
    [InlineData("new { lamps.Length }", 0, 0, "gives an anonymous type, which no other can give; give a tuple.")]
    public void What_cannot_be_measured_is_told_where_it_is(string code, int column, int length, string message)
    {
        var made = Make(new SnippetWish { Variants = Of(code, "lamps[0] + 1"), Given = [Lamps] });

        var problem = made.Problems[0];
        Assert.Contains(message, problem.Message, StringComparison.Ordinal);
        Assert.Equal((length == 0 ? null : code, column), (problem.Line, problem.Column));
        Assert.True(length == 0 || problem.Length == length, $"{problem.Length}");
        Assert.True(made.Assembly.IsEmpty);
    }

    [Theory]
    [InlineData("var x = ;", null, null, "--given: Invalid expression term ';'")]
    [InlineData("ReadOnlySpan<int> view = new[] { 1, 2 };", null, null,
        "--given makes view, a System.ReadOnlySpan<int>, which cannot be kept from call to call")]
    [InlineData("var view = new { Lamp = 1 };", null, null, "--given makes view of an anonymous type")]
    [InlineData("var view = 1;", "n = ", null, "--input \"n = \": name a variable and its values")]
    [InlineData("var view = 1;", "n = 1,,2", null, "--input \"n = 1,,2\": the values are no list of C# expressions")]
    [InlineData("var view = 1;", "n = [1, 2]", null, "--input \"n = [1, 2]\": [1, 2] has no type of its own; list values without brackets")]
    [InlineData("var view = 1;", "n = 1, foo", null, "--input: The name 'foo' does not exist in the current context")]
    [InlineData("var view = 1;", null, "block = 2, 4", "no snippet uses block of --dial")]
    public void What_surrounds_the_snippets_is_checked_too(string given, string? input, string? dial, string message)
    {
        var made = Make(new SnippetWish { Variants = Of("view.ToString()"), Given = [given], Inputs = input is null ? []
            : [input], Dial = dial });

        Assert.Contains(message, string.Join('\n', made.Problems.Select(problem => problem.Message)), StringComparison.Ordinal);
    }

    [Fact]
    public void Answers_that_cannot_be_compared_are_refused()
    {
        var made = Make(new SnippetWish { Variants = Of("lamps.Max()", "Array.Sort(lamps)"), Given = [Lamps] });

        Assert.Contains("snippet 2 gives nothing back and snippet 1 gives int", made.Problems.Single().Message, StringComparison.Ordinal);
        Assert.Equal("snippet 1: is not given back, and snippet 2 gives int; write 'return lamps.Max();'.",
            Make(new SnippetWish { Variants = Of("var n = 1; lamps.Max()", "lamps[0] + 0"), Given = [Lamps] }).Problems.Single().Message);
    }

    [Theory]
    [InlineData("var n = 0; text.Trim(); return n;", "is thrown away, and the compiler may leave out what nobody uses; return it.")]
    [InlineData("Task.Delay(1); return 1;", "is not waited for; put await before it")]
    [InlineData("Array.Sort(lamps); return lamps[0];", "changes lamps, so that only the first call finds it as it was given")]
    [InlineData("list.Add(1); return list.Count;", "changes list, so that only the first call finds it as it was given")]
    [InlineData("count++; return count;", "changes count, of which every call has a copy of its own")]
    public void What_may_mean_something_else_is_told_and_measured(string code, string doubt)
    {
        var made = Make(new SnippetWish { Variants = Of(code),
            Given = [Lamps, "var text = \" lamp \"; var list = new List<int>(); var count = 0;"] });

        Assert.Contains(doubt, made.Doubts.Single().Message, StringComparison.Ordinal);
        Assert.False(made.Assembly.IsEmpty);
    }

    [Fact]
    public void What_is_as_it_should_be_raises_no_doubt()
    {
        var made = Make(new SnippetWish
        {
            Variants = Of("text.Trim().Length", "var own = new List<int>(lamps); own.Sort(); return own.Count;",
                "var n = 0; foreach (var lamp in lamps) { n += lamp; } return n;"),
            Given = [Lamps, "var text = \" lamp \";"],
        });

        Assert.Empty(made.Doubts);
    }

    [Fact]
    public void A_variable_of_the_name_of_ours_is_told_what_ours_is()
        => Assert.Equal("--given: seed is there already, the run's own for new Random(seed); call yours something else (CS0128)",
            Make(new SnippetWish { Variants = Of("seed + 1"), Given = ["var seed = 5;"] }).Problems.Single().Message);

    [Theory]
    [InlineData("lamps = new int[9];", "lamps is declared nowhere; write 'var lamps = …' (CS0103)")]
    [InlineData("var most = 1; n = 10, 100", "n has several values here; each makes an input by --input 'n = …, …'")]
    [InlineData("int n = 10, 100;", "n has several values here; each makes an input by --input 'n = …, …'")]
    [InlineData("var n = 10, most = ;", "Invalid expression term ';' (CS1525)")]
    public void What_is_given_in_a_form_of_something_else_is_told_the_form_it_needs(string given, string told)
        => Assert.StartsWith($"--given: {told}", Make(new SnippetWish { Variants = Of("seed + 1"), Given = [given] }).Problems[0].Message,
            StringComparison.Ordinal);

    [Fact]
    public void The_problem_is_underlined_in_its_own_line()
        => Assert.Equal(
            ["snippet 1: 'int[]' does not contain", "    return lamps.Foo();", "                 ^^^"],
            Make(new SnippetWish { Variants = Of("var n = 1;\nreturn lamps.Foo();"), Given = [Lamps] }).Problems[0].Lines()
                .Select(line => line.Replace("the snippet", "snippet 1",
                    StringComparison.Ordinal)).Select(line => line[..Math.Min(line.Length, 36)].TrimEnd()));

    private static IReadOnlyList<Snippet> Of(params string[] codes) => Snippet.Apart(codes.Select(code => new Snippet(code, code)));

    private static MadeStudy Make(SnippetWish wish) => SnippetCompiler.Make(wish, typeof(Study).Assembly.Location, "lamps");

    // The study as the program itself would hand it over.
    private static Study Made(SnippetWish wish)
    {
        var made = Make(wish);
        Assert.Empty(made.Problems.Select(problem => problem.Message));
        var study = Assembly.Load(made.Assembly.ToArray()).GetType("Snippets")!.GetMethod("Made",
            BindingFlags.NonPublic | BindingFlags.Static)!.Invoke(null, null);
        return Assert.IsType<Study>(study);
    }
}
