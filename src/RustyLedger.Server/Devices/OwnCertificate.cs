using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;

namespace RustyLedger.Server.Devices;

/// <summary>A certificate that the ledger makes for itself: nobody vouches for it but its fingerprint.</summary>
internal static class OwnCertificate
{
    private static readonly TimeSpan Good = TimeSpan.FromDays(730);
    private static readonly TimeSpan RenewBefore = TimeSpan.FromDays(30);

    /// <summary>The one in the data folder, or a new one where there is none, it is nearly over, or it is of other names.</summary>
    public static X509Certificate2 In(LedgerOptions options, TimeProvider clock)
    {
        var file = Path.Combine(options.Data, "certificate.pfx");
        var (names, addresses) = Named(options);
        var now = clock.GetUtcNow();
        if (File.Exists(file) && Loaded(file) is { } kept)
        {
            if (kept.NotAfter.ToUniversalTime() > now + RenewBefore && names.All(n => kept.MatchesHostname(n)))
            {
                return kept;
            }

            kept.Dispose();
        }

        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=Rusty Ledger", key, HashAlgorithmName.SHA256);
        var called = new SubjectAlternativeNameBuilder();
        names.ForEach(called.AddDnsName);
        addresses.ForEach(called.AddIpAddress);
        request.CertificateExtensions.Add(called.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        request.CertificateExtensions.Add(
            new X509EnhancedKeyUsageExtension([new Oid("1.3.6.1.5.5.7.3.1", "server authentication")], critical: false)
        );
        using var made = request.CreateSelfSigned(now.AddDays(-1), now + Good);
        Disk.OwnFolder(options.Data);
        File.WriteAllBytes(file, made.Export(X509ContentType.Pkcs12));
        Disk.OwnFile(file);
        return X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    private static X509Certificate2? Loaded(string file)
    {
        try
        {
            return X509CertificateLoader.LoadPkcs12FromFile(file, null);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    private static (List<string> Names, List<IPAddress> Addresses) Named(LedgerOptions options)
    {
        var said = options
            .Hosts.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Concat(Uri.TryCreate(options.PublicAddress, UriKind.Absolute, out var address) ? [address.Host] : Array.Empty<string>())
            .Concat(["localhost", options.Bind, "127.0.0.1"])
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        return (
            said.Where(n => !IPAddress.TryParse(n, out _)).ToList(),
            said.Select(n => IPAddress.TryParse(n, out var ip) ? ip : null)
                .OfType<IPAddress>()
                .Where(ip => !ip.Equals(IPAddress.Any))
                .ToList()
        );
    }

    /// <summary>As a browser shows it: pairs of hex signs.</summary>
    public static string Fingerprint(X509Certificate2 certificate) =>
        string.Join(':', Convert.ToHexString(certificate.GetCertHash(HashAlgorithmName.SHA256)).Chunk(2).Select(pair => new string(pair)));
}
