using System.Security.Cryptography;

namespace RustyLedger.Server.Devices;

/// <summary>
/// The short code that lets one device in: shown where only somebody of the shop can see it, typed or scanned on the device, good
/// once and for a quarter of an hour.
/// </summary>
internal sealed class LetInCode(TimeProvider clock)
{
    /// <summary>Without signs that are taken for each other.</summary>
    private const string Signs = "23456789ABCDEFGHJKMNPQRSTUVWXYZ";
    private const int Length = 8;

    private static readonly TimeSpan Good = TimeSpan.FromMinutes(15);

    private readonly Lock _gate = new();
    private string _code = "";
    private DateTimeOffset _until;

    /// <summary>A new code; the one before is good no more.</summary>
    /// <returns>In two groups, such as <c>7KM2-9QXA</c>, and until when it is good.</returns>
    public (string Code, DateTimeOffset Until) Make()
    {
        lock (_gate)
        {
            _code = RandomNumberGenerator.GetString(Signs, Length);
            _until = clock.GetUtcNow() + Good;
            return ($"{_code[..4]}-{_code[4..]}", _until);
        }
    }

    /// <summary>Uses the code up.</summary>
    /// <returns>False where it is another, was used, or its time is over.</returns>
    public bool Use(string typed)
    {
        ArgumentNullException.ThrowIfNull(typed);
        var said = new string([.. typed.ToUpperInvariant().Where(char.IsAsciiLetterOrDigit)]);
        lock (_gate)
        {
            var isIt =
                _code.Length > 0
                && clock.GetUtcNow() < _until
                && CryptographicOperations.FixedTimeEquals(
                    System.Text.Encoding.UTF8.GetBytes(said),
                    System.Text.Encoding.UTF8.GetBytes(_code)
                );
            if (isIt)
            {
                _code = "";
            }

            return isIt;
        }
    }
}
