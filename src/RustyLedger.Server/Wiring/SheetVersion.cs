using System.Security.Cryptography;
using System.Text.Json;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Wiring;

/// <summary>
/// What stands in a sheet, as one number: its rows are records each with a version of its own, and whoever edits them together must
/// have seen them all.
/// </summary>
internal static class SheetVersion
{
    public static int Of<T>(T sheet) =>
        BitConverter.ToInt32(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(sheet, MachineFile.OneLine))) & int.MaxValue;
}
