using System.Buffers.Binary;
using System.IO.Hashing;
using RustyLedger.Server.Photographs;
using SkiaSharp;

namespace RustyLedger.Server.Tests.Photographs;

public sealed class HiddenDataTests
{
    private static readonly (SKEncodedImageFormat Format, string Ending)[] _formats =
    [
        (SKEncodedImageFormat.Jpeg, "jpg"),
        (SKEncodedImageFormat.Png, "png"),
        (SKEncodedImageFormat.Webp, "webp"),
    ];

    private static byte[] Segment(byte marker, ReadOnlySpan<byte> content)
    {
        var jpeg = Pictures.Of();
        var length = content.Length + 2;
        return [.. jpeg[..2], 0xFF, marker, (byte)(length >> 8), (byte)length, .. content, .. jpeg[2..]];
    }

    private static byte[] Chunk(string type, ReadOnlySpan<byte> content)
    {
        var png = Pictures.Of(SKEncodedImageFormat.Png);
        byte[] chunk = [.. System.Text.Encoding.ASCII.GetBytes(type), .. content];
        var (length, sum) = (new byte[4], new byte[4]);
        BinaryPrimitives.WriteInt32BigEndian(length, content.Length);
        BinaryPrimitives.WriteUInt32BigEndian(sum, Crc32.HashToUInt32(chunk));
        // Behind the header, which is 25 bytes long with its frame.
        return [.. png[..33], .. length, .. chunk, .. sum, .. png[33..]];
    }

    private static byte[] Riff(string type, ReadOnlySpan<byte> content)
    {
        var webp = Pictures.Of(SKEncodedImageFormat.Webp);
        var length = new byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(length, content.Length);
        byte[] whole = [.. webp, .. System.Text.Encoding.ASCII.GetBytes(type), .. length, .. content];
        BinaryPrimitives.WriteInt32LittleEndian(whole.AsSpan(4), whole.Length - 8);
        return whole;
    }

    public static TheoryData<string, string, byte[]> Spoilt =>
        new()
        {
            { "jpg", "Exif", Segment(0xE1, "Exif\0\0II*\0secret"u8) },
            { "jpg", "XMP", Segment(0xE1, "http://ns.adobe.com/xap/1.0/\0secret"u8) },
            { "jpg", "IPTC", Segment(0xED, "Photoshop 3.0\0secret"u8) },
            { "jpg", "comment", Segment(0xFE, "secret"u8) },
            { "jpg", "behind the end", [.. Pictures.Of(), .. "secret"u8] },
            { "png", "text", Chunk("tEXt", "Comment\0secret"u8) },
            { "png", "eXIf", Chunk("eXIf", "II*\0secret!"u8) },
            { "png", "XMP", Chunk("iTXt", "XML:com.adobe.xmp\0\0\0\0\0secret"u8) },
            { "png", "behind the end", [.. Pictures.Of(SKEncodedImageFormat.Png), .. "secret"u8] },
            { "webp", "EXIF", Riff("EXIF", "II*\0secret"u8) },
            { "webp", "XMP", Riff("XMP ", "<secret/>!"u8) },
            { "webp", "behind the end", [.. Pictures.Of(SKEncodedImageFormat.Webp), .. "secret"u8] },
        };

    [Theory]
    [MemberData(nameof(Spoilt))]
    public async Task What_is_hidden_in_a_picture_stays_out_through_every_door(string format, string what, byte[] picture)
    {
        Assert.True(HiddenData.IsIn(picture, _formats.Single(f => f.Ending == format).Format), what);
        using var ledger = await TestLedger.Start(demo: true);
        var files = ledger.Service<PictureFiles>();
        var hash = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(picture));
        var sent = Path.GetTempFileName();
        await File.WriteAllBytesAsync(sent, picture);
        // From a device, and as a machine file or a bundle brings it.
        foreach (var kept in (Picture[])[await files.Keep(sent, default), await files.KeepFromFile(picture, hash, [], default)])
        {
            var content = await File.ReadAllBytesAsync(files.FileOf(kept.Hash, kept.Format));
            Assert.True(content.AsSpan().IndexOf("secret"u8) < 0, $"{what} in {format}");
            Assert.False(HiddenData.IsIn(content, _formats.Single(f => f.Ending == format).Format));
        }
    }

    [Fact]
    public void What_the_ledger_writes_hides_nothing()
    {
        foreach (var (format, ending) in _formats)
        {
            Assert.False(HiddenData.IsIn(Pictures.Of(format), format), ending);
        }
    }
}
