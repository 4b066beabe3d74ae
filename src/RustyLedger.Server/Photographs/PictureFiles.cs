using System.Security.Cryptography;
using Microsoft.Extensions.Options;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;
using SkiaSharp;

namespace RustyLedger.Server.Photographs;

/// <summary>A picture as kept.</summary>
/// <param name="Hash">SHA-256 of the content, in hex; the file is named by it.</param>
/// <param name="Format">File ending: <c>jpg</c>, <c>png</c> or <c>webp</c>.</param>
public sealed record Picture(string Hash, string Format, int Width, int Height, long Bytes);

/// <summary>
/// The picture files, each named by the hash of its content. What comes in is looked at before it is decoded, decoded
/// in full, turned upright and written anew, so that nothing but the picture is kept: no position, no camera. Of a JPEG
/// that stands upright already what is hidden is cut out, its points stay as the camera wrote them: it is read in full too, but small.
/// </summary>
public sealed class PictureFiles(IOptions<LedgerOptions> options) : IDisposable
{
    public const int MostBytes = 20 * 1024 * 1024;
    private const long MostPixels = 60_000_000;
    private const int ThumbnailSide = 360;
    private const int Quality = 90;

    // A picture of 60 megapixels takes 240 MB while it is open; one at a time is enough for a van.
    private readonly SemaphoreSlim _oneAtATime = new(1);

    private string Folder => Path.Combine(options.Value.Data, "photographs");

    public string FileOf(string hash, string format) => Path.Combine(Folder, hash[..2], $"{hash}.{format}");

    public string ThumbnailOf(string hash) => Path.Combine(Folder, hash[..2], $"{hash}.small.jpg");

    /// <param name="sent">The file as it came.</param>
    /// <exception cref="ProblemException">Not a picture, too many points, or cut; nothing was kept.</exception>
    public async Task<Picture> Keep(string sent, CancellationToken cancel)
    {
        await _oneAtATime.WaitAsync(cancel);
        try
        {
            using var data = SKData.Create(sent) ?? SKData.CreateCopy([]);
            using (var plain = Plain(data, out var size))
            {
                if (plain is not null)
                {
                    return await Write(plain, SKEncodedImageFormat.Jpeg, size, null, cancel);
                }
            }

            using var bitmap = Decode(data, out var format);
            using var content = Encode(bitmap, format);
            return await Write(content, format, bitmap.Info.Size, bitmap, cancel);
        }
        finally
        {
            _oneAtATime.Release();
        }
    }

    /// <summary>
    /// Keeps a picture that this ledger or another one wrote, as it is; one from elsewhere is written anew like any other.
    /// </summary>
    /// <param name="newFiles">Told of each file that was not there before.</param>
    /// <exception cref="ProblemException">Not what its hash says, or no picture.</exception>
    public async Task<Picture> KeepFromFile(byte[] content, string hash, List<string> newFiles, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(content);
        ArgumentNullException.ThrowIfNull(newFiles);
        if (Convert.ToHexStringLower(SHA256.HashData(content)) != hash)
        {
            throw Refused($"The picture {hash} is damaged: its content has another hash.");
        }

        await _oneAtATime.WaitAsync(cancel);
        try
        {
            using var data = SKData.CreateCopy(content);
            using (var plain = Plain(data, out var size))
            {
                if (plain is not null)
                {
                    return await Write(plain, SKEncodedImageFormat.Jpeg, size, null, cancel, newFiles);
                }
            }

            using var bitmap = Decode(data, out var format);
            using var anew = HiddenData.IsIn(content, format) ? Encode(bitmap, format) : null;
            return await Write(anew ?? data, format, bitmap.Info.Size, bitmap, cancel, newFiles);
        }
        finally
        {
            _oneAtATime.Release();
        }
    }

    /// <summary>Whether the file of a photograph is there, as long as it was.</summary>
    public bool IsHere(Core.Photographs.Photograph photograph)
    {
        ArgumentNullException.ThrowIfNull(photograph);
        var file = new FileInfo(FileOf(photograph.Hash, photograph.Format));
        return file.Exists && (photograph.Bytes == 0 || file.Length == photograph.Bytes);
    }

    /// <summary>A picture that is here already; null where it is not.</summary>
    public Picture? Known(string hash, string format)
    {
        if (
            hash is not { Length: 64 }
            || !hash.All(char.IsAsciiHexDigitLower)
            || format is not ("jpg" or "png" or "webp")
            || !File.Exists(FileOf(hash, format))
        )
        {
            return null;
        }

        using var codec = SKCodec.Create(FileOf(hash, format));
        return codec is null
            ? null
            : new Picture(hash, format, codec.Info.Width, codec.Info.Height, new FileInfo(FileOf(hash, format)).Length);
    }

    public void Dispose() => _oneAtATime.Dispose();

    /// <summary>
    /// A JPEG that stands upright, without what is hidden in it; null where it is none, is damaged, or has to be decoded whole. All of it
    /// is read, at an eighth of its sides: a phone's picture would take 48 MB at full size.
    /// </summary>
    private static SKData? Plain(SKData data, out SKSizeI size)
    {
        using var sent = SKCodec.Create(data);
        size = sent?.Info.Size ?? SKSizeI.Empty;
        if (
            sent is not { EncodedFormat: SKEncodedImageFormat.Jpeg, EncodedOrigin: SKEncodedOrigin.TopLeft }
            || (long)size.Width * size.Height > MostPixels
            || HiddenData.Without(data.AsSpan()) is not { } without
        )
        {
            return null;
        }

        const float LeastShare = 1 / 8f;
        var plain = SKData.CreateCopy(without);
        using var codec = SKCodec.Create(plain);
        using var small = codec is null ? null : new SKBitmap(new SKImageInfo(1, 1).WithSize(codec.GetScaledDimensions(LeastShare)));
        if (
            small is not null
            && !HiddenData.IsIn(without, SKEncodedImageFormat.Jpeg)
            && codec!.GetPixels(small.Info, small.GetPixels()) == SKCodecResult.Success
        )
        {
            return plain;
        }

        plain.Dispose();
        return null;
    }

    private static SKBitmap Decode(SKData data, out SKEncodedImageFormat format)
    {
        using var codec = SKCodec.Create(data);
        if (
            codec is null
            || codec.EncodedFormat is not (SKEncodedImageFormat.Jpeg or SKEncodedImageFormat.Png or SKEncodedImageFormat.Webp)
        )
        {
            throw Refused("This is not a picture the ledger reads; it takes JPEG, PNG and WebP.");
        }

        format = codec.EncodedFormat;
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if ((long)width * height > MostPixels)
        {
            throw Refused($"The picture has {width} × {height} points; at most {MostPixels / 1_000_000} million are taken.");
        }

        var raw = new SKBitmap(new SKImageInfo(width, height, SKColorType.Rgba8888, SKAlphaType.Premul));
        if (codec.GetPixels(raw.Info, raw.GetPixels()) != SKCodecResult.Success)
        {
            raw.Dispose();
            throw Refused("The picture is cut short or damaged; send it again.");
        }

        if (codec.EncodedOrigin is SKEncodedOrigin.TopLeft)
        {
            return raw;
        }

        using (raw)
        {
            return Upright(raw, codec.EncodedOrigin);
        }
    }

    private static SKBitmap Upright(SKBitmap raw, SKEncodedOrigin origin)
    {
        var onItsSide =
            origin is SKEncodedOrigin.LeftTop or SKEncodedOrigin.RightTop or SKEncodedOrigin.RightBottom or SKEncodedOrigin.LeftBottom;
        var (width, height) = onItsSide ? (raw.Height, raw.Width) : (raw.Width, raw.Height);
        var upright = new SKBitmap(new SKImageInfo(width, height, SKColorType.Rgba8888, SKAlphaType.Premul));
        using var canvas = new SKCanvas(upright);
        // Where the camera's axes come to lie, by the orientation tag of Exif (CIPA DC-008).
        canvas.SetMatrix(
            origin switch
            {
                SKEncodedOrigin.TopRight => new SKMatrix(-1, 0, width, 0, 1, 0, 0, 0, 1),
                SKEncodedOrigin.BottomRight => new SKMatrix(-1, 0, width, 0, -1, height, 0, 0, 1),
                SKEncodedOrigin.BottomLeft => new SKMatrix(1, 0, 0, 0, -1, height, 0, 0, 1),
                SKEncodedOrigin.LeftTop => new SKMatrix(0, 1, 0, 1, 0, 0, 0, 0, 1),
                SKEncodedOrigin.RightTop => new SKMatrix(0, -1, width, 1, 0, 0, 0, 0, 1),
                SKEncodedOrigin.RightBottom => new SKMatrix(0, -1, width, -1, 0, height, 0, 0, 1),
                SKEncodedOrigin.LeftBottom => new SKMatrix(0, 1, 0, -1, 0, height, 0, 0, 1),
                _ => SKMatrix.Identity,
            }
        );
        canvas.DrawBitmap(raw, 0, 0, new SKSamplingOptions(SKFilterMode.Nearest));
        return upright;
    }

    /// <summary>Straight from its points: a copy of them would be as large again.</summary>
    private static SKData Encode(SKBitmap bitmap, SKEncodedImageFormat format)
    {
        using var points = bitmap.PeekPixels();
        return points.Encode(format, Quality) ?? throw Refused("The picture could not be written as its own format; send it as JPEG.");
    }

    /// <summary>
    /// Read again from what was written: JPEG and WebP come out small at once, where halving the whole picture by steps takes a third of
    /// it once more.
    /// </summary>
    /// <param name="bitmap">The same at full size; null where it was not decoded whole.</param>
    private static SKData Thumbnail(SKData content, SKSizeI size, SKBitmap? bitmap)
    {
        var scale = Math.Min(1, (double)ThumbnailSide / Math.Max(size.Width, size.Height));
        using var codec = SKCodec.Create(content);
        // Steps of an eighth, the nearest: asked for half as much again, it is never smaller than what is wanted.
        var nearly = codec.GetScaledDimensions((float)Math.Min(1, 1.5 * scale));
        using var less =
            bitmap is null || nearly.Width < bitmap.Width
                ? new SKBitmap(new SKImageInfo(nearly.Width, nearly.Height, SKColorType.Rgba8888, SKAlphaType.Premul))
                : null;
        var source = less is not null && codec.GetPixels(less.Info, less.GetPixels()) == SKCodecResult.Success ? less : bitmap;
        using var small = (source ?? throw Refused("The picture is cut short or damaged; send it again.")).Resize(
            new SKImageInfo(Math.Max(1, (int)(size.Width * scale)), Math.Max(1, (int)(size.Height * scale))),
            new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear)
        );
        return Encode(small, SKEncodedImageFormat.Jpeg);
    }

    private static string EndingOf(SKEncodedImageFormat format) =>
        format switch
        {
            SKEncodedImageFormat.Jpeg => "jpg",
            SKEncodedImageFormat.Png => "png",
            _ => "webp",
        };

    private async Task<Picture> Write(
        SKData content,
        SKEncodedImageFormat format,
        SKSizeI size,
        SKBitmap? bitmap,
        CancellationToken cancel,
        List<string>? newFiles = null
    )
    {
        var picture = new Picture(
            Convert.ToHexStringLower(SHA256.HashData(content.AsSpan())),
            EndingOf(format),
            size.Width,
            size.Height,
            content.Size
        );
        var (file, small) = (FileOf(picture.Hash, picture.Format), ThumbnailOf(picture.Hash));
        newFiles?.AddRange(new[] { file, small }.Where(f => !File.Exists(f)));
        var folder = Path.GetDirectoryName(file)!;
        Disk.OwnFolder(folder);
        using var thumbnail = Thumbnail(content, size, bitmap);
        await Write(small, thumbnail, cancel);
        await Write(file, content, cancel);
        // Their names too, before they count as kept.
        Disk.Settle(folder);
        Disk.Settle(Folder);
        return picture;
    }

    /// <summary>Under another name first, so that a file of that name is always whole.</summary>
    private static async Task Write(string file, SKData content, CancellationToken cancel)
    {
        if (File.Exists(file))
        {
            return;
        }

        var half = $"{file}.{Guid.CreateVersion7():N}";
        try
        {
            await using (var stream = new FileStream(half, FileMode.CreateNew, FileAccess.Write))
            {
                await using var all = content.AsStream();
                await all.CopyToAsync(stream, cancel);
                stream.Flush(flushToDisk: true);
            }

            File.Move(half, file, overwrite: true);
        }
        catch
        {
            // Cut off, or the disk is full: nothing half written stays.
            File.Delete(half);
            throw;
        }
    }

    private static ProblemException Refused(string detail) => ProblemException.Bad("picture", detail);
}
