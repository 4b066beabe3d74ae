using System.Diagnostics;
using System.Text;
using System.Text.Json.Nodes;
using SkiaSharp;

namespace RustyLedger.Bench;

/// <summary>
/// A machine with 200 photographs as a bundle: out of one ledger, looked through and taken in by another, and the same again.
/// </summary>
internal static class BundleBench
{
    private const int Photographs = 200;

    public static async Task Run()
    {
        var zip = Path.GetTempFileName();
        using (var from = await Server.Start(Directory.CreateTempSubdirectory("ledger-bench-").FullName))
        {
            await Fill(from.Http);
            await Time(
                $"bundle of {Photographs} photographs out",
                async () =>
                {
                    await using var file = File.Create(zip);
                    await (await from.Http.GetStreamAsync("/api/machines/LY-01/bundle")).CopyToAsync(file);
                }
            );
            Say("memory of the server that packed it", from.MegaBytes, "MB");
        }

        Say("size of the bundle", new FileInfo(zip).Length / 1024 / 1024, "MB");
        using var to = await Server.Start(Directory.CreateTempSubdirectory("ledger-bench-").FullName);
        await Time("looked through", () => Post(to.Http, "/api/bundles/preview", zip));
        await Time("taken in", () => Post(to.Http, "/api/bundles", zip));
        await Time("the same again", () => Post(to.Http, "/api/bundles", zip));
        Say("memory of the server that took it in", to.MegaBytes, "MB");
        File.Delete(zip);
    }

    private static async Task Fill(HttpClient http)
    {
        var file = new JsonObject
        {
            ["format"] = "rusty-ledger/machine",
            ["version"] = 1,
            ["people"] = new JsonArray(new JsonObject { ["id"] = "p", ["name"] = "Edda" }),
            ["model"] = new JsonObject
            {
                ["id"] = "m",
                ["maker"] = "Cawdale",
                ["name"] = "Trundle 4",
                ["positions"] = new JsonArray(),
                ["parts"] = new JsonArray(),
                ["states"] = new JsonArray(),
                ["links"] = new JsonArray(),
                ["checks"] = new JsonArray(),
            },
            ["machine"] = new JsonObject
            {
                ["id"] = "ly-01",
                ["tag"] = "LY-01",
                ["name"] = "Belt",
                ["modelId"] = "m",
                ["serial"] = "",
                ["built"] = "",
                ["supply"] = "",
                ["site"] = "",
                ["customer"] = "",
                ["boards"] = new JsonArray(),
                ["overrides"] = new JsonArray(),
            },
        };
        foreach (var list in (string[])["causes", "boardTypes", "settings", "visits", "faults", "snapshots", "photographs", "notes"])
        {
            file[list] = new JsonArray();
        }

        var answer = await http.PostAsync("/api/machine-files", new StringContent(file.ToJsonString(), Encoding.UTF8, "application/json"));
        answer.EnsureSuccessStatusCode();
        for (var i = 0; i < Photographs; i++)
        {
            using var picture = new ByteArrayContent(Picture(i));
            (
                await http.PostAsync(
                    $"/api/photographs?id=p{i}&machineId=ly-01&kind=board&personId=p&takenAt=2026-01-01T00:{i / 60:00}:{i % 60:00}Z",
                    picture
                )
            ).EnsureSuccessStatusCode();
        }
    }

    /// <summary>As many points as a phone's screen shows, with enough in them that JPEG cannot make it small.</summary>
    private static byte[] Picture(int seed)
    {
        var dice = new Random(seed);
        using var bitmap = new SKBitmap(2000, 1500);
        using (var canvas = new SKCanvas(bitmap))
        {
            using var paint = new SKPaint();
            for (var i = 0; i < 4000; i++)
            {
                paint.Color = new SKColor((uint)dice.Next() | 0xFF000000);
                canvas.DrawRect(dice.Next(2000), dice.Next(1500), dice.Next(120), dice.Next(80), paint);
            }
        }

        using var data = bitmap.Encode(SKEncodedImageFormat.Jpeg, 85);
        return data.ToArray();
    }

    private static async Task Post(HttpClient http, string path, string zip)
    {
        await using var file = File.OpenRead(zip);
        using var content = new StreamContent(file);
        content.Headers.ContentType = new("application/zip");
        (await http.PostAsync(path, content)).EnsureSuccessStatusCode();
    }

    private static async Task Time(string what, Func<Task> work)
    {
        var watch = Stopwatch.StartNew();
        await work();
        Say(what, watch.ElapsedMilliseconds, "ms");
    }

    private static void Say(string what, long number, string unit) => Console.WriteLine($"{what, -44} {number, 8} {unit}");
}
