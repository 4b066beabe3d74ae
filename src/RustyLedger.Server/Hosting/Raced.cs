using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Hosting;

/// <summary>
/// Two who write at the very same moment: the one who was a moment later is answered as if it had come after the other, with both texts
/// where they clash.
/// </summary>
internal static class Raced
{
    // SQLITE_CONSTRAINT, https://www.sqlite.org/rescode.html
    private const int Constraint = 19;

    public static void AskAgainWhereRaced(this RouteGroupBuilder api) =>
        api.AddEndpointFilter(
            async (call, next) =>
            {
                try
                {
                    return await next(call);
                }
                catch (DbUpdateException failure) when (IsRace(failure) && MayBeAskedAgain(call))
                {
                    // Nothing of it was written; what the other wrote is read now.
                    call.HttpContext.RequestServices.GetRequiredService<LedgerContext>().ChangeTracker.Clear();
                    return await next(call);
                }
            }
        );

    private static bool IsRace(DbUpdateException failure) =>
        failure is DbUpdateConcurrencyException || failure.InnerException is SqliteException { SqliteErrorCode: Constraint };

    /// <summary>A body that was read as it came is gone.</summary>
    private static bool MayBeAskedAgain(EndpointFilterInvocationContext call) =>
        !call.Arguments.Any(a => a is HttpRequest or HttpContext or Stream or IFormFile);
}
