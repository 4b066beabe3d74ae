using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;

namespace RustyLedger.Server.Machines;

/// <summary>
/// A model with the board types it uses, or a board type alone, each with its settings: what a machine has in common with others.
/// Described in docs/formats.md.
/// </summary>
/// <param name="Model">Null for a board type alone.</param>
public sealed record LibraryFile(
    string Format,
    int Version,
    IReadOnlyList<BoardType> BoardTypes,
    IReadOnlyList<FileSetting> Settings,
    Model? Model
)
{
    public const string FormatName = "rusty-ledger/library";
    public const int CurrentVersion = 1;
}

/// <summary>What a bundle can hold, of any kind.</summary>
/// <param name="Model">Null for a board type alone.</param>
/// <param name="Machine">Null without a machine.</param>
internal sealed record Book(IReadOnlyList<BoardType> BoardTypes, IReadOnlyList<FileSetting> Settings, Model? Model, MachineFile? Machine)
{
    public static Book Of(MachineFile file) => new(file.BoardTypes, file.Settings, file.Model, file);

    public static Book Of(LibraryFile file) => new(file.BoardTypes, file.Settings, file.Model, null);
}
