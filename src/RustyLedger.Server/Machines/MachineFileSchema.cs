using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using RustyLedger.Core;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Server.Machines;

/// <summary>The machine file and the list of a bundle as JSON Schemas (2020-12), made from the types that read and write them.</summary>
internal static class MachineFileSchema
{
    public static JsonObject Make() =>
        Make(typeof(MachineFile), MachineFile.FormatName, MachineFile.CurrentVersion, "Machine file of Rusty Ledger");

    private static JsonObject Make(Type type, string format, int version, string title)
    {
        var schema = (JsonObject)
            MachineFile.Json.GetJsonSchemaAsNode(
                type,
                new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true, TransformSchemaNode = Known }
            );
        var members = schema["properties"]!.AsObject();
        members["format"] = new JsonObject { ["const"] = format };
        members["version"] = new JsonObject { ["const"] = version };
        var whole = new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["$id"] = $"urn:{format.Replace('/', ':')}:{version}",
            ["title"] = title,
        };
        foreach (var (name, value) in schema.ToList())
        {
            schema.Remove(name);
            whole[name] = value;
        }

        return whole;
    }

    /// <summary>What the types with a notation of their own look like in the file.</summary>
    private static JsonNode Known(JsonSchemaExporterContext context, JsonNode schema)
    {
        var type = context.TypeInfo.Type;
        if (schema is JsonObject { } members && members.ContainsKey("required"))
        {
            // What may be null may be left out.
            members["required"] = new JsonArray([.. context.TypeInfo.Properties.Where(p => p.IsRequired).Select(p => (JsonNode)p.Name)]);
        }

        foreach (var member in context.TypeInfo.Properties.Where(MachineFile.IsWorkedOut))
        {
            (schema as JsonObject)?["properties"]?.AsObject().Remove(member.Name);
        }

        var mayBeNull = context.PropertyInfo is { IsGetNullable: true };
        if (type == typeof(Limit))
        {
            JsonArray forms =
            [
                new JsonObject { ["type"] = "string", ["description"] = "a limit in its one notation, such as 24 V ±5 %" },
                new JsonObject
                {
                    ["type"] = "object",
                    ["properties"] = new JsonObject { ["word"] = new JsonObject { ["type"] = "string" } },
                    ["required"] = new JsonArray { "word" },
                    ["additionalProperties"] = false,
                },
            ];
            if (mayBeNull)
            {
                forms.Add(new JsonObject { ["type"] = "null" });
            }

            return new JsonObject { ["oneOf"] = forms };
        }

        if (type.IsGenericType && type.GetGenericTypeDefinition() == typeof(Id<>))
        {
            return new JsonObject { ["type"] = "string" };
        }

        if (Nullable.GetUnderlyingType(type) is { IsGenericType: true } id && id.GetGenericTypeDefinition() == typeof(Id<>))
        {
            return new JsonObject
            {
                ["type"] = new JsonArray { "string", "null" },
            };
        }

        if (type == typeof(PinAddress))
        {
            return Address(mayBeNull);
        }

        return type == typeof(WireColours)
            ? new JsonObject
            {
                ["type"] = mayBeNull ? new JsonArray { "string", "null" } : "string",
                ["pattern"] = "^([A-Z]{2}(-[A-Z]{2})?)?$",
                ["description"] = "IEC 60757 codes, such as BU-WH",
            }
            : schema;
    }

    /// <summary>One of the four kinds of place a probe can be put.</summary>
    private static JsonObject Address(bool mayBeNull)
    {
        JsonArray forms = [];
        foreach (
            var members in (string[][])
                [
                    ["position", "pin"],
                    ["part", "pin"],
                    ["place"],
                    ["pin"],
                ]
        )
        {
            forms.Add(
                new JsonObject
                {
                    ["type"] = "object",
                    ["properties"] = new JsonObject(
                        members.Select(m => KeyValuePair.Create(m, (JsonNode?)new JsonObject { ["type"] = "string" }))
                    ),
                    ["required"] = new JsonArray([.. members.Select(m => (JsonNode)m)]),
                    ["additionalProperties"] = false,
                }
            );
        }

        if (mayBeNull)
        {
            forms.Add(new JsonObject { ["type"] = "null" });
        }

        return new JsonObject { ["oneOf"] = forms };
    }

    /// <summary>Of <c>bundle.json</c>.</summary>
    public static string Bundle { get; } =
        JsonSerializer.Serialize(
            Make(typeof(BundleManifest), BundleManifest.FormatName, BundleManifest.CurrentVersion, "List of a bundle of Rusty Ledger"),
            MachineFile.Json
        ) + "\n";

    public static string Library { get; } =
        JsonSerializer.Serialize(
            Make(
                typeof(LibraryFile),
                LibraryFile.FormatName,
                LibraryFile.CurrentVersion,
                "Library file of Rusty Ledger: a model or a board type"
            ),
            MachineFile.Json
        ) + "\n";

    public static string Text { get; } = JsonSerializer.Serialize(Make(), MachineFile.Json) + "\n";
}
