using System.Globalization;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Tests;

public sealed class QuantityTests
{
    [Theory]
    [InlineData(18.4213, 0.1234, "18.42 ns ± 0.12")]
    [InlineData(1234.5678, 5.2, "1.2346 µs ± 0.0052")]
    [InlineData(1_500_000, 20_000, "1.500 ms ± 0.020")]
    [InlineData(2_500_000_000, 300_000_000, "2.50 s ± 0.30")]
    [InlineData(88, 13, "88 ns ± 13")]
    [InlineData(0.31, 0.02, "0.310 ns ± 0.020")]
    [InlineData(-0.02, 0.05, "-0.020 ns ± 0.050")]
    [InlineData(12, double.PositiveInfinity, "12.000 ns ± ?")]
    [InlineData(double.NaN, 1, "–")]
    public void A_time_has_the_unit_that_fits_and_the_digits_it_is_sure_of(double nanoseconds, double reach, string expected)
        => Assert.Equal(expected, Quantity.Time(nanoseconds, reach));

    [Theory]
    [InlineData(0, "0")]
    [InlineData(412.4, "412 ns")]
    [InlineData(1_034, "1.03 µs")]
    [InlineData(999.9, "1,000 ns")]
    public void A_rough_time_has_three_digits(double nanoseconds, string expected) => Assert.Equal(expected, Quantity.Time(nanoseconds));

    [Theory]
    [InlineData(0, "0 B")]
    [InlineData(32, "32 B")]
    [InlineData(32.5, "32.5 B")]
    [InlineData(10_240, "10,240 B")]
    [InlineData(10_256, "10,256 B")]
    [InlineData(999_999, "999,999 B")]
    [InlineData(1_536.5, "1.50 KiB")]
    [InlineData(3 * 1024 * 1024, "3.00 MiB")]
    [InlineData(double.NaN, "–")]
    public void Bytes_are_exact_while_they_are_few(double bytes, string expected) => Assert.Equal(expected, Quantity.Bytes(bytes));

    [Theory]
    [InlineData(0.5, 0.49, 0.51, "÷ 2.000 ± 0.040")]
    [InlineData(2.1, 2.0, 2.2, "× 2.10 ± 0.10")]
    [InlineData(0.01, 0.0099, 0.0101, "÷ 100.0 ± 1.0")]
    [InlineData(142_566, 116_600, 168_532, "× 143,000 ± 26,000")]
    [InlineData(12_346, 12_222, 12_470, "× 12,350 ± 120")]
    [InlineData(512, 500, 524, "× 512 ± 12")]
    [InlineData(1, 1, 1, "× 1.0000 ± 0.0000")]
    [InlineData(0.5, 0, double.PositiveInfinity, "÷ 2.00 ± ?")]
    [InlineData(double.NaN, 0, 1, "–")]
    public void A_factor_divides_or_multiplies_the_baselines_time(double ratio, double lower, double upper, string expected)
        => Assert.Equal(expected, Quantity.Factor(new Interval(ratio, lower, upper, 0.95)));

    // Half the way down is not half the way up.
    [Theory]
    [InlineData(0.5, 0.4, 0.9, "÷ 2.00 (1.11 to 2.50)")]
    [InlineData(1.5, 1.01, 1.6, "× 1.50 (1.01 to 1.60)")]
    public void A_factor_with_uneven_ends_shows_both(double ratio, double lower, double upper, string expected)
        => Assert.Equal(expected, Quantity.Factor(new Interval(ratio, lower, upper, 0.95)));

    [Theory]
    [InlineData(Bound.AtMost, 0.01, 0, 0.0125, "÷ ≥ 80.0")]
    [InlineData(Bound.AtMost, 2, 0, 2.1, "× ≤ 2.10")]
    [InlineData(Bound.AtLeast, 3, 2.5, double.PositiveInfinity, "× ≥ 2.50")]
    [InlineData(Bound.AtLeast, 0.5, 0.4, double.PositiveInfinity, "÷ ≤ 2.50")]
    [InlineData(Bound.AtLeast, 3, 0, double.PositiveInfinity, "× ≥ 3.00")]
    [InlineData(Bound.Open, double.NaN, 0, double.PositiveInfinity, "–")]
    public void A_bound_never_loses_its_sign(Bound bound, double ratio, double lower, double upper, string expected)
    {
        var interval = new Interval(ratio, lower, upper, 0.95) { Bound = bound };

        Assert.Equal((expected, expected), (Quantity.Factor(interval), Quantity.FactorOnly(interval)));
    }

    [Fact]
    public void A_time_that_is_only_known_to_be_at_most_so_much_says_so()
    {
        var time = new Interval(2.5, 0, 2.5, 0.95) { Bound = Bound.AtMost };

        Assert.Equal("≤ 2.50 ns", Quantity.Time(time));
        Assert.Equal("≥ 400 M", Quantity.Known(time.Dividing(1e9), Quantity.Rate));
        Assert.Equal("≥ 97.5 ns", Quantity.Saved(new Interval(98, 97.5, 100, 0.95) { Bound = Bound.AtLeast }));
    }

    [Theory]
    [InlineData(52.4, 2, "52")]
    [InlineData(52.4, 1, "50")]
    [InlineData(0.0123, 1, "0.01")]
    [InlineData(1_240, 3, "1,240")]
    public void A_count_of_few_has_few_digits(double number, int digits, string expected)
        => Assert.Equal(expected, Quantity.Small(number, digits));

    [Theory]
    [InlineData(0.343, "34.3 %")]
    [InlineData(-1.1, "−110 %")]
    [InlineData(-0.0001, "0.0 %")]
    [InlineData(0.9999, "100 %")]
    [InlineData(double.NaN, "–")]
    public void A_share_is_a_percentage(double share, string expected) => Assert.Equal(expected, Quantity.Percent(share));

    [Theory]
    [InlineData(8.2, "9 s")]
    [InlineData(125, "2 min 5 s")]
    public void A_wait_is_told_in_seconds_and_minutes(double seconds, string expected)
        => Assert.Equal(expected, Quantity.Wait(TimeSpan.FromSeconds(seconds)));

    [Fact]
    public void Figures_read_the_same_in_a_culture_of_decimal_commas()
    {
        var before = CultureInfo.CurrentCulture;
        try
        {
            CultureInfo.CurrentCulture = new CultureInfo("de-DE");
            Assert.Equal("18.42 ns ± 0.12", Quantity.Time(18.4213, 0.1234));
            Assert.Equal("1,234", Quantity.Count(1_234));
        }
        finally
        {
            CultureInfo.CurrentCulture = before;
        }
    }

    [Theory]
    [InlineData(1.524e9, "1.52 G")]
    [InlineData(999, "999 ")]
    [InlineData(double.NaN, "–")]
    public void A_rate_has_three_digits_and_ends_where_its_unit_may_follow(double perSecond, string expected)
        => Assert.Equal(expected, Quantity.Rate(perSecond));

    [Theory]
    [InlineData(0.05, "0.05")]
    [InlineData(12, "12")]
    [InlineData(4_123.4, "4,123")]
    [InlineData(21.74, "21.7")]
    public void A_count_per_call_has_three_digits(double number, string expected) => Assert.Equal(expected, Quantity.Small(number));
}
