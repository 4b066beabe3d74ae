using System.Security.Cryptography;
using System.Text.Json.Nodes;
using MetadataExtractor;
using MetadataExtractor.Formats.Exif;
using SkiaSharp;

namespace RustyLedger.Server.Tests.Photographs;

public sealed class PhotographTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Theory]
    [InlineData(SKEncodedImageFormat.Jpeg, "image/jpeg")]
    [InlineData(SKEncodedImageFormat.Png, "image/png")]
    [InlineData(SKEncodedImageFormat.Webp, "image/webp")]
    public async Task A_picture_is_kept_as_a_file_named_by_its_content(SKEncodedImageFormat format, string type)
    {
        var (status, photograph) = await _ledger.Photograph(Pictures.Of(format));
        Assert.Equal((200, 640, 400), (status, (int)photograph["width"]!, (int)photograph["height"]!));
        var hash = (string)photograph["hash"]!;
        using var answer = await _ledger.Http.GetAsync($"/api/pictures/{hash}");
        var kept = await answer.Content.ReadAsByteArrayAsync();
        Assert.Equal((type, hash), (answer.Content.Headers.ContentType!.MediaType, Convert.ToHexStringLower(SHA256.HashData(kept))));
        Assert.Contains("immutable", answer.Headers.CacheControl!.ToString(), StringComparison.Ordinal);
        Assert.Equal(
            kept,
            await File.ReadAllBytesAsync(
                Assert.Single(
                    System.IO.Directory.GetFiles(Path.Combine(_ledger.Data, "photographs", hash[..2]), $"{hash}.*"),
                    f => !f.Contains(".small.", StringComparison.Ordinal)
                )
            )
        );
        using var small = SKBitmap.Decode(await _ledger.Http.GetByteArrayAsync($"/api/pictures/{hash}/small"));
        Assert.Equal((360, 225), (small.Width, small.Height));
    }

    [Theory]
    [InlineData(1, 640, 400, 10, 200)] // red lies where it lay
    [InlineData(3, 640, 400, 630, 200)]
    [InlineData(6, 400, 640, 200, 10)] // turned a quarter right: what was left is on top
    [InlineData(8, 400, 640, 200, 630)]
    [InlineData(2, 640, 400, 630, 200)]
    [InlineData(5, 400, 640, 200, 10)]
    [InlineData(7, 400, 640, 200, 630)]
    public async Task A_picture_is_turned_upright_and_its_position_removed(ushort orientation, int width, int height, int redX, int redY)
    {
        var sent = Pictures.WithExif(orientation);
        Assert.Contains(ImageMetadataReader.ReadMetadata(new MemoryStream(sent)), d => d is GpsDirectory);
        var (_, photograph) = await _ledger.Photograph(sent);
        var kept = await _ledger.Http.GetByteArrayAsync($"/api/pictures/{photograph["hash"]}");
        Assert.DoesNotContain(ImageMetadataReader.ReadMetadata(new MemoryStream(kept)), d => d is GpsDirectory or ExifIfd0Directory);
        using var bitmap = SKBitmap.Decode(kept);
        Assert.Equal((width, height), (bitmap.Width, bitmap.Height));
        var (red, blue) = (bitmap.GetPixel(redX, redY), bitmap.GetPixel(width - redX, height - redY));
        Assert.True(red.Red > 200 && red.Blue < 60, $"{red}");
        Assert.True(blue.Blue > 200 && blue.Red < 60, $"{blue}");
    }

    [Fact]
    public async Task A_jpeg_that_stands_upright_loses_what_is_hidden_and_none_of_its_points()
    {
        var upright = Pictures.WithExif(1);
        byte[] sent = [.. upright, .. "what somebody put behind its end"u8];
        var (status, photograph) = await _ledger.Photograph(sent);
        Assert.Equal(200, status);
        var kept = await _ledger.Http.GetByteArrayAsync($"/api/pictures/{photograph["hash"]}");
        Assert.True(kept.Length < upright.Length);
        using var before = SKBitmap.Decode(upright);
        using var after = SKBitmap.Decode(kept);
        Assert.Equal(before.Bytes, after.Bytes);
        // The same picture from another camera is the same file.
        Assert.Equal((string)photograph["hash"]!, (string)(await _ledger.Photograph(kept)).Body["hash"]!);
    }

    [Fact]
    public async Task What_is_no_picture_too_large_or_cut_is_refused_and_nothing_stays()
    {
        async Task Refused(byte[] sent, string says)
        {
            var (status, problem) = await _ledger.Photograph(sent);
            Assert.Equal((400, "picture"), (status, (string)problem["field"]!));
            Assert.Contains(says, (string)problem["detail"]!, StringComparison.Ordinal);
        }

        var before = (await _ledger.Get("/api/machines/ly-04/photographs")).AsArray().Count;
        var files = Count();
        var jpeg = Pictures.Of(width: 1600, height: 1200);
        await Refused("<svg xmlns='http://www.w3.org/2000/svg'/>"u8.ToArray(), "takes JPEG, PNG and WebP");
        await Refused([], "takes JPEG, PNG and WebP");
        await Refused("GIF89a\u0001\0\u0001\0\0\0\0;"u8.ToArray(), "takes JPEG, PNG and WebP");
        await Refused(jpeg[..(jpeg.Length / 2)], "cut short or damaged");
        await Refused(Pictures.Of(SKEncodedImageFormat.Png)[..300], "cut short or damaged");
        await Refused([.. jpeg, .. new byte[20 * 1024 * 1024]], "at most 20");
        // A PNG that says it has 9,000 by 9,000 points, in 60 bytes: refused by its head, before anything is decoded.
        byte[] head = [0x89, .. "PNG\r\n\u001a\n"u8, 0, 0, 0, 13, .. "IHDR"u8, 0, 0, 0x23, 0x28, 0, 0, 0x23, 0x28, 8, 2, 0, 0, 0];
        await Refused([.. head, .. Crc(head[12..]), 0, 0, 0, 0, .. "IDAT"u8, .. Crc("IDAT"u8.ToArray())], "at most 60 million");
        Assert.Equal((before, files), ((await _ledger.Get("/api/machines/ly-04/photographs")).AsArray().Count, Count()));
    }

    [Fact]
    public async Task A_photograph_sent_twice_is_one_and_a_burst_is_as_many_as_it_is()
    {
        var id = Lines.NewId();
        await _ledger.Photograph(Pictures.Of(width: 50), "ly-02", id: id);
        await _ledger.Photograph(Pictures.Of(width: 50), "ly-02", id: id);
        var burst = await Task.WhenAll(Enumerable.Range(0, 8).Select(i => _ledger.Photograph(Pictures.Of(width: 100 + i), "ly-02")));
        Assert.All(burst, b => Assert.Equal(200, b.Status));
        Assert.Equal(9, (await _ledger.Get("/api/machines/ly-02/photographs")).AsArray().Count);
        Assert.Equal(404, (await _ledger.Photograph(Pictures.Of(), "none")).Status);
        Assert.Equal(400, (await _ledger.Photograph(Pictures.Of(), kind: "selfie")).Status);
    }

    [Fact]
    public async Task Another_picture_or_another_word_under_an_id_that_was_used_is_refused_by_what_differs()
    {
        var id = Lines.NewId();
        Assert.Equal(200, (await _ledger.Photograph(Pictures.Of(width: 50), "ly-06", id: id)).Status);
        foreach (
            var (differs, send) in ((string, Func<Task<(int Status, JsonNode Body)>>)[])
                [
                    ("picture", () => _ledger.Photograph(Pictures.Of(width: 51), "ly-06", id: id)),
                    ("machineId", () => _ledger.Photograph(Pictures.Of(width: 50), "ly-03", id: id)),
                    ("kind", () => _ledger.Photograph(Pictures.Of(width: 50), "ly-06", "screen", id)),
                    ("caption", () => _ledger.Photograph(Pictures.Of(width: 50), "ly-06", id: id, more: "&caption=lid")),
                ]
        )
        {
            var (status, problem) = await send();
            Assert.Equal((409, differs), (status, (string)problem["field"]!));
        }

        Assert.Single((await _ledger.Get("/api/machines/ly-06/photographs")).AsArray(), p => (string)p!["id"]! == id);
    }

    [Fact]
    public async Task A_photograph_put_away_can_be_put_back()
    {
        var (_, photograph) = await _ledger.Photograph(Pictures.Of(), "ly-06");
        var id = (string)photograph["id"]!;
        await _ledger.Http.PostAsync($"/api/photographs/{id}/retire", null);
        Assert.Empty((await _ledger.Get("/api/machines/ly-06/photographs")).AsArray());
        var edit = (await _ledger.Get($"/api/edits/Photograph/{id}"))[0]!;
        await _ledger.Post($"/api/edits/{edit["id"]}/put-back", new { });
        Assert.Single((await _ledger.Get("/api/machines/ly-06/photographs")).AsArray());
        Assert.Equal(404, (int)(await _ledger.Http.GetAsync($"/api/pictures/{new string('0', 64)}")).StatusCode);
    }

    private int Count() =>
        System.IO.Directory.Exists(Path.Combine(_ledger.Data, "photographs"))
            ? System.IO.Directory.GetFiles(Path.Combine(_ledger.Data, "photographs"), "*", SearchOption.AllDirectories).Length
            : 0;

    /// <summary>CRC-32 as PNG has it (ISO/IEC 15948, annex D).</summary>
    private static byte[] Crc(byte[] of)
    {
        var crc = uint.MaxValue;
        foreach (var b in of)
        {
            crc ^= b;
            for (var k = 0; k < 8; k++)
            {
                crc = (crc & 1) != 0 ? (crc >> 1) ^ 0xEDB88320 : crc >> 1;
            }
        }

        crc = ~crc;
        return [(byte)(crc >> 24), (byte)(crc >> 16), (byte)(crc >> 8), (byte)crc];
    }
}
