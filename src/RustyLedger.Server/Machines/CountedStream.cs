using System.Security.Cryptography;

namespace RustyLedger.Server.Machines;

/// <summary>Passes on what is written, and tells how much it was and its SHA-256: what is packed need not be held to be known.</summary>
internal sealed class CountedStream(Stream into) : Stream
{
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private long _written;

    public override bool CanRead => false;

    public override bool CanSeek => false;

    public override bool CanWrite => true;

    /// <summary>Bytes written.</summary>
    public override long Length => _written;

    public override long Position
    {
        get => _written;
        set => throw new NotSupportedException();
    }

    /// <summary>In hex, of what was written since the last time it was asked.</summary>
    public string Sha256() => Convert.ToHexStringLower(_hash.GetHashAndReset());

    public override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

    public override void Write(ReadOnlySpan<byte> buffer)
    {
        Count(buffer);
        into.Write(buffer);
    }

    public override Task WriteAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        WriteAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    public override ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
    {
        Count(buffer.Span);
        return into.WriteAsync(buffer, cancellationToken);
    }

    public override void Flush() => into.Flush();

    public override Task FlushAsync(CancellationToken cancellationToken) => into.FlushAsync(cancellationToken);

    public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    protected override void Dispose(bool disposing)
    {
        _hash.Dispose();
        base.Dispose(disposing);
    }

    private void Count(ReadOnlySpan<byte> written)
    {
        _hash.AppendData(written);
        _written += written.Length;
    }
}
