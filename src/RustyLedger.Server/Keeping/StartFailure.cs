using System.Net.Sockets;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Connections;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Keeping;

/// <summary>What a start that failed comes to, whatever failed.</summary>
internal static class StartFailure
{
    public static StartException Of(Exception failure, string[] args)
    {
        var options = LedgerHost.OptionsOf(args, mayBeWrong: true);
        for (var at = failure; at is not null; at = at.InnerException)
        {
            switch (at)
            {
                case AddressInUseException or SocketException { SocketErrorCode: SocketError.AddressAlreadyInUse }:
                    return new StartException(
                        StartException.Address,
                        $"Port {options.Port} is in use by another program. End that, or choose another with --port."
                    );
                case SocketException { SocketErrorCode: SocketError.AddressNotAvailable }:
                    return new StartException(
                        StartException.Address,
                        $"This machine has no address {options.Bind}. Choose one of its own with --bind, or 0.0.0.0 for all."
                    );
                case SocketException { SocketErrorCode: SocketError.AccessDenied }:
                    return new StartException(
                        StartException.Address,
                        $"Port {options.Port} may not be used by this account. Choose one above 1023 with --port."
                    );
                case FileNotFoundException
                or DirectoryNotFoundException
                or CryptographicException when options.Certificate.Length > 0 && !File.Exists(options.Certificate):
                    return new StartException(StartException.Address, $"There is no certificate {options.Certificate}.");
                case CryptographicException:
                    return new StartException(
                        StartException.Address,
                        $"The certificate {options.Certificate} cannot be read: it is no PKCS#12 file, or its password is another."
                    );
            }
        }

        return StartException.Of(failure, options.Data)
            ?? new StartException(1, $"The ledger could not start: {failure.Message.ReplaceLineEndings(" ")} ({failure.GetType().Name})");
    }
}
