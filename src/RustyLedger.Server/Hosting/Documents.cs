using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Server.Hosting;

/// <summary>Shapes the OpenAPI document so that the generated client is exact.</summary>
internal static class Documents
{
    private static readonly string[] AddressMembers = ["position", "part", "place", "pin"];

    public static void Describe(OpenApiOptions options)
    {
        options.CreateSchemaReferenceId = type =>
            IsId(type.Type) || type.Type == typeof(WireColours) ? null : OpenApiOptions.CreateDefaultSchemaReferenceId(type);
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                // What Core writes in a notation of its own.
                if (IsId(context.JsonTypeInfo.Type))
                {
                    var orNull = Nullable.GetUnderlyingType(context.JsonTypeInfo.Type) is null ? default : JsonSchemaType.Null;
                    (schema.Type, schema.Properties) = (JsonSchemaType.String | orNull, null);
                }
                else if (context.JsonTypeInfo.Type == typeof(WireColours))
                {
                    (schema.Type, schema.Properties) = (JsonSchemaType.String, null);
                }
                else if (context.JsonTypeInfo.Type == typeof(PinAddress))
                {
                    schema.Type = JsonSchemaType.Object;
                    schema.Properties = AddressMembers.ToDictionary(
                        name => name,
                        IOpenApiSchema (_) => new OpenApiSchema { Type = JsonSchemaType.String }
                    );
                    schema.AdditionalPropertiesAllowed = false;
                }

                return Task.CompletedTask;
            }
        );
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

    private static bool IsId(Type type) =>
        (Nullable.GetUnderlyingType(type) ?? type) is { IsGenericType: true } generic && generic.GetGenericTypeDefinition() == typeof(Id<>);
}
