namespace RustyLedger.Core.Boards;

/// <summary>Which way a trimmer's screw is turned, seen from the component side.</summary>
public enum Turning
{
    NotKnown,
    Clockwise,
    Anticlockwise,
}

/// <summary>A place a jumper can sit in or a switch can stand in.</summary>
/// <param name="Name">For a jumper the pins it joins, such as <c>1-2</c>, or <c>off</c>; for a switch bank the switch and its way, such
/// as <c>3 on</c>.</param>
public sealed record ElementPosition(string Name, string Meaning);

/// <summary>What an element of its kind tells or does; what its kind does not have stays empty.</summary>
public sealed record ElementDetail
{
    public static ElementDetail None { get; } = new();

    /// <summary>Of an indicator.</summary>
    public string Colour { get; init; } = "";

    /// <summary>What it means when an indicator is on all the time.</summary>
    public string Steady { get; init; } = "";
    public string Blinking { get; init; } = "";
    public string Off { get; init; } = "";

    /// <summary>What a lit indicator proves.</summary>
    public string Proves { get; init; } = "";

    /// <summary>What a lit indicator does not prove, though one would like to think so.</summary>
    public string ProvesNot { get; init; } = "";

    /// <summary>Of a jumper or a switch bank.</summary>
    public IReadOnlyList<ElementPosition> Positions { get; init; } = [];

    /// <summary>Which way the switches of a bank stand when on, seen from the component side.</summary>
    public Toward OnToward { get; init; }

    /// <summary>The side of a connector on which its latch sits, seen from the component side; null where nobody wrote it down.</summary>
    public Toward? Latch { get; init; }

    /// <summary>
    /// The side on which the key of a connector sits, or the pin that is left out, seen from the component side; null where nobody
    /// wrote it down.
    /// </summary>
    public Toward? KeySide { get; init; }

    /// <summary>What a trimmer sets.</summary>
    public string Sets { get; init; } = "";
    public Turning Raises { get; init; }

    /// <summary>Turns of a trimmer from end to end; null where not known.</summary>
    public decimal? Turns { get; init; }

    /// <summary>What a relay switches.</summary>
    public string Switches { get; init; } = "";

    /// <summary>Labels of a relay's coil pins, with commas between.</summary>
    public string Coil { get; init; } = "";

    /// <summary>Labels of a relay's contact pins, with commas between.</summary>
    public string Contacts { get; init; } = "";

    /// <summary>Of a fuse, such as <c>slow, 5 × 20 mm</c>.</summary>
    public string FuseType { get; init; } = "";

    /// <summary>What a fuse feeds.</summary>
    public string Feeds { get; init; } = "";

    /// <summary>What a blown fuse hints at.</summary>
    public string BlownHint { get; init; } = "";

    /// <summary>Where a cable's other end is plugged in, such as <c>D-J1</c>.</summary>
    public string OtherEnd { get; init; } = "";

    public bool Equals(ElementDetail? other) =>
        other is not null
        && (Colour, Steady, Blinking, Off, Proves, ProvesNot)
            == (other.Colour, other.Steady, other.Blinking, other.Off, other.Proves, other.ProvesNot)
        && (OnToward, Sets, Raises, Turns, Switches, Coil, Contacts)
            == (other.OnToward, other.Sets, other.Raises, other.Turns, other.Switches, other.Coil, other.Contacts)
        && (Latch, KeySide) == (other.Latch, other.KeySide)
        && (FuseType, Feeds, BlownHint, OtherEnd) == (other.FuseType, other.Feeds, other.BlownHint, other.OtherEnd)
        && Positions.SequenceEqual(other.Positions);

    public override int GetHashCode() => HashCode.Combine(Colour, Proves, Sets, Switches, FuseType, OtherEnd, Positions.Count);
}
