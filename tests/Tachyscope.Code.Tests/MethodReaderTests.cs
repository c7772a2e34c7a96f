using System.Reflection;
using Tachyscope.Code.Assemblies;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

public sealed class MethodReaderTests : IDisposable
{
    private const BindingFlags Any = BindingFlags.Static | BindingFlags.Instance | BindingFlags.NonPublic | BindingFlags.Public;

    private readonly MethodReader _reader = new(typeof(MethodReaderTests).Assembly.Location);

    public void Dispose() => _reader.Dispose();

    [Fact]
    public void A_method_is_named_as_listings_name_it()
        => Assert.Equal(new MethodName("Tachyscope.Code.Tests.MethodReaderTests+Sugar", "Levels", 1), _reader
            .NameOf(Token(nameof(Sugar.Levels))));

    [Theory]
    [InlineData(nameof(Sugar.Levels), "<Levels>d__", "MoveNext")]
    [InlineData(nameof(Sugar.LevelAsync), "<LevelAsync>d__", "MoveNext")]
    [InlineData(nameof(Sugar.Above), "<>c__DisplayClass", "<Above>b__")]
    [InlineData(nameof(Sugar.Doubled), "Sugar", "<Doubled>g__Twice")]
    [InlineData(nameof(Sugar.OfMany), "Box`1", "Open")]
    public void What_a_method_was_turned_into_is_found_from_it(string method, string type, string name)
        => Assert.Contains(_reader.Reached(Token(method), depth: 1).Select(_reader.NameOf),
            reached => reached.Type.Contains(type, StringComparison.Ordinal) && reached.Name.Contains(name, StringComparison.Ordinal));

    [Fact]
    public void Nothing_is_followed_at_depth_nought()
        => Assert.Equal([Token(nameof(Sugar.Doubled))], _reader.Reached(Token(nameof(Sugar.Doubled)), depth: 0));

    [Fact]
    public void Lowered_code_shows_the_enumerator_a_loop_was_made_of()
    {
        var lowered = string.Join('\n', _reader.Lowered(Token(nameof(Sugar.Total))));

        Assert.Contains("GetEnumerator()", lowered, StringComparison.Ordinal);
        Assert.Contains("MoveNext()", lowered, StringComparison.Ordinal);
        Assert.DoesNotContain("foreach", lowered, StringComparison.Ordinal);
    }

    [Fact]
    public void What_may_be_null_is_not_told_as_code()
        => Assert.DoesNotContain("Nullable", string.Join('\n', _reader.Lowered(Token(nameof(Sugar.Named)))), StringComparison.Ordinal);

    [Fact]
    public void Il_is_the_same_wherever_it_lies()
    {
        var il = _reader.Il(Token(nameof(Sugar.Doubled)));

        Assert.Contains(il, line => line.Contains("call", StringComparison.Ordinal) && line.Contains("Twice", StringComparison.Ordinal));
        Assert.DoesNotContain(il, line => line.Contains("RVA", StringComparison.Ordinal));
    }

    private static int Token(string method) => typeof(Sugar).GetMethod(method, Any)!.MetadataToken;

    private static class Sugar
    {
        public static IEnumerable<int> Levels(int count)
        {
            for (var level = 0; level < count; level++)
            {
                yield return level;
            }
        }

        public static async Task<int> LevelAsync(Task<int> level) => await level + 1;

        public static int Above(int[] levels, int least) => levels.Count(level => level > least);

        public static int Doubled(int level)
        {
            return Twice(level);

            static int Twice(int level) => level * 2;
        }

        public static string? Named(string? name, (string?, object) _) => name;

        public static int OfMany(int level) => new Box<int>(level).Open();

        public static int Total(IEnumerable<int> levels)
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += level;
            }

            return sum;
        }
    }

    private sealed class Box<T>(T content)
    {
        public T Open() => content;
    }
}
