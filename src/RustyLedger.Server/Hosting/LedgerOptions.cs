using System.Net;

namespace RustyLedger.Server.Hosting;

/// <summary>What the operator may set: <c>--Ledger:Port 7417</c> or the environment's <c>Ledger__Port</c>.</summary>
public sealed class LedgerOptions
{
    public const string Section = "Ledger";

    public int Port { get; set; } = 7417;

    /// <summary>The address to listen on; loopback unless the operator says otherwise.</summary>
    public string Bind { get; set; } = "127.0.0.1";

    /// <summary>Names under which browsers may call, besides the loopback ones; separated by semicolons.</summary>
    public string Hosts { get; set; } = "";

    /// <summary>
    /// The book is a copy that goes its own way from now on: it becomes a ledger of its own, so that bundles tell the two apart.
    /// </summary>
    public bool NewIdentity { get; set; }

    /// <summary>Folder of the database.</summary>
    public string Data { get; set; } = ".data/own";

    /// <summary>Folder of machine files taken in when the database holds no machine; empty for none.</summary>
    public string Demo { get; set; } = "";

    /// <summary>Folder of the built web application; empty to serve only the API.</summary>
    public string Web { get; set; } = "";

    /// <summary>
    /// The address under which a phone finds the ledger, such as <c>https://ledger.example</c>; printed in codes until the shop sets
    /// another. Empty for none.
    /// </summary>
    public string PublicAddress { get; set; } = "";

    /// <summary>A PKCS#12 file for HTTPS; empty for plain HTTP.</summary>
    public string Certificate { get; set; } = "";

    public string CertificatePassword { get; set; } = "";

    /// <summary>The ledger makes a certificate for itself where none is given.</summary>
    public bool SelfSigned { get; set; }

    /// <summary>Also on the machine itself a device has to be let in, such as behind a proxy or where others work on it.</summary>
    public bool GuardLoopback { get; set; }

    /// <summary>A backup is made when the newest is so old; 0 for none.</summary>
    public int BackupHours { get; set; } = 24;

    /// <summary>How many of them are kept.</summary>
    public int BackupsKept { get; set; } = 14;

    /// <summary>What the suspects of a machine stand on is worked out as soon as a visit there is opened.</summary>
    public bool ReasonsAhead { get; set; } = true;

    /// <summary>What is wrong with the settings, in words; null when nothing is.</summary>
    public string? Problem =>
        this switch
        {
            { Port: < 0 or > 65535 } => $"Port is {Port}; it must be between 0 and 65535",
            { Data: "" } => "Data must name a folder",
            _ when !IPAddress.TryParse(Bind, out _) => $"Bind is {Bind}; it must be an IP address, such as 127.0.0.1 or 0.0.0.0",
            _ when RustyLedger.Core.Labels.PublicAddress.Refusal(PublicAddress) is not null =>
                $"PublicAddress is {PublicAddress}; it must be a web address, such as https://ledger.example",
            _ => null,
        };

    /// <summary>Others than the machine itself can reach it, so that a device has to be let in.</summary>
    public bool IsOpen => GuardLoopback || !IPAddress.TryParse(Bind, out var address) || !IPAddress.IsLoopback(address);

    public string DatabaseFile => Path.Combine(Data, "ledger.db");
}

/// <summary>What the operator set cannot be used; the message says which setting and why.</summary>
public sealed class LedgerOptionsException(string problem) : Exception(problem);
