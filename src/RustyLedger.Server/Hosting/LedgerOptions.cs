using System.ComponentModel.DataAnnotations;

namespace RustyLedger.Server.Hosting;

/// <summary>What the operator may set: <c>--Ledger:Port 7417</c> or the environment's <c>Ledger__Port</c>.</summary>
public sealed class LedgerOptions
{
    public const string Section = "Ledger";

    [Range(0, 65535)]
    public int Port { get; set; } = 7417;

    /// <summary>The address to listen on; loopback unless the operator says otherwise.</summary>
    [Required]
    public string Bind { get; set; } = "127.0.0.1";

    /// <summary>Names under which browsers may call, besides the loopback ones; separated by semicolons.</summary>
    public string Hosts { get; set; } = "";

    /// <summary>Folder of the database.</summary>
    [Required]
    public string Data { get; set; } = ".data/own";

    /// <summary>Folder of machine files taken in when the database holds no machine; empty for none.</summary>
    public string Demo { get; set; } = "";

    /// <summary>Folder of the built web application; empty to serve only the API.</summary>
    public string Web { get; set; } = "";

    /// <summary>A PKCS#12 file for HTTPS; empty for plain HTTP.</summary>
    public string Certificate { get; set; } = "";

    public string CertificatePassword { get; set; } = "";

    public string DatabaseFile => Path.Combine(Data, "ledger.db");
}
