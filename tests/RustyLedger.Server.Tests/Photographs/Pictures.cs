using SkiaSharp;

namespace RustyLedger.Server.Tests.Photographs;

/// <summary>Makes pictures as cameras and spoilers make them.</summary>
internal static class Pictures
{
    /// <summary>Red on the left half, blue on the right, as the sensor saw it.</summary>
    public static byte[] Of(SKEncodedImageFormat format = SKEncodedImageFormat.Jpeg, int width = 640, int height = 400)
    {
        using var bitmap = new SKBitmap(width, height);
        using var canvas = new SKCanvas(bitmap);
        canvas.Clear(SKColors.Red);
        using var blue = new SKPaint { Color = SKColors.Blue };
        canvas.DrawRect(width / 2, 0, width / 2f, height, blue);
        using var image = SKImage.FromBitmap(bitmap);
        using var data = image.Encode(format, 92);
        return data.ToArray();
    }

    /// <summary>As large as a phone's, and unlike any of another number.</summary>
    public static byte[] Any(int number)
    {
        using var bitmap = new SKBitmap(1600, 1200);
        using var canvas = new SKCanvas(bitmap);
        canvas.Clear(new SKColor((uint)(number * 7919) | 0xff000000));
        using var data = bitmap.Encode(SKEncodedImageFormat.Jpeg, 92);
        return data.ToArray();
    }

    /// <summary>A JPEG with an Exif segment (CIPA DC-008) that holds an orientation and a position.</summary>
    public static byte[] WithExif(ushort orientation)
    {
        using var tiff = new MemoryStream();
        using var w = new BinaryWriter(tiff);
        w.Write("II*\0"u8);
        w.Write(8u);
        w.Write((ushort)2); // entries of the first directory
        Entry(w, 0x0112, 3, 1, orientation);
        Entry(w, 0x8825, 4, 1, 38); // where the directory of the position begins
        w.Write(0u);
        w.Write((ushort)2);
        Entry(w, 0x0001, 2, 2, 'N');
        Entry(w, 0x0002, 5, 3, 68);
        w.Write(0u);
        foreach (var part in (uint[])[57, 1, 30, 1, 12, 1])
        {
            w.Write(part);
        }

        var exif = tiff.ToArray();
        var jpeg = Of();
        var length = exif.Length + 8;
        return [.. jpeg[..2], 0xFF, 0xE1, (byte)(length >> 8), (byte)length, .. "Exif\0\0"u8, .. exif, .. jpeg[2..]];
    }

    private static void Entry(BinaryWriter w, ushort tag, ushort type, uint count, uint value)
    {
        w.Write(tag);
        w.Write(type);
        w.Write(count);
        w.Write(value);
    }
}
