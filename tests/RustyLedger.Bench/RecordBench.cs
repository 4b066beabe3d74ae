using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using RustyLedger.Core.Machines;

namespace RustyLedger.Bench;

/// <summary>
/// The record at the size of a large shop: 20,000 machines, 200,000 readings, one machine with a great deal of everything.
/// </summary>
internal static class RecordBench
{
    public const int Machines = 20_000;
    private const int ReadingsEach = 10;
    private const int Boards = 12;
    private const int PinsPerBoard = 125;
    private const int Photographs = 40;
    private const int Readings = 5000;
    private static readonly CultureInfo Plain = CultureInfo.InvariantCulture;

    public static async Task Run()
    {
        using var server = await Seeded(Machines);
        var http = server.Http;
        Console.WriteLine($"The record over HTTP: {Machines} machines, {Machines * ReadingsEach} readings");
        string[] found = ["LY-0777", "n0t h3re", "ferry 1234", "CW-4471", "slips", "q", "QX?1200", "hoist 3"];
        await Time(
            "find, as one types",
            400,
            i => http.GetStringAsync($"/api/machines?find={Uri.EscapeDataString(found[i % found.Length])}&take=7")
        );
        await Time(
            "register, a page by site and fault",
            100,
            i => http.GetStringAsync($"/api/machines?site=Site%20{i % 50}&openFault=true&take=100")
        );
        await Time("register, a page far down", 100, i => http.GetStringAsync($"/api/machines?order=touched&from={i * 190}&take=100"));
        var tags = string.Join(',', Enumerable.Range(1, 500).Select(i => $"LY-{i:0000}"));
        await Time("labels of 500 machines, as PDF", 5, _ => http.GetByteArrayAsync($"/api/labels.pdf?machines={tags}"));
        await Time("home", 50, _ => http.GetStringAsync("/api/home"));

        var file = Large();
        var import = Stopwatch.StartNew();
        await TakeIn(http, file);
        Console.WriteLine($"{"machine file of 5,000 readings in", -44} {import.ElapsedMilliseconds, 8} ms");
        await Photograph(http);
        await Time(
            $"page: {Boards} boards, {Boards * PinsPerBoard} pins, {Photographs} photographs",
            30,
            _ => http.GetStringAsync("/api/machines/LARGE")
        );
        await Time("its time line", 30, _ => http.GetStringAsync("/api/machines/large/timeline"));
        await Time("its round of 5,000 readings", 10, _ => http.GetStringAsync("/api/rounds/large-r"));
        await Stored(http, server.Data);
        await ListOfReadings(http);
        await WhileOneComesIn(http, file);
        await Lists(http);
        Console.WriteLine($"{"memory of the server, working set", -44} {server.MegaBytes, 8} MB");
    }

    /// <summary>A ledger of so many machines and the one with a great deal of everything.</summary>
    public static async Task<Server> Filled(int machines)
    {
        var server = await Seeded(machines);
        await TakeIn(server.Http, Large());
        await Photograph(server.Http);
        return server;
    }

    private static async Task<Server> Seeded(int machines)
    {
        var data = Directory.CreateTempSubdirectory("ledger-bench-").FullName;
        using (await Server.Start(data))
        {
            // Migrated, and stopped again.
        }

        Seed(Path.Combine(data, "ledger.db"), machines);
        return await Server.Start(data);
    }

    private static async Task TakeIn(HttpClient http, string file) =>
        (await http.PostAsync("/api/machine-files", new StringContent(file, Encoding.UTF8, "application/json"))).EnsureSuccessStatusCode();

    private static async Task Photograph(HttpClient http)
    {
        for (var i = 0; i < Photographs; i++)
        {
            using var picture = new ByteArrayContent(Picture);
            (
                await http.PostAsync(
                    $"/api/photographs?id=large-p{i}&machineId=large&kind=board&personId=p&takenAt=2026-01-01T00:00:{i:00}Z",
                    picture
                )
            ).EnsureSuccessStatusCode();
        }
    }

    /// <summary>A reading through the whole application beside a bare commit of the same row, in the same run.</summary>
    private static async Task Stored(HttpClient http, string data)
    {
        (
            await http.PostAsJsonAsync(
                "/api/visits",
                new
                {
                    id = "bench-v",
                    roundId = "bench-r",
                    machineId = "m1",
                    complaint = "",
                    personId = "p",
                }
            )
        ).EnsureSuccessStatusCode();
        await Time("a reading stored, with its verdict", 200, i => Post(http, "bench-r", $"bench-{i}", i));
        await using var bare = new SqliteConnection($"Data Source={Path.Combine(data, "bare.db")};Pooling=False");
        await bare.OpenAsync();
        Execute(
            bare,
            "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; CREATE TABLE R (Id TEXT PRIMARY KEY, RoundId TEXT, Typed TEXT, At INTEGER)"
        );
        await Time(
            "a bare commit to SQLite",
            200,
            i =>
            {
                Execute(bare, $"INSERT INTO R VALUES ('b{i}', 'r', '24.1', {i})");
                return Task.CompletedTask;
            }
        );
    }

    public static Task<HttpResponseMessage> Post(HttpClient http, string round, string id, int order) =>
        http.PostAsJsonAsync(
            $"/api/rounds/{round}/lines",
            new
            {
                id,
                order = 1_800_000_000_000 + order,
                kind = "taken",
                checkKey = (string?)null,
                red = new { address = new { position = "a", pin = "b" }, printed = "J1·1" },
                black = (object?)null,
                mode = "dcVolts",
                state = "running",
                plugged = (bool?)null,
                limit = (string?)null,
                tolerance = new
                {
                    percent = 5,
                    volts = 0.3,
                    ohms = 0.5,
                },
                typed = "24.1",
                choice = (int?)null,
                target = (string?)null,
                reason = "",
                deviceTime = "2026-01-01T00:00:00Z",
                personId = "p",
                meter = "",
            }
        );

    /// <summary>2,000 readings of 1,500 pins as one list.</summary>
    private static async Task ListOfReadings(HttpClient http)
    {
        (
            await http.PostAsJsonAsync(
                "/api/visits",
                new
                {
                    id = "list-v",
                    roundId = "list-r",
                    machineId = "large",
                    complaint = "",
                    personId = "p",
                }
            )
        ).EnsureSuccessStatusCode();
        var rows =
            "time,pin,mode,state,reads\r\n"
            + string.Concat(
                Enumerable
                    .Range(0, 2000)
                    .Select(i =>
                        string.Create(
                            Plain,
                            $"2026-01-01T0{i / 3600}:{i / 60 % 60:00}:{i % 60:00}Z,"
                                + $"P{i % Boards}-J{i % 5}·{(i % 25) + 1},DC V,running,24.1\r\n"
                        )
                    )
            );
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/rounds/list-r/readings") { Content = List(rows) };
        request.Headers.Add("X-Person", "p");
        var watch = Stopwatch.StartNew();
        var answer = await http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        watch.Stop();
        _ = answer.IsSuccessStatusCode && (int?)JsonNode.Parse(text)!["taken"] == 2000 ? 0 : throw new InvalidOperationException(text);
        Console.WriteLine($"{"2,000 readings as one list", -44} {watch.ElapsedMilliseconds, 8} ms");
    }

    /// <summary>How long a reading waits at most while a machine of 5,000 readings is taken in.</summary>
    private static async Task WhileOneComesIn(HttpClient http, string file)
    {
        var second = file.Replace("large", "second", StringComparison.Ordinal)
            .Replace("LARGE", "SECOND", StringComparison.Ordinal)
            .Replace("CW-9", "CW-8", StringComparison.Ordinal);
        var import = http.PostAsync("/api/machine-files", new StringContent(second, Encoding.UTF8, "application/json"));
        var (longest, count, watch) = (TimeSpan.Zero, 0, new Stopwatch());
        while (!import.IsCompleted)
        {
            watch.Restart();
            (await Post(http, "bench-r", $"while-{count}", 10_000 + count)).EnsureSuccessStatusCode();
            longest = watch.Elapsed > longest ? watch.Elapsed : longest;
            count++;
        }

        (await import).EnsureSuccessStatusCode();
        Console.WriteLine(
            string.Create(Plain, $"{"a reading while one comes in, the longest", -44} {longest.TotalMilliseconds, 8:0} ms of {count}")
        );
    }

    private static async Task Lists(HttpClient http)
    {
        var rows =
            "connector,pin,colour,signal,expected\r\n"
            + string.Concat(Enumerable.Range(0, 10_000).Select(i => $"J{i / 25},{(i % 25) + 1},BU-WH,signal {i},24 V ±5 %\r\n"));
        await Time(
            "preview of 10,000 terminal rows",
            3,
            async _ => (await http.PostAsync("/api/board-types/large-0/terminals/preview", List(rows))).EnsureSuccessStatusCode()
        );
        var watch = Stopwatch.StartNew();
        (await http.PostAsync("/api/board-types/large-0/terminals", List(rows))).EnsureSuccessStatusCode();
        Console.WriteLine($"{"10,000 terminal rows taken in", -44} {watch.ElapsedMilliseconds, 8} ms");
        (
            await http.PostAsJsonAsync(
                "/api/snapshots",
                new
                {
                    id = "bench-s",
                    machineId = "large",
                    fittedBoardId = "b0",
                    visitId = (string?)null,
                    kind = "asFound",
                    takenAt = "2026-01-01T00:00:00Z",
                    personId = "p",
                    note = "",
                }
            )
        ).EnsureSuccessStatusCode();
        watch.Restart();
        (
            await http.PostAsync("/api/snapshots/bench-s/list", List(string.Concat(Enumerable.Range(0, 10_000).Select(i => $"c{i} {i}\n"))))
        ).EnsureSuccessStatusCode();
        Console.WriteLine($"{"10,000 settings taken in", -44} {watch.ElapsedMilliseconds, 8} ms");
    }

    private static StringContent List(string text) => new(text, Encoding.UTF8, "text/csv");

    private static async Task Time(string what, int times, Func<int, Task> work)
    {
        await work(times);
        var took = new List<double>();
        for (var i = 0; i < times; i++)
        {
            var watch = Stopwatch.StartNew();
            await work(i);
            took.Add(watch.Elapsed.TotalMilliseconds);
        }

        took.Sort();
        Console.WriteLine(
            string.Create(Plain, $"{what, -44} {took[took.Count / 2], 8:0.0} ms median {took[(int)(took.Count * 0.95)], 8:0.0} ms p95")
        );
    }

    /// <summary>Straight into the tables: through the application it would take longer than all that is measured.</summary>
    private static void Seed(string database, int machines)
    {
        using var connection = new SqliteConnection($"Data Source={database};Pooling=False");
        connection.Open();
        using var transaction = connection.BeginTransaction();
        Execute(connection, "INSERT INTO People (Id, Name, Version) VALUES ('p', 'Edda', 1)");
        Execute(connection, "INSERT INTO Models (Id, Maker, Name, Version) VALUES ('m', 'Cawdale', 'Trundle 4', 1)");
        Execute(
            connection,
            "INSERT INTO States (OwnerId, Id, Ordinal, Name, Energised, Version) VALUES ('m', 'running', 0, 'running', 1, 1)"
        );
        string[] words = ["belt slips", "does not start", "hums", "trips the breaker", "stops halfway"];
        for (var i = 1; i <= machines; i++)
        {
            var (tag, serial, site, word) = ($"LY-{i:0000}", $"CD-{i * 7919 % 99991:00000}", $"Site {i % 50}", words[i % words.Length]);
            var text = FindText.Of([
                tag,
                "Luggage belt zone controller",
                serial,
                site,
                "Ferry customer " + (i % 900),
                "Cawdale",
                "Trundle 4",
                "CW-4471",
                "2.3",
                word,
            ]);
            Execute(
                connection,
                $"INSERT INTO Machines (Id, Tag, Name, ModelId, Serial, Built, Supply, Site, Customer, Finish, Version) VALUES "
                    + $"('m{i}', '{tag}', 'Luggage belt zone controller', 'm', '{serial}', '2020', '', '{site}', '', '', 1)"
            );
            Execute(
                connection,
                $"INSERT INTO Register (MachineId, Text, IsWorn, SortTag, OpenFaults, WaitsForPart, NeedsCare, IsStale, TouchedAt) "
                    + $"VALUES ('m{i}', '{text}', {(i % 4000 == 0 ? 1 : 0)}, 'LY-{i:000000000}', {(i % 7 == 0 ? 1 : 0)}, "
                    + $"{(i % 900 == 0 ? 1 : 0)}, 0, 0, {639_000_000_000_000_000 + i})"
            );
            Execute(
                connection,
                "INSERT INTO Visits (Id, MachineId, Complaint, PersonId, OpenedAt, EndedAt, Ending, EndingNote, \"Left\", Bring, Agreed, "
                    + "Warranty, Version) "
                    + $"VALUES ('v{i}', 'm{i}', '{word}', 'p', 639000000000000000, 639000000000000000, "
                    + $"'{(i % 900 == 0 ? "WaitingForPart" : "Signed")}', '', '[]', '[]', '', 'NotAsked', 1)"
            );
            Execute(connection, $"INSERT INTO Rounds (Id, VisitId, StartedAt, Version) VALUES ('r{i}', 'v{i}', 639000000000000000, 1)");
            Execute(
                connection,
                $"""
                WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {ReadingsEach})
                INSERT INTO Readings (Id, RoundId, "Order", Kind, RedPrinted, BlackPrinted, Mode, State, Tolerance,
                    Typed, Choice, Value, Reason, DeviceTime, ServerTime, PersonId, Meter)
                SELECT 'r{i}-' || i, 'r{i}', i, 'Taken', 'J1·' || i, '', 'DcVolts', 'running',
                    json_object('percent', 5, 'volts', 0.3, 'ohms', 0.5),
                    '24.1', 0,
                    '24.1 V', '', 639000000000000000, 639000000000000000, 'p', '' FROM n
                """
            );
        }

        transaction.Commit();
    }

    private static void Execute(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    /// <summary>A machine file with 12 boards of 125 pins each and a round of 5,000 readings.</summary>
    private static string Large()
    {
        var tolerance = new JsonObject
        {
            ["percent"] = 5,
            ["volts"] = 0.3,
            ["ohms"] = 0.5,
        };
        JsonObject Board(int b) =>
            new()
            {
                ["id"] = $"large-{b}",
                ["partNumber"] = $"CW-9{b:00}",
                ["revision"] = "A",
                ["name"] = $"board {b}",
                ["widthMm"] = 200,
                ["heightMm"] = 160,
                ["tolerance"] = tolerance.DeepClone(),
                ["elements"] = new JsonArray([
                    .. Enumerable
                        .Range(0, 5)
                        .Select(e =>
                            (JsonNode)
                                new JsonObject
                                {
                                    ["id"] = $"j{e}",
                                    ["kind"] = "connector",
                                    ["designator"] = $"J{e}",
                                    ["purpose"] = "",
                                    ["x"] = 10,
                                    ["y"] = 10 + (e * 20),
                                    ["rows"] = 1,
                                    ["pitchMm"] = 5,
                                    ["direction"] = "across",
                                    ["pin1"] = "topLeft",
                                    ["numbering"] = "rowByRow",
                                    ["rating"] = "",
                                    ["pins"] = new JsonArray([
                                        .. Enumerable
                                            .Range(1, PinsPerBoard / 5)
                                            .Select(p =>
                                                (JsonNode)
                                                    new JsonObject
                                                    {
                                                        ["id"] = $"j{e}-{p}",
                                                        ["index"] = p,
                                                        ["label"] = $"{p}",
                                                        ["colours"] = "RD",
                                                        ["signal"] = "24 V",
                                                        ["isSource"] = false,
                                                    }
                                            ),
                                    ]),
                                }
                        ),
                ]),
                ["links"] = new JsonArray(),
                ["checks"] = new JsonArray([
                    .. Enumerable
                        .Range(0, 5)
                        .SelectMany(e =>
                            Enumerable
                                .Range(1, 25)
                                .Select(p =>
                                    (JsonNode)
                                        new JsonObject
                                        {
                                            ["id"] = $"c{e}-{p}",
                                            ["target"] = "pinAndCommon",
                                            ["red"] = new JsonObject { ["pin"] = $"j{e}-{p}" },
                                            ["part"] = "",
                                            ["mode"] = "dcVolts",
                                            ["state"] = "running",
                                            ["limit"] = "24 V ±5 %",
                                            ["remark"] = "",
                                        }
                                )
                        ),
                ]),
            };
        JsonObject Reading(int i) =>
            new()
            {
                ["id"] = $"large-{i}",
                ["order"] = 1_700_000_000_000 + i,
                ["kind"] = "taken",
                ["checkKey"] = $"p{i % Boards}/c{i % 5}-{(i % 25) + 1}",
                ["red"] = new JsonObject { ["position"] = $"p{i % Boards}", ["pin"] = $"j{i % 5}-{(i % 25) + 1}" },
                ["redPrinted"] = "X",
                ["blackPrinted"] = "",
                ["mode"] = "dcVolts",
                ["state"] = "running",
                ["limit"] = "24 V ±5 %",
                ["tolerance"] = tolerance.DeepClone(),
                ["typed"] = "24.1",
                ["choice"] = 0,
                ["reason"] = "",
                ["deviceTime"] = "2026-01-01T00:00:00Z",
                ["serverTime"] = "2026-01-01T00:00:00Z",
                ["personId"] = "p",
                ["meter"] = "",
            };
        JsonArray Each(int count, Func<int, JsonNode> make) => new([.. Enumerable.Range(0, count).Select(make)]);
        return new JsonObject
        {
            ["format"] = "rusty-ledger/machine",
            ["version"] = 1,
            ["people"] = Each(1, _ => new JsonObject { ["id"] = "p", ["name"] = "Edda" }),
            ["causes"] = new JsonArray(),
            ["boardTypes"] = Each(Boards, Board),
            ["settings"] = new JsonArray(),
            ["model"] = new JsonObject
            {
                ["id"] = "large-m",
                ["maker"] = "Cawdale",
                ["name"] = "Large",
                ["positions"] = Each(
                    Boards,
                    b => new JsonObject
                    {
                        ["id"] = $"p{b}",
                        ["prefix"] = $"P{b}",
                        ["name"] = $"board {b}",
                        ["boardTypeId"] = $"large-{b}",
                    }
                ),
                ["parts"] = new JsonArray(),
                ["states"] = Each(
                    1,
                    _ => new JsonObject
                    {
                        ["code"] = "running",
                        ["name"] = "running",
                        ["energised"] = true,
                    }
                ),
                ["links"] = new JsonArray(),
                ["checks"] = new JsonArray(),
            },
            ["machine"] = new JsonObject
            {
                ["id"] = "large",
                ["tag"] = "LARGE",
                ["name"] = "Large",
                ["modelId"] = "large-m",
                ["serial"] = "",
                ["built"] = "",
                ["supply"] = "",
                ["site"] = "",
                ["customer"] = "",
                ["boards"] = Each(
                    Boards,
                    b => new JsonObject
                    {
                        ["id"] = $"b{b}",
                        ["positionId"] = $"p{b}",
                        ["boardTypeId"] = $"large-{b}",
                        ["serial"] = $"{b}",
                        ["firmware"] = "1",
                        ["from"] = "2020-01-01",
                    }
                ),
                ["overrides"] = new JsonArray(),
            },
            ["visits"] = Each(
                1,
                _ => new JsonObject
                {
                    ["id"] = "large-v",
                    ["complaint"] = "",
                    ["personId"] = "p",
                    ["openedAt"] = "2026-01-01T00:00:00Z",
                    ["endingNote"] = "",
                    ["left"] = new JsonArray(),
                    ["bring"] = new JsonArray(),
                    ["agreed"] = "",
                    ["warranty"] = "notAsked",
                    ["calls"] = new JsonArray(),
                    ["rounds"] = Each(
                        1,
                        _ => new JsonObject
                        {
                            ["id"] = "large-r",
                            ["startedAt"] = "2026-01-01T00:00:00Z",
                            ["readings"] = Each(Readings, Reading),
                        }
                    ),
                }
            ),
            ["faults"] = new JsonArray(),
            ["snapshots"] = new JsonArray(),
            ["photographs"] = new JsonArray(),
            ["notes"] = new JsonArray(),
        }.ToJsonString();
    }

    // A PNG of one point.
    private static readonly byte[] Picture = Convert.FromBase64String(
        "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
    );
}
