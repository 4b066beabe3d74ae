using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Server.Machines;

/// <summary>The machine file as a JSON Schema (2020-12), made from the types that read and write it.</summary>
internal static class MachineFileSchema
{
    public static JsonObject Make()
    {
        var schema = (JsonObject)MachineFile.Json.GetJsonSchemaAsNode(typeof(MachineFile), new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true, TransformSchemaNode = Known });
        var members = schema["properties"]!.AsObject();
        members["format"] = new JsonObject { ["const"] = MachineFile.FormatName };
        members["version"] = new JsonObject { ["const"] = MachineFile.CurrentVersion };
        var whole = new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["$id"] = $"urn:{MachineFile.FormatName.Replace('/', ':')}:{MachineFile.CurrentVersion}",
            ["title"] = "Machine file of Rusty Ledger",
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
                new JsonObject { ["type"] = "object", ["properties"] = new JsonObject { ["word"] = new JsonObject { ["type"] = "string" } }, ["required"] = new JsonArray { "word" }, ["additionalProperties"] = false },
            ];
            if (mayBeNull)
            {
                forms.Add(new JsonObject { ["type"] = "null" });
            }

            return new JsonObject { ["oneOf"] = forms };
        }

        return type == typeof(WireColours)
            ? new JsonObject { ["type"] = mayBeNull ? new JsonArray { "string", "null" } : "string", ["pattern"] = "^([A-Z]{2}(-[A-Z]{2})?)?$", ["description"] = "IEC 60757 codes, such as BU-WH" }
            : schema;
    }

    public static string Text { get; } = JsonSerializer.Serialize(Make(), MachineFile.Json) + "\n";
}
