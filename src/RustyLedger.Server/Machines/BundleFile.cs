using System.Globalization;
using System.IO.Compression;
using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.RegularExpressions;
using RustyLedger.Core.Exchange;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Photographs;

namespace RustyLedger.Server.Machines;

/// <summary>What a bundle is of.</summary>
public enum BundleKind
{
    Machine,
    Model,
    BoardType,
}

/// <summary>What a bundle says of itself, in <c>bundle.json</c>.</summary>
/// <param name="Name">The machine's tag, the model's name, or the board type's part number and revision.</param>
/// <param name="Entries">All other entries, each with its size and content's hash.</param>
public sealed record BundleManifest(string Format, int Version, BundleKind Kind, string Name, IReadOnlyList<BundleEntry> Entries)
{
    public const string FormatName = "rusty-ledger/bundle";
    public const int CurrentVersion = 1;
}

/// <param name="Sha256">In hex.</param>
public sealed record BundleEntry(string Path, long Bytes, string Sha256);

/// <summary>A bundle that was checked: every entry is listed, of the size and content that the list says.</summary>
public sealed class Bundle : IDisposable
{
    private readonly ZipArchive _zip;

    internal Bundle(BundleManifest manifest, Versions versions, ZipArchive zip)
    {
        (Manifest, Versions, _zip) = (manifest, versions, zip);
        Pictures = zip
            .Entries.Where(e => e.FullName.StartsWith(BundleFile.PictureFolder, StringComparison.Ordinal))
            .Select(e => e.FullName[BundleFile.PictureFolder.Length..])
            .ToHashSet();
    }

    public BundleManifest Manifest { get; }

    /// <summary>Those in which its things have gone from one ledger to another.</summary>
    public Versions Versions { get; }

    /// <summary>Their names, such as <c>ab….jpg</c>.</summary>
    public IReadOnlySet<string> Pictures { get; }

    /// <summary>The machine file without its pictures, or the library file, from its beginning.</summary>
    public Stream OpenContent() => _zip.GetEntry(BundleFile.ContentName(Manifest.Kind))!.Open();

    /// <summary>One picture; they are not all kept in memory.</summary>
    /// <returns>Null where the bundle has none of that name.</returns>
    public byte[]? Picture(string name) =>
        Pictures.Contains(name) ? BundleFile.Unpack(_zip.GetEntry(BundleFile.PictureFolder + name)!) : null;

    public void Dispose() => _zip.Dispose();
}

/// <summary>
/// A machine, a model or a board type with all that belongs to it as one ZIP: JSON, pictures as files, lists as CSV for other programs.
/// </summary>
public static partial class BundleFile
{
    public const string ManifestName = "bundle.json";
    public const string MachineName = "machine.json";
    public const string LibraryName = "library.json";
    public const string VersionsName = "versions.json";
    public const string PictureFolder = "pictures/";

    private const int MostEntries = 5000;
    private const long MostTextBytes = 64L * 1024 * 1024;
    private const long MostAllBytes = 2L * 1024 * 1024 * 1024;

    public static string ContentName(BundleKind kind) => kind == BundleKind.Machine ? MachineName : LibraryName;

    /// <summary>Writes a bundle; the lists are for reading elsewhere and are not taken in again.</summary>
    /// <param name="texts">The content, the shapes and the lists, each with what writes it.</param>
    /// <param name="pictures">By name, with the file that holds each.</param>
    public static async Task Write(
        Stream into,
        BundleKind kind,
        string name,
        IEnumerable<(string Path, Func<Stream, Task> Write)> texts,
        IEnumerable<(string Name, string File)> pictures,
        CancellationToken cancel
    )
    {
        ArgumentNullException.ThrowIfNull(texts);
        ArgumentNullException.ThrowIfNull(pictures);
        await using var zip = await ZipArchive.CreateAsync(into, ZipArchiveMode.Create, leaveOpen: true, entryNameEncoding: null, cancel);
        var entries = new List<BundleEntry>();
        async Task Put(string path, Func<Stream, Task> write, CompressionLevel level)
        {
            await using var entry = await zip.CreateEntry(path, level).OpenAsync(cancel);
            await using var counted = new CountedStream(entry);
            await write(counted);
            entries.Add(new BundleEntry(path, counted.Length, counted.Sha256()));
        }

        foreach (var (path, write) in texts)
        {
            await Put(path, write, CompressionLevel.Optimal);
        }

        foreach (var (picture, file) in pictures)
        {
            // Pictures are compressed already.
            await using var whole = File.OpenRead(file);
            await Put(PictureFolder + picture, into => whole.CopyToAsync(into, cancel), CompressionLevel.NoCompression);
        }

        await using var manifest = await zip.CreateEntry(ManifestName, CompressionLevel.Optimal).OpenAsync(cancel);
        await JsonSerializer.SerializeAsync(
            manifest,
            new BundleManifest(BundleManifest.FormatName, BundleManifest.CurrentVersion, kind, name, entries),
            MachineFile.Json,
            cancel
        );
    }

    /// <summary>Packs a bundle that lies unpacked in a folder, as the sample data does: its content and its pictures.</summary>
    /// <exception cref="IOException">There is no content in the folder.</exception>
    public static async Task<Bundle> Pack(string folder, CancellationToken cancel)
    {
        var kind = File.Exists(Path.Combine(folder, MachineName)) ? BundleKind.Machine : BundleKind.Model;
        var pictures = Path.Combine(folder, PictureFolder);
        await using var content = File.OpenRead(Path.Combine(folder, ContentName(kind)));
        // A stream that is read until the bundle is disposed of.
        var packed = new MemoryStream();
        await Write(
            packed,
            kind,
            Path.GetFileName(folder),
            [(ContentName(kind), content.CopyToAsync)],
            Directory.Exists(pictures)
                ? Directory.GetFiles(pictures).Order(StringComparer.Ordinal).Select(f => (Path.GetFileName(f), f))
                : [],
            cancel
        );
        packed.Position = 0;
        return Read(packed);
    }

    /// <summary>
    /// Checks all names and sizes before anything is unpacked, then that each entry is what the list says. Nothing is written.
    /// </summary>
    /// <param name="file">Can be read from any place; closed with the bundle, or when it is refused.</param>
    /// <exception cref="ProblemException">Names what is wrong and where.</exception>
    public static Bundle Read(Stream file)
    {
        ArgumentNullException.ThrowIfNull(file);
        ZipArchive? zip = null;
        try
        {
            zip = new ZipArchive(file, ZipArchiveMode.Read);
            return Checked(zip);
        }
        catch (Exception broken)
        {
            zip?.Dispose();
            file.Dispose();
            if (
                broken
                is InvalidDataException
                    or EndOfStreamException
                    or IOException
                    or NotSupportedException
                    or ArgumentException
                    or OverflowException
                    or JsonException
            )
            {
                throw Refused(
                    $"The file is no bundle, or damaged: {(broken is JsonException json ? BadRequests.OfJson(json).Words : broken.Message)}"
                );
            }

            throw;
        }
    }

    private static Bundle Checked(ZipArchive zip)
    {
        CheckNames(zip);
        var manifest = Manifest(zip);
        var listed = Listed(manifest, zip);
        var (contentName, versions) = (ContentName(manifest.Kind), Versions.None);
        foreach (var entry in zip.Entries.Where(e => e.FullName != ManifestName))
        {
            if (HashOf(entry) != listed[entry.FullName].Sha256)
            {
                throw Refused($"{entry.FullName} is damaged: its content is not what the bundle's list says.");
            }

            if (entry.FullName == VersionsName)
            {
                versions = ReadVersions(Unpack(entry));
            }
            else if (entry.FullName is MachineName or LibraryName && entry.FullName != contentName)
            {
                throw Refused($"{entry.FullName} does not belong in a bundle of this kind.");
            }
        }

        return zip.GetEntry(contentName) is null
            ? throw Refused($"There is no {contentName} in the bundle.")
            : new Bundle(manifest, versions, zip);
    }

    /// <exception cref="JsonException">Not a list of versions.</exception>
    internal static Versions ReadVersions(byte[] json)
    {
        var read = JsonSerializer.Deserialize<Dictionary<string, ItemVersion>>(json, MachineFile.Json) ?? [];
        return read.Values.All(v => v is { Shape: not null, Writes: not null } && v.Writes.Values.All(n => n > 0))
            ? new Versions(read)
            : throw new JsonException($"{VersionsName} counts writes that are none.");
    }

    internal static byte[] WriteVersions(Versions versions) =>
        JsonSerializer.SerializeToUtf8Bytes(
            versions.ByKey.OrderBy(k => k.Key, StringComparer.Ordinal).ToDictionary(k => k.Key, k => k.Value),
            MachineFile.OneLine
        );

    private static void CheckNames(ZipArchive zip)
    {
        if (zip.Entries.Count > MostEntries)
        {
            throw Refused($"{zip.Entries.Count} entries; a bundle has up to {MostEntries}.");
        }

        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var all = 0L;
        foreach (var entry in zip.Entries)
        {
            if (!Names().IsMatch(entry.FullName))
            {
                throw Refused($"\"{Shown(entry.FullName)}\" is no part of a bundle.");
            }

            if (!seen.Add(entry.FullName))
            {
                throw Refused($"{entry.FullName} stands twice in the bundle.");
            }

            if (entry.IsEncrypted)
            {
                throw Refused($"{entry.FullName} is locked with a password.");
            }

            var most = entry.FullName.StartsWith(PictureFolder, StringComparison.Ordinal) ? PictureFiles.MostBytes : MostTextBytes;
            all += entry.Length;
            if (entry.Length > most || all > MostAllBytes)
            {
                throw Refused(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{entry.FullName} would unpack to {entry.Length / 1024.0 / 1024:0.#} MB; that is more than is taken."
                    )
                );
            }
        }
    }

    private static BundleManifest Manifest(ZipArchive zip)
    {
        var entry = zip.GetEntry(ManifestName) ?? throw Refused($"There is no {ManifestName} in the file: it is no bundle of the ledger.");
        using var text = JsonDocument.Parse(Unpack(entry));
        if (
            text.RootElement.ValueKind != JsonValueKind.Object
            || !text.RootElement.TryGetProperty("format", out var format)
            || format.ValueKind != JsonValueKind.String
            || format.GetString() != BundleManifest.FormatName
        )
        {
            throw Refused($"{ManifestName} does not say \"format\": \"{BundleManifest.FormatName}\".");
        }

        if (
            !text.RootElement.TryGetProperty("version", out var version)
            || version.ValueKind != JsonValueKind.Number
            || !version.TryGetInt32(out var number)
            || number < 1
        )
        {
            throw Refused("The bundle states no version.");
        }

        if (number > BundleManifest.CurrentVersion)
        {
            throw Refused(
                $"The bundle is of version {number}; this ledger reads up to version {BundleManifest.CurrentVersion}. Update "
                    + $"the ledger first."
            );
        }

        var manifest = text.RootElement.Deserialize<BundleManifest>(MachineFile.Json)!;
        return Unreadable.First(manifest) is { } place ? throw Refused($"{ManifestName} is not understood: {place.Words}") : manifest;
    }

    private static Dictionary<string, BundleEntry> Listed(BundleManifest manifest, ZipArchive zip)
    {
        var listed = new Dictionary<string, BundleEntry>(StringComparer.Ordinal);
        foreach (var entry in manifest.Entries)
        {
            if (!listed.TryAdd(entry.Path, entry))
            {
                throw Refused($"{Shown(entry.Path)} stands twice in the bundle's list.");
            }
        }

        foreach (var entry in zip.Entries.Where(e => e.FullName != ManifestName))
        {
            if (!listed.TryGetValue(entry.FullName, out var said))
            {
                throw Refused($"{entry.FullName} is not in the bundle's list.");
            }

            if (said.Bytes != entry.Length)
            {
                throw Refused($"{entry.FullName} has {entry.Length} bytes, and the bundle's list says {said.Bytes}.");
            }
        }

        return zip.Entries.Count == listed.Count + 1
            ? listed
            : throw Refused(
                $"{Shown(listed.Keys.First(path => zip.GetEntry(path) is null))} is in the bundle's list, but not in the bundle."
            );
    }

    /// <summary>No more than the entry says it holds, whatever the packed bytes would make; and all that was packed.</summary>
    internal static byte[] Unpack(ZipArchiveEntry entry)
    {
        var content = new byte[entry.Length];
        using var stream = entry.Open();
        stream.ReadExactly(content);
        return stream.ReadByte() < 0 && Crc32.HashToUInt32(content) == entry.Crc32 ? content : throw NotAsPacked(entry);
    }

    /// <summary>SHA-256 of what an entry holds, read through a small window, as <see cref="Unpack"/> would take it.</summary>
    private static string HashOf(ZipArchiveEntry entry)
    {
        using var stream = entry.Open();
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var (crc, length, window) = (new Crc32(), 0L, new byte[1 << 16]);
        // Not a byte beyond what was said: packed bytes can make any amount.
        for (int read; length <= entry.Length && (read = stream.Read(window)) > 0; length += read)
        {
            hash.AppendData(window, 0, read);
            crc.Append(window.AsSpan(0, read));
        }

        return length == entry.Length && crc.GetCurrentHashAsUInt32() == entry.Crc32
            ? Convert.ToHexStringLower(hash.GetHashAndReset())
            : throw NotAsPacked(entry);
    }

    private static ProblemException NotAsPacked(ZipArchiveEntry entry) =>
        Refused($"{entry.FullName} is not what was packed: it says it holds {entry.Length} bytes, and these are others.");

    private static string Shown(string name) => name.Length > 80 ? $"{name[..80]}…" : name;

    private static ProblemException Refused(string why) => ProblemException.Bad("bundle", why);

    // Nothing else is unpacked: no way out of the folder, no archive within the archive.
    [GeneratedRegex(
        @"^((bundle|machine|library|versions)\.json"
            + @"|(terminals|readings|settings)/[A-Za-z0-9_-][A-Za-z0-9._-]{0,79}\.csv"
            + @"|pictures/[0-9a-f]{64}\.(jpg|png|webp))$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Names();
}
