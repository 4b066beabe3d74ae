using RustyLedger.Core;

namespace RustyLedger.Server.Storage;

/// <summary>A row of a thing that stands in several tables, such as a board type with its elements and pins.</summary>
public abstract class Row : IEditable
{
    public int Version { get; set; } = 1;

    public DateTimeOffset? RetiredAt { get; set; }
}

/// <summary>A row that belongs to another; its id is its own only within the owner.</summary>
public abstract class OwnedBy<TOwner, TThing> : Row, IOrdered
{
    public required Id<TOwner> OwnerId { get; set; }

    public required Id<TThing> Id { get; set; }

    /// <summary>Place in the owner's list.</summary>
    public int Ordinal { get; set; }
}

/// <summary>A row with a place in a list.</summary>
public interface IOrdered
{
    int Ordinal { get; }
}

/// <summary>What owns pins, links and checks: a board type or a model, by the text of its id.</summary>
public sealed class Wired;
