using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using SkiaSharp;

namespace RustyLedger.Bench;

/// <summary>
/// What a working day does to the memory of the server, in minutes: people who look, measure, photograph, print and send machines about,
/// all at once and twenty times as fast as hands can, on ten machines and on 20,000. Level is what must come out: the last quarter like
/// the second.
/// </summary>
internal static class SoakBench
{
    private const int UsualMinutes = 20;
    private const int People = 6;

    /// <param name="minutes">For each of the sizes; null for <see cref="UsualMinutes"/>.</param>
    /// <param name="machines">One size alone; null for both.</param>
    public static async Task Run(string? minutes, string? machines)
    {
        var lasting = TimeSpan.FromMinutes(minutes is null ? UsualMinutes : double.Parse(minutes, CultureInfo.InvariantCulture));
        foreach (var size in machines is null ? (int[])[10, RecordBench.Machines] : [int.Parse(machines, CultureInfo.InvariantCulture)])
        {
            await Soak(size, lasting);
        }
    }

    private static async Task Soak(int machines, TimeSpan time)
    {
        using var server = await RecordBench.Filled(machines);
        Console.WriteLine($"Mixed load by {People} people on {machines} machines for {time.TotalMinutes:0.#} minutes");
        var http = server.Http;
        var photograph = Photograph();
        foreach (var person in Enumerable.Range(0, People))
        {
            await Answered(
                http.PostAsJsonAsync(
                    "/api/visits",
                    new
                    {
                        id = $"soak-v{person}",
                        roundId = $"soak-r{person}",
                        machineId = $"m{person + 1}",
                        complaint = "",
                        personId = "p",
                    }
                )
            );
        }

        var watch = Stopwatch.StartNew();
        var people = Enumerable.Range(0, People).Select(p => Work(http, p, machines, photograph, time)).ToList();
        var samples = new List<long>();
        var told = 0.0;
        while (watch.Elapsed < time && people.TrueForAll(p => !p.IsCompleted))
        {
            await Task.Delay(TimeSpan.FromSeconds(5));
            samples.Add(server.MegaBytes);
            if (watch.Elapsed.TotalMinutes >= told + 1)
            {
                told = Math.Floor(watch.Elapsed.TotalMinutes);
                Console.WriteLine($"{"  after minute " + told, -44} {samples[^1], 8} MB");
            }
        }

        var acts = (await Task.WhenAll(people)).Sum();
        var quarter = Math.Max(1, samples.Count / 4);
        Console.WriteLine($"{"acts that were answered", -44} {acts, 8}");
        Console.WriteLine($"{"memory, median of the second quarter", -44} {Median(samples.Skip(quarter).Take(quarter)), 8} MB");
        Console.WriteLine($"{"memory, median of the last quarter", -44} {Median(samples.TakeLast(quarter)), 8} MB");
        Console.WriteLine($"{"memory, the most at any moment", -44} {server.MostMegaBytes, 8} MB");
    }

    private static long Median(IEnumerable<long> samples)
    {
        var sorted = samples.Order().ToList();
        return sorted.Count > 0 ? sorted[sorted.Count / 2] : 0;
    }

    /// <summary>One person's day, drawn by lot with a seed; what is refused ends it.</summary>
    private static async Task<int> Work(HttpClient http, int person, int machines, byte[] photograph, TimeSpan time)
    {
        var dice = new Random(person);
        var acts = 0;
        var watch = Stopwatch.StartNew();
        for (; watch.Elapsed < time; acts++)
        {
            var machine = dice.Next(1, machines + 1);
            switch (dice.Next(1000))
            {
                case < 350:
                    await Answered(RecordBench.Post(http, $"soak-r{person}", $"soak-{person}-{acts}", acts));
                    break;
                case < 500:
                    await http.GetStringAsync($"/api/machines?find={Uri.EscapeDataString($"belt {machine}")}&take=7");
                    break;
                case < 600:
                    await http.GetStringAsync($"/api/machines?site=Site%20{machine % 50}&take=100");
                    break;
                case < 700:
                    await http.GetStringAsync($"/api/machines/m{machine}");
                    break;
                case < 780:
                    await http.GetStringAsync($"/api/machines/m{machine}/timeline");
                    break;
                case < 840:
                    await http.GetStringAsync("/api/home");
                    break;
                case < 880:
                    await http.GetStringAsync("/api/machines/LARGE");
                    break;
                case < 900:
                    await http.GetStringAsync("/api/rounds/large-r");
                    break;
                case < 930:
                    await Photographed(http, person, acts, photograph);
                    break;
                case < 950:
                    var tags = string.Join(',', Enumerable.Range(1, 100).Select(i => $"LY-{Math.Min(i, machines):0000}").Distinct());
                    await http.GetByteArrayAsync($"/api/labels.pdf?machines={tags}");
                    break;
                case < 998:
                    var rows = string.Concat(
                        Enumerable.Range(0, 1000).Select(i => $"J{i / 25},{(i % 25) + 1},BU-WH,signal {i},24 V ±5 %\r\n")
                    );
                    await Answered(
                        http.PostAsync(
                            "/api/board-types/large-0/terminals/preview",
                            new StringContent($"connector,pin,colour,signal,expected\r\n{rows}", Encoding.UTF8, "text/csv")
                        )
                    );
                    break;
                default:
                    // Every dozen seconds or so, the machine of 5,000 readings goes out, and is looked at where it comes in.
                    using (var bundle = new ByteArrayContent(await http.GetByteArrayAsync("/api/machines/LARGE/bundle")))
                    {
                        await Answered(http.PostAsync("/api/bundles/preview", bundle));
                    }

                    break;
            }

            // Nobody presses without a breath.
            await Task.Delay(dice.Next(20, 200));
        }

        return acts;
    }

    private static async Task Photographed(HttpClient http, int person, int act, byte[] photograph)
    {
        using var picture = new ByteArrayContent(photograph);
        var at = DateTimeOffset.UtcNow.ToString("O", CultureInfo.InvariantCulture);
        await Answered(
            http.PostAsync(
                $"/api/photographs?id=soak-p{person}-{act}&machineId=m{person + 1}&kind=board&personId=p"
                    + $"&takenAt={Uri.EscapeDataString(at)}",
                picture
            )
        );
    }

    private static async Task Answered(Task<HttpResponseMessage> sent)
    {
        using var answer = await sent;
        if (!answer.IsSuccessStatusCode)
        {
            throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
        }
    }

    /// <summary>As large as a phone's camera makes them: 12 megapixels.</summary>
    private static byte[] Photograph()
    {
        using var bitmap = new SKBitmap(4000, 3000);
        using (var canvas = new SKCanvas(bitmap))
        {
            var dice = new Random(1);
            canvas.Clear(SKColors.DarkOliveGreen);
            using var paint = new SKPaint();
            for (var i = 0; i < 4000; i++)
            {
                paint.Color = new SKColor((uint)dice.Next() | 0xff000000);
                canvas.DrawRect(dice.Next(4000), dice.Next(3000), dice.Next(10, 120), dice.Next(10, 120), paint);
            }
        }

        using var encoded = bitmap.Encode(SKEncodedImageFormat.Jpeg, 90);
        return encoded.ToArray();
    }
}
