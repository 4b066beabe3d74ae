namespace RustyLedger.Server.Hosting;

/// <summary>Which ledger this is. Set once the book is open; a copy of a book is the same ledger.</summary>
internal sealed class LedgerIdentity
{
    public string Id { get; set; } = "";
}

/// <summary>
/// Every answer of the API says which ledger gives it, and names the parcel that it answers. A device takes nothing off that was not
/// acknowledged so: a log-in page, a proxy or another ledger may answer anything with 200.
/// </summary>
internal static class Receipts
{
    public const string Ledger = "X-Ledger";
    public const string Parcel = "X-Parcel";

    private const int MostSigns = 64;

    /// <summary>Refuses, before it is read, what was made for another ledger.</summary>
    public static void UseReceipts(this WebApplication app) =>
        app.Use(
            async (context, next) =>
            {
                if (!context.Request.Path.StartsWithSegments("/api"))
                {
                    await next(context);
                    return;
                }

                var own = context.RequestServices.GetRequiredService<LedgerIdentity>().Id;
                context.Response.OnStarting(() =>
                {
                    context.Response.Headers[Ledger] = own;
                    if (context.Request.Headers[Parcel] is [{ Length: > 0 and <= MostSigns } parcel])
                    {
                        context.Response.Headers[Parcel] = parcel;
                    }

                    return Task.CompletedTask;
                });
                if (context.Request.Headers[Ledger] is [{ Length: > 0 } meant] && meant != own)
                {
                    throw new ProblemException(
                        StatusCodes.Status421MisdirectedRequest,
                        "Another ledger",
                        "This was made for another ledger than the one that answers here."
                    );
                }

                await next(context);
            }
        );
}
