using Microsoft.AspNetCore.OpenApi;

namespace RustyLedger.Server.Hosting;

/// <summary>Shapes the OpenAPI document so that the generated client is exact.</summary>
internal static class Documents
{
    public static void Describe(OpenApiOptions options)
    {
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info.Title = "Rusty Ledger";
                document.Info.Version = "1";
                // The address is the one the page came from.
                document.Servers?.Clear();
                return Task.CompletedTask;
            }
        );
    }
}
