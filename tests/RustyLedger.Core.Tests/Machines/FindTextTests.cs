using System.Text.RegularExpressions;
using CsCheck;
using RustyLedger.Core.Machines;

namespace RustyLedger.Core.Tests.Machines;

public sealed class FindTextTests
{
    [Theory]
    [InlineData("LY-04", "1Y04")]
    [InlineData("cd 22 o8I6", "CD220816")]
    [InlineData("B8 S5 O0 l1", "88550011")]
    [InlineData("O7-18?4B", "0718?48")]
    [InlineData("  – ", "")]
    public void Plates_compare_without_case_spaces_dashes_and_lookalikes(string text, string plain) =>
        Assert.Equal(plain, FindText.Plain(text));

    [Theory]
    [InlineData("0718?48", "071894", true)]
    [InlineData("0718?48", "71?948", true)]
    [InlineData("0718?48", "0719", false)]
    [InlineData("A81|CDE", "1?C", false)]
    [InlineData("A8?|CDE", "8?C", false)]
    [InlineData("ABC", "ABCD", false)]
    [InlineData("ABC", "", true)]
    public void An_unknown_sign_answers_to_any_one_sign(string text, string word, bool holds) =>
        Assert.Equal(holds, FindText.Holds(text, word));

    [Fact]
    public void Holds_agrees_with_a_regular_expression()
    {
        Gen.Select(Gen.String[Gen.Char["A8?|"], 0, 8], Gen.String[Gen.Char["A8?"], 0, 4])
            .Sample(
                (text, word) =>
                {
                    // Any text that the unknown signs may stand for, tried one by one.
                    static IEnumerable<string> Meant(string s) =>
                        s.Contains('?', StringComparison.Ordinal)
                            ? from c in "A8Z"
                            from rest in Meant(new Regex(@"\?").Replace(s, $"{c}", 1))
                            select rest
                            : [s];
                    var expected = Meant(text).Any(t => Meant(word).Any(w => t.Contains(w, StringComparison.Ordinal)));
                    Assert.Equal(expected, FindText.Holds(text, word));
                }
            );
    }

    [Fact]
    public void Each_word_is_looked_for_by_itself() => Assert.Equal(["F3RRY", "1Y04"], FindText.Words("  f3rry  ly-04 ?? f3rry "));
}
