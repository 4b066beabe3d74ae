using System.Buffers.Binary;
using SkiaSharp;

namespace RustyLedger.Server.Photographs;

/// <summary>
/// Whether a picture carries more than itself: where it was taken, with what, by whom, a comment, or anything behind its end. Told by
/// the parts of its format that a picture needs: what is none of them is hidden.
/// </summary>
internal static class HiddenData
{
    /// <param name="format">As its content says.</param>
    public static bool IsIn(ReadOnlySpan<byte> content, SKEncodedImageFormat format) =>
        format switch
        {
            SKEncodedImageFormat.Jpeg => InJpeg(content),
            SKEncodedImageFormat.Png => InPng(content),
            SKEncodedImageFormat.Webp => InWebp(content),
            _ => true,
        };

    /// <summary>ISO/IEC 10918-1, annex B: markers with their lengths; a scan runs to the next marker that is none of its own.</summary>
    private static bool InJpeg(ReadOnlySpan<byte> jpeg)
    {
        const byte Start = 0xD8;
        const byte End = 0xD9;
        const byte Scan = 0xDA;
        var at = 2;
        if (jpeg.Length < 4 || jpeg[0] != 0xFF || jpeg[1] != Start)
        {
            return true;
        }

        while (at + 1 < jpeg.Length)
        {
            if (jpeg[at] != 0xFF)
            {
                return true;
            }

            var marker = jpeg[at + 1];
            if (marker == 0xFF)
            {
                at++;
                continue;
            }

            if (marker == End)
            {
                return at + 2 != jpeg.Length;
            }

            if (at + 4 > jpeg.Length)
            {
                return true;
            }

            var length = BinaryPrimitives.ReadUInt16BigEndian(jpeg[(at + 2)..]);
            if (length < 2 || at + 2 + length > jpeg.Length || IsHiddenSegment(marker, jpeg.Slice(at + 4, length - 2)))
            {
                return true;
            }

            at += 2 + length;
            at = marker == Scan ? EndOfScan(jpeg, at) : at;
        }

        return true;
    }

    /// <summary>
    /// A JPEG without what is hidden in it, its points as they were; null where its parts do not follow one another as they should.
    /// </summary>
    public static byte[]? Without(ReadOnlySpan<byte> jpeg)
    {
        const int Marker = 2;
        var plain = new List<Range>();
        var at = Marker;
        if (jpeg.Length < 4 || jpeg[0] != 0xFF || jpeg[1] != 0xD8)
        {
            return null;
        }

        var from = 0;
        while (at + 4 <= jpeg.Length && jpeg[at] == 0xFF && jpeg[at + 1] != 0xFF)
        {
            var marker = jpeg[at + 1];
            var length = BinaryPrimitives.ReadUInt16BigEndian(jpeg[(at + Marker)..]);
            if (length < 2 || at + Marker + length > jpeg.Length)
            {
                return null;
            }

            if (IsHiddenSegment(marker, jpeg.Slice(at + 4, length - 2)))
            {
                plain.Add(from..at);
                from = at + Marker + length;
            }

            at += Marker + length;
            if (marker != 0xDA)
            {
                continue;
            }

            at = EndOfScan(jpeg, at);
            if (at + 1 < jpeg.Length && jpeg[at + 1] == 0xD9)
            {
                plain.Add(from..(at + Marker));
                return Together(jpeg, plain);
            }
        }

        return null;
    }

    private static byte[] Together(ReadOnlySpan<byte> content, List<Range> parts)
    {
        var all = new byte[parts.Sum(p => p.End.Value - p.Start.Value)];
        var at = 0;
        foreach (var part in parts)
        {
            content[part].CopyTo(all.AsSpan(at));
            at += part.End.Value - part.Start.Value;
        }

        return all;
    }

    /// <summary>Stuffed bytes and restarts belong to the scan; the next marker that is none of them ends it.</summary>
    private static int EndOfScan(ReadOnlySpan<byte> jpeg, int at)
    {
        while (at + 1 < jpeg.Length && !(jpeg[at] == 0xFF && jpeg[at + 1] is not (0x00 or >= 0xD0 and <= 0xD7)))
        {
            at++;
        }

        return at;
    }

    private static bool IsHiddenSegment(byte marker, ReadOnlySpan<byte> content) =>
        marker switch
        {
            0xFE => true, // a comment
            0xE0 => !content.StartsWith("JFIF\0"u8) && !content.StartsWith("JFXX\0"u8),
            0xE2 => !content.StartsWith("ICC_PROFILE\0"u8),
            0xEE => !content.StartsWith("Adobe"u8),
            >= 0xE0 and <= 0xEF => true, // Exif, XMP, IPTC and whatever makers add
            _ => false,
        };

    /// <summary>PNG, third edition, clause 11: the chunks that say how a picture looks.</summary>
    private static bool InPng(ReadOnlySpan<byte> png)
    {
        const int Signature = 8;
        var at = Signature;
        while (at + 12 <= png.Length)
        {
            var length = BinaryPrimitives.ReadUInt32BigEndian(png[at..]);
            var type = png.Slice(at + 4, 4);
            if (length > int.MaxValue || at + 12 + (long)length > png.Length || !IsOfPicture(type))
            {
                return true;
            }

            at += 12 + (int)length;
            if (type.SequenceEqual("IEND"u8))
            {
                return at != png.Length;
            }
        }

        return true;
    }

    private static bool IsOfPicture(ReadOnlySpan<byte> chunk)
    {
        var known = "IHDRPLTEIDATIENDtRNScHRMgAMAiCCPsBITsRGBcICPbKGDpHYs"u8;
        for (var i = 0; i < known.Length; i += 4)
        {
            if (chunk.SequenceEqual(known.Slice(i, 4)))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>RFC 9649: the chunks of the container.</summary>
    private static bool InWebp(ReadOnlySpan<byte> webp)
    {
        if (webp.Length < 12 || BinaryPrimitives.ReadUInt32LittleEndian(webp[4..]) + 8L != webp.Length)
        {
            return true;
        }

        var at = 12;
        while (at + 8 <= webp.Length)
        {
            var length = BinaryPrimitives.ReadUInt32LittleEndian(webp[(at + 4)..]);
            var type = webp.Slice(at, 4);
            if (
                !type.SequenceEqual("VP8 "u8)
                && !type.SequenceEqual("VP8L"u8)
                && !type.SequenceEqual("VP8X"u8)
                && !type.SequenceEqual("ALPH"u8)
                && !type.SequenceEqual("ICCP"u8)
            )
            {
                return true;
            }

            // Chunks begin at even places.
            var next = at + 8L + length + (length & 1);
            if (next > webp.Length)
            {
                return true;
            }

            at = (int)next;
        }

        return at != webp.Length;
    }
}
