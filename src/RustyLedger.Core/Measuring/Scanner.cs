using System.Globalization;

namespace RustyLedger.Core.Measuring;

/// <summary>
/// Walks over a text of limits or readings: numbers with letter codes (IEC 60062), units, signs in all the
/// code points that keyboards, spreadsheets and old code pages leave behind.
/// </summary>
/// <param name="mode">Settles what a unit's sign means: F and K are degrees only of a temperature, min is a minute only of a time.</param>
internal sealed class Scanner(string text, MeterMode? mode = null)
{
    private const int MostDigits = 18;

    private static readonly (string Word, Unit Unit, Current Current, decimal Scale)[] UnitWords =
    [
        ("volts", Unit.Volts, Current.Unstated, 1),
        ("volt", Unit.Volts, Current.Unstated, 1),
        ("vdc", Unit.Volts, Current.Direct, 1),
        ("vac", Unit.Volts, Current.Alternating, 1),
        ("mvdc", Unit.Volts, Current.Direct, 0.001m),
        ("mvac", Unit.Volts, Current.Alternating, 0.001m),
        ("mv", Unit.Volts, Current.Unstated, 0.001m),
        ("kv", Unit.Volts, Current.Unstated, 1000),
        ("µv", Unit.Volts, Current.Unstated, 0.000001m),
        ("uv", Unit.Volts, Current.Unstated, 0.000001m),
        ("v", Unit.Volts, Current.Unstated, 1),
        ("amps", Unit.Amps, Current.Unstated, 1),
        ("amp", Unit.Amps, Current.Unstated, 1),
        ("adc", Unit.Amps, Current.Direct, 1),
        ("aac", Unit.Amps, Current.Alternating, 1),
        ("ma", Unit.Amps, Current.Unstated, 0.001m),
        ("µa", Unit.Amps, Current.Unstated, 0.000001m),
        ("ua", Unit.Amps, Current.Unstated, 0.000001m),
        ("a", Unit.Amps, Current.Unstated, 1),
        ("ohms", Unit.Ohms, Current.Unstated, 1),
        ("ohm", Unit.Ohms, Current.Unstated, 1),
        ("kohms", Unit.Ohms, Current.Unstated, 1000),
        ("kohm", Unit.Ohms, Current.Unstated, 1000),
        ("mohm", Unit.Ohms, Current.Unstated, 0.001m),
        ("meg", Unit.Ohms, Current.Unstated, 1_000_000),
        ("megohm", Unit.Ohms, Current.Unstated, 1_000_000),
        ("megohms", Unit.Ohms, Current.Unstated, 1_000_000),
        ("gohm", Unit.Ohms, Current.Unstated, 1_000_000_000),
        ("gω", Unit.Ohms, Current.Unstated, 1_000_000_000),
        ("kω", Unit.Ohms, Current.Unstated, 1000),
        ("mω", Unit.Ohms, Current.Unstated, 0.001m),
        ("ω", Unit.Ohms, Current.Unstated, 1),
        ("khz", Unit.Hertz, Current.Unstated, 1000),
        ("mhz", Unit.Hertz, Current.Unstated, 0.001m),
        ("hz", Unit.Hertz, Current.Unstated, 1),
        ("seconds", Unit.Seconds, Current.Unstated, 1),
        ("second", Unit.Seconds, Current.Unstated, 1),
        ("sec", Unit.Seconds, Current.Unstated, 1),
        ("ms", Unit.Seconds, Current.Unstated, 0.001m),
        ("µs", Unit.Seconds, Current.Unstated, 0.000001m),
        ("us", Unit.Seconds, Current.Unstated, 0.000001m),
        ("s", Unit.Seconds, Current.Unstated, 1),
        ("°c", Unit.Celsius, Current.Unstated, 1),
        ("degc", Unit.Celsius, Current.Unstated, 1),
        ("c", Unit.Celsius, Current.Unstated, 1),
        ("k", Unit.Ohms, Current.Unstated, 1000),
        ("m", Unit.Ohms, Current.Unstated, 1_000_000),
        ("r", Unit.Ohms, Current.Unstated, 1),
    ];

    // Units whose case tells what they are. One psi is 6894.757 Pa (NIST SP 811; from memory).
    private static readonly Dictionary<string, (Unit Unit, decimal Scale)> CasedUnits = new(StringComparer.Ordinal)
    {
        ["F"] = (Unit.Microfarads, 1_000_000),
        ["mF"] = (Unit.Microfarads, 1000),
        ["µF"] = (Unit.Microfarads, 1),
        ["uF"] = (Unit.Microfarads, 1),
        ["MFD"] = (Unit.Microfarads, 1),
        ["mfd"] = (Unit.Microfarads, 1),
        ["nF"] = (Unit.Microfarads, 0.001m),
        ["pF"] = (Unit.Microfarads, 0.000001m),
        ["bar"] = (Unit.Bar, 1),
        ["mbar"] = (Unit.Bar, 0.001m),
        ["kPa"] = (Unit.Bar, 0.01m),
        ["Pa"] = (Unit.Bar, 0.00001m),
        ["psi"] = (Unit.Bar, 0.06894757m),
        ["rpm"] = (Unit.Rpm, 1),
        ["RPM"] = (Unit.Rpm, 1),
    };

    // Units of checks that the ledger does not take yet, and what they are units of. Case tells henry from hour.
    private static readonly Dictionary<string, string> LaterUnits = new(StringComparer.Ordinal)
    {
        ["H"] = "inductance",
        ["mH"] = "inductance",
        ["µH"] = "inductance",
        ["uH"] = "inductance",
        ["W"] = "power",
        ["kW"] = "power",
        ["mW"] = "power",
        ["w"] = "power",
        ["watt"] = "power",
        ["watts"] = "power",
        ["VA"] = "apparent power",
        ["kVA"] = "apparent power",
        ["va"] = "apparent power",
        ["Wh"] = "energy",
        ["kWh"] = "energy",
        ["Ah"] = "charge",
        ["mAh"] = "charge",
        ["ah"] = "charge",
        ["Nm"] = "torque",
        ["dB"] = "level",
    };

    // More than any meter shows; products of two such numbers stay exact.
    private const decimal MostValue = 1_000_000_000_000_000m;

    private readonly string _clean = Clean(text);

    public int At { get; private set; }

    public bool AtEnd => At >= _clean.Length;

    private char Here => AtEnd ? '\0' : _clean[At];

    /// <summary>
    /// Brings signs of one meaning to one code point without changing the length, so places still point into
    /// the text as typed: both ohms, both micros, minus signs, no-break spaces. ñ is where the old DOS code
    /// pages kept ±; U+FFFD is a ± that a reader gave up on. Only a sign that stands alone is taken so.
    /// </summary>
    public static string Clean(string text) =>
        string.Create(
            text.Length,
            text,
            static (into, from) =>
            {
                for (var i = 0; i < from.Length; i++)
                {
                    into[i] = from[i] switch
                    {
                        '\u2126' or '\u03a9' => '\u03c9',
                        '\u03bc' => '\u00b5',
                        '\u2212' or '\u2013' or '\u2014' or '\u2010' or '\u2011' => '-',
                        '\u00f1' or '\ufffd' => '±',
                        '\u00a0' or '\u2009' or '\u202f' or '\t' or '\r' or '\n' => ' ',
                        // ± read as Latin-1 from UTF-8 leaves a lone Â before it.
                        '\u00c2' when i + 1 < from.Length && from[i + 1] is '±' or '\u00b5' => ' ',
                        var c => c,
                    };
                }
            }
        );

    public NotationException Problem(string problem, string example, int? at = null) =>
        new(text, Math.Min(at ?? At, Math.Max(text.Length - 1, 0)), problem, example);

    public void Spaces()
    {
        while (Here == ' ')
        {
            At++;
        }
    }

    public bool Take(string word)
    {
        if (!Starts(word))
        {
            return false;
        }

        At += word.Length;
        return true;
    }

    /// <summary>Takes a word only where it stands by itself, in either case.</summary>
    public bool TakeWord(string word)
    {
        if (!Starts(word) || (At + word.Length < _clean.Length && char.IsLetterOrDigit(_clean[At + word.Length])))
        {
            return false;
        }

        At += word.Length;
        return true;
    }

    public bool StartsNumber()
    {
        var i = At;
        if (i < _clean.Length && _clean[i] is '-' or '+')
        {
            i++;
        }

        // R47 is 0.47 Ω (IEC 60062).
        return (i < _clean.Length && char.IsAsciiDigit(_clean[i]))
            || (i + 1 < _clean.Length && _clean[i] is '.' or ',' or 'R' && char.IsAsciiDigit(_clean[i + 1]));
    }

    /// <summary>The rest of the text from here, trimmed, as typed; the scanner ends.</summary>
    public string Rest()
    {
        var rest = text[At..].Trim();
        At = text.Length;
        return rest;
    }

    /// <summary>
    /// A number in the unit without a prefix, with its unit where one is written. Understands <c>2,5</c>,
    /// <c>1k2</c>, <c>4M7</c>, <c>0R5</c>, <c>0.31 k</c>. Decimal arithmetic keeps edges exact.
    /// </summary>
    public Quantity Number(bool signed = true)
    {
        var start = At;
        var negative = false;
        if (signed && Here is '-' or '+')
        {
            negative = Here == '-';
            At++;
        }

        var whole = Digits();
        var letterScale = 0m;
        var fraction = "";
        if (Here is '.' && !Starts(".."))
        {
            At++;
            fraction = Digits();
        }
        else if (Here is ',' && At + 1 < _clean.Length && char.IsAsciiDigit(_clean[At + 1]))
        {
            var comma = At;
            At++;
            fraction = Digits();
            if (fraction.Length == 3)
            {
                throw Problem("a comma before three digits may be a thousand or a fraction", "1200 or 1.2", comma);
            }
        }
        else if (Here is 'V' or 'v' && whole.Length > 0 && At + 1 < _clean.Length && char.IsAsciiDigit(_clean[At + 1]))
        {
            // 3V3, as it is printed beside a rail.
            At++;
            fraction = Digits();
            Refuse(whole, fraction, start);
            return new Quantity(Signed(whole, fraction, negative), Unit.Volts, Current.Unstated, true, 1);
        }
        else if (
            (whole.Length > 0 || Here is 'R')
            && Here is 'k' or 'K' or 'M' or 'R' or 'r'
            && At + 1 < _clean.Length
            && char.IsAsciiDigit(_clean[At + 1])
        )
        {
            // IEC 60062: the letter stands where the decimal point would.
            letterScale = Here switch
            {
                'k' or 'K' => 1000,
                'M' => 1_000_000,
                _ => 1,
            };
            At++;
            fraction = Digits();
        }

        if (whole.Length + fraction.Length == 0)
        {
            throw Problem("a number was expected", "24 V", start);
        }

        Refuse(whole, fraction, start);
        var value = Signed(whole, fraction, negative);
        var beforeUnit = At;
        Spaces();
        var unitAt = At;
        if (letterScale != 0)
        {
            var named = TakeUnit(value);
            if (named is { Prefixed: true })
            {
                throw Problem("two multipliers in one number", "1k2", unitAt);
            }

            At = named is null ? beforeUnit : At;
            return Held(new Quantity(value * letterScale, named?.Unit, named?.Current ?? Current.Unstated, true, 1), start);
        }

        var unit = TakeUnit(value);
        if (unit is null)
        {
            At = beforeUnit;
            return Held(new Quantity(value, null, Current.Unstated, false, 1), start);
        }

        if (unit is { Unit: null, Scale: not 1 })
        {
            // 4.7 k ohm: the word stands apart from its multiplier.
            var back = At;
            Spaces();
            At = TakeWord("ohms") || TakeWord("ohm") || TakeWord("ω") ? At : back;
            unit = At == back ? unit : unit with { Unit = Unit.Ohms };
        }

        return Held(unit, start);
    }

    private Quantity Held(Quantity quantity, int start) =>
        Math.Abs(quantity.Value) <= MostValue ? quantity : throw Problem("no meter shows so much", "12.4", start);

    private void Refuse(string whole, string fraction, int start)
    {
        if (
            whole.Length + fraction.Length > MostDigits
            || (Here is '.' or ',' && At + 1 < _clean.Length && char.IsAsciiDigit(_clean[At + 1]))
        )
        {
            throw Problem("this is not one number", "12.4", start);
        }
    }

    private static decimal Signed(string whole, string fraction, bool negative)
    {
        var value = decimal.Parse(
            $"{(whole.Length == 0 ? "0" : whole)}.{(fraction.Length == 0 ? "0" : fraction)}",
            CultureInfo.InvariantCulture
        );
        return negative ? -value : value;
    }

    public bool NextIs(char sign) => Here == sign;

    public bool NextIsLetter => char.IsLetter(Here);

    public bool PreviousIs(char sign) => At > 0 && _clean[At - 1] == sign;

    public void Return(int place) => At = place;

    /// <summary>The text from here up to a sign, trimmed, as typed.</summary>
    public string Until(char sign)
    {
        var end = _clean.IndexOf(sign, At);
        end = end < 0 ? text.Length : end;
        var part = text[At..end].Trim();
        At = end;
        return part;
    }

    /// <summary>AC or DC standing by itself.</summary>
    public Current TakeCurrent()
    {
        var back = At;
        Spaces();
        if (TakeWord("dc"))
        {
            return Current.Direct;
        }

        if (TakeWord("ac") || Take("~"))
        {
            return Current.Alternating;
        }

        if (Take("\u2393"))
        {
            return Current.Direct;
        }

        At = back;
        return Current.Unstated;
    }

    /// <summary><c>+10/-15 %</c>, in percent above and below; null where that does not stand here.</summary>
    public (decimal Above, decimal Below)? TakeTwoSided()
    {
        var back = At;
        Spaces();
        if (Here is '+' or '-' && Part() is { } one)
        {
            Spaces();
            _ = Take("/") || Take(",");
            Spaces();
            if (Here is '+' or '-' && Part() is { } other && one.Above != other.Above)
            {
                Spaces();
                if (Take("%") && one.Percent <= 1000 && other.Percent <= 1000)
                {
                    return one.Above ? (one.Percent, other.Percent) : (other.Percent, one.Percent);
                }
            }
        }

        At = back;
        return null;

        (bool Above, decimal Percent)? Part()
        {
            var above = Here == '+';
            At++;
            Spaces();
            if (!char.IsAsciiDigit(Here))
            {
                return null;
            }

            var (whole, fraction) = (Digits(), "");
            if (Here is '.' or ',')
            {
                At++;
                fraction = Digits();
            }

            return whole.Length + fraction.Length > MostDigits ? null : (above, Signed(whole, fraction, false));
        }
    }

    public bool TakePlusMinus() => Take("±") || Take("+/-") || Take("+-");

    private Quantity? TakeUnit(decimal value)
    {
        // Of a duty; after any other number a per cent sign is its tolerance.
        if (Take("% duty") || (mode == MeterMode.Duty && Take("%")))
        {
            return new Quantity(value, Unit.Percent, Current.Unstated, false, 1);
        }

        var end = At;
        while (end < _clean.Length && (char.IsLetter(_clean[end]) || _clean[end] is '°' or '\u00b5'))
        {
            end++;
        }

        var word = _clean[At..end];
        if (word.Length == 0)
        {
            return null;
        }

        if (mode == MeterMode.Temperature && word is "F" or "f" or "°F" or "°f" or "degF" or "degf" or "K")
        {
            At = end;
            return word == "K"
                ? new Quantity(value - 273.15m, Unit.Celsius, Current.Unstated, false, 1)
                : new Quantity(Math.Round((value - 32) / 1.8m, 3), Unit.Celsius, Current.Unstated, false, 1)
                {
                    StepScale = 1 / 1.8m,
                    Typed = value,
                };
        }

        if (mode == MeterMode.Time && word is "min" or "mins" or "minutes" or "h" or "hours" or "hour")
        {
            At = end;
            var seconds = word[0] == 'm' ? 60m : 3600m;
            return new Quantity(value * seconds, Unit.Seconds, Current.Unstated, true, seconds);
        }

        if (word is "°F" or "°f" or "degF")
        {
            throw Problem("°F fits a temperature check", "82 °C");
        }

        if (word == "F" && mode != MeterMode.Capacitance)
        {
            throw Problem("F may be farads, a capacitance, or degrees Fahrenheit", "47 µF, or 180 F under a temperature check");
        }

        if (CasedUnits.TryGetValue(word, out var cased))
        {
            At = end;
            return new Quantity(Math.Round(value * cased.Scale, 6), cased.Unit, Current.Unstated, cased.Scale != 1, cased.Scale);
        }

        if (LaterUnits.TryGetValue(word, out var of))
        {
            throw Problem($"{word} is a unit of {of}, and such checks are not taken yet", "12.4 V");
        }

        if (word is "MV" or "MA" or "MVDC" or "MVAC")
        {
            throw Problem($"{word} may be milli or mega", word == "MA" ? "5 mA" : "5 mV");
        }

        // Case tells milli from mega only before ohms and hertz.
        if (word[0] == 'M' && word.Length > 1 && word[1] is 'ω' or 'o' or 'O' or 'h' or 'H')
        {
            var (unit, name) = word[1] is 'h' or 'H' ? (Unit.Hertz, "hz") : (Unit.Ohms, word[1..].ToLowerInvariant());
            if (name is "hz" or "ω" or "ohm" or "ohms" && (unit == Unit.Ohms || word[1..].Equals("hz", StringComparison.OrdinalIgnoreCase)))
            {
                At = end;
                return new Quantity(value * 1_000_000, unit, Current.Unstated, true, 1_000_000);
            }
        }

        if (word is "m")
        {
            throw Problem("m alone may be milli or mega", "4.7 M, or 4.7 mV");
        }

        var lower = word.ToLowerInvariant();
        foreach (var known in UnitWords)
        {
            if (known.Word == lower)
            {
                At = end;
                // A lone k, M or R multiplies; which unit is meant is for the check to say.
                var lone = lower is "k" or "m" or "r";
                return new Quantity(value * known.Scale, lone ? null : known.Unit, known.Current, known.Scale != 1 || lone, known.Scale);
            }
        }

        return null;
    }

    private string Digits()
    {
        var start = At;
        while (char.IsAsciiDigit(Here))
        {
            At++;
        }

        return _clean[start..At];
    }

    private bool Starts(string word) => string.Compare(_clean, At, word, 0, word.Length, StringComparison.OrdinalIgnoreCase) == 0;
}

/// <summary>A number as read: its value without prefix, and what was written behind it.</summary>
/// <param name="Prefixed">A multiplier such as k was written, so a bare number next to it is not volts.</param>
/// <param name="Scale">The multiplier of the unit behind the number; 1 where there is none.</param>
internal sealed record Quantity(decimal Value, Unit? Unit, Current Current, bool Prefixed, decimal Scale)
{
    /// <summary>A step of one in the unit as it was typed, in the unit held: of a degree Fahrenheit 1 / 1.8.</summary>
    public decimal StepScale { get; init; } = 1;

    /// <summary>The number before a shift of the zero, such as that of Fahrenheit.</summary>
    public decimal? Typed { get; init; }

    /// <summary>As a distance, where the zero of the scale does not count: ±9 °F is ±5 °C.</summary>
    public decimal Step => Typed is { } typed ? Math.Round(typed * StepScale, 3) : Value;

    /// <summary>
    /// Takes over the multiplier that stands behind another number of its expression, since it belongs to all of them that have none of
    /// their own: <c>8-12 mV</c>, <c>500 mV ±50</c>, <c>4 or 20 mA</c>.
    /// </summary>
    public Quantity Scaled(Quantity other) =>
        IsBare && other.Scale != 1 ? this with { Value = Value * other.Scale, Prefixed = true } : this;

    /// <summary>Nothing is written behind it.</summary>
    public bool IsBare => Unit is null && !Prefixed;
}
