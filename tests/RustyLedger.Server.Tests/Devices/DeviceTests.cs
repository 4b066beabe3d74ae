using System.Net;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Microsoft.Extensions.Time.Testing;
using RustyLedger.Server.Devices;
using RustyLedger.Server.Hosting;

namespace RustyLedger.Server.Tests.Devices;

public sealed partial class DeviceTests
{
    /// <summary>A device of its own: it follows no redirection, and keeps what it is given.</summary>
    private static HttpClient Device(TestLedger ledger) =>
        new(new SocketsHttpHandler { AllowAutoRedirect = false, CookieContainer = new CookieContainer() })
        {
            BaseAddress = ledger.Http.BaseAddress,
        };

    private static Task<HttpResponseMessage> Try(HttpClient device, string code, string name = "van phone") =>
        device.PostAsync("/let-in", new FormUrlEncodedContent(new Dictionary<string, string> { ["code"] = code, ["name"] = name }));

    private static Task<TestLedger> Guarded() =>
        TestLedger.Start(null, demo: true, "--Ledger:GuardLoopback", "true", "--Ledger:NewIdentity", "true");

    [Fact]
    public async Task A_device_that_was_not_let_in_gets_nothing_from_any_operation()
    {
        string document;
        using (var open = await TestLedger.Start(demo: true))
        {
            document = (await open.Get("/api/openapi.json")).ToJsonString();
        }

        using var ledger = await Guarded();
        using var device = Device(ledger);
        var asked = 0;
        foreach (var (path, methods) in JsonNode.Parse(document)!["paths"]!.AsObject())
        {
            foreach (var (method, _) in methods!.AsObject())
            {
                using var request = new HttpRequestMessage(new HttpMethod(method.ToUpperInvariant()), Named().Replace(path, "ly-04"));
                if (request.Method != HttpMethod.Get)
                {
                    request.Content = new StringContent("{}", System.Text.Encoding.UTF8, "application/json");
                }

                using var answer = await device.SendAsync(request);
                Assert.True(answer.StatusCode == HttpStatusCode.Unauthorized, $"{method} {path}: {answer.StatusCode}");
                Assert.DoesNotContain("LY-04", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
                asked++;
            }
        }

        Assert.True(asked > 90);
        foreach (var other in (string[])["/api/openapi.json", "/health", "/", "/assets/index.js", "/machines/LY-04"])
        {
            Assert.Equal(HttpStatusCode.Unauthorized, (await device.GetAsync(other)).StatusCode);
        }

        // A page that a person opens leads to the one page there is.
        using var page = new HttpRequestMessage(HttpMethod.Get, "/machines/LY-04");
        page.Headers.Add("Accept", "text/html");
        var led = await device.SendAsync(page);
        Assert.Equal((HttpStatusCode.Redirect, "/let-in"), (led.StatusCode, led.Headers.Location?.OriginalString));
        Assert.Contains("Let this device in", await device.GetStringAsync("/let-in"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_code_lets_one_device_in_once_and_locking_out_holds_from_the_next_request_on()
    {
        using var ledger = await Guarded();
        var (code, _) = ledger.Service<LetInCode>().Make();
        using var device = Device(ledger);
        Assert.Equal(HttpStatusCode.Forbidden, (await Try(device, "WRONG-CODE")).StatusCode);
        var answer = await Try(device, code.ToLowerInvariant().Replace("-", " ", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        var cookie = Assert.Single(answer.Headers.GetValues("Set-Cookie"));
        Assert.Contains("httponly", cookie, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("samesite=strict", cookie, StringComparison.OrdinalIgnoreCase);
        Assert.Equal(HttpStatusCode.OK, (await device.GetAsync("/api/machines")).StatusCode);

        // The book holds no key, only its hash.
        var key = cookie.Split('=', ';')[1];
        Assert.DoesNotContain(
            key,
            await File.ReadAllTextAsync(Path.Combine(ledger.Data, "ledger.db"), System.Text.Encoding.Latin1),
            StringComparison.Ordinal
        );

        using var second = Device(ledger);
        Assert.Equal(HttpStatusCode.Forbidden, (await Try(second, code)).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await second.GetAsync("/api/machines")).StatusCode);

        var devices = JsonNode.Parse(await device.GetStringAsync("/api/devices"))!.AsArray();
        var own = Assert.Single(devices)!;
        Assert.Equal(("van phone", true), ((string)own["name"]!, (bool)own["isThis"]!));
        await device.PostAsync($"/api/devices/{(string)own["id"]!}/lock-out", null);
        Assert.Equal(HttpStatusCode.Unauthorized, (await device.GetAsync("/api/machines")).StatusCode);
    }

    [Fact]
    public async Task A_device_stays_in_over_a_restart_and_a_code_is_good_for_a_quarter_of_an_hour()
    {
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        var codes = new LetInCode(clock);
        var (early, _) = codes.Make();
        clock.Advance(TimeSpan.FromMinutes(14));
        Assert.True(codes.Use(early));
        var (late, _) = codes.Make();
        clock.Advance(TimeSpan.FromMinutes(16));
        Assert.False(codes.Use(late));
        Assert.False(new LetInCode(clock).Use(""));

        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        string cookie;
        using (var ledger = await TestLedger.Start(data, demo: false, "--Ledger:GuardLoopback", "true"))
        {
            using var device = Device(ledger);
            var answer = await Try(device, ledger.Service<LetInCode>().Make().Code);
            cookie = Assert.Single(answer.Headers.GetValues("Set-Cookie")).Split(';')[0];
        }

        using var again = await TestLedger.Start(data, demo: false, "--Ledger:GuardLoopback", "true");
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/machines");
        request.Headers.Add("Cookie", cookie);
        Assert.Equal(HttpStatusCode.OK, (await again.Http.SendAsync(request)).StatusCode);
    }

    [Fact]
    public async Task Tries_are_limited()
    {
        using var ledger = await Guarded();
        using var device = Device(ledger);
        var (code, _) = ledger.Service<LetInCode>().Make();
        for (var i = 0; i < 5; i++)
        {
            Assert.Equal(HttpStatusCode.Forbidden, (await Try(device, $"WRONG{i}")).StatusCode);
        }

        // Even the right one has to wait now.
        Assert.Equal(HttpStatusCode.TooManyRequests, (await Try(device, code)).StatusCode);
    }

    [Fact]
    public async Task Who_sits_at_the_machine_needs_no_code_but_who_comes_through_a_proxy_there_does()
    {
        using var ledger = await TestLedger.Start(demo: true);
        Assert.Equal(HttpStatusCode.OK, (await ledger.Http.GetAsync("/api/machines")).StatusCode);
        using var forwarded = new HttpRequestMessage(HttpMethod.Get, "/api/machines");
        forwarded.Headers.Add("X-Forwarded-For", "192.0.2.44");
        Assert.Equal(HttpStatusCode.Unauthorized, (await ledger.Http.SendAsync(forwarded)).StatusCode);
    }

    [Fact]
    public async Task The_terminal_tells_how_a_device_comes_in_and_a_certificate_of_its_own_has_its_fingerprint_there()
    {
        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        var options = new LedgerOptions
        {
            Data = data,
            SelfSigned = true,
            Hosts = "ledger.example",
        };
        using var made = OwnCertificate.In(options, TimeProvider.System);
        Assert.True(made.MatchesHostname("ledger.example"));
        Assert.Matches("^([0-9A-F]{2}:){31}[0-9A-F]{2}$", OwnCertificate.Fingerprint(made));
        using var kept = OwnCertificate.In(options, TimeProvider.System);
        Assert.Equal(made.Thumbprint, kept.Thumbprint);
        using var other = OwnCertificate.In(
            new LedgerOptions
            {
                Data = data,
                SelfSigned = true,
                Hosts = "other.example",
            },
            TimeProvider.System
        );
        Assert.NotEqual(made.Thumbprint, other.Thumbprint);
        Assert.Matches(
            "open https://127.0.0.1:7417/let-in on it and type [2-9A-Z]{4}-[2-9A-Z]{4} ",
            DeviceGate.Words(options, new LetInCode(TimeProvider.System))
        );

        using var handler = new HttpClientHandler
        {
            ServerCertificateCustomValidationCallback = (_, c, _, _) => c?.Thumbprint == made.Thumbprint || c is not null,
        };
        using var ledger = await TestLedger.Start(
            Directory.CreateTempSubdirectory("ledger-").FullName,
            demo: false,
            "--Ledger:SelfSigned",
            "true"
        );
        using var https = new HttpClient(handler) { BaseAddress = ledger.Http.BaseAddress };
        Assert.Equal("https", https.BaseAddress!.Scheme);
        Assert.Equal(HttpStatusCode.OK, (await https.GetAsync("/api/machines")).StatusCode);
    }

    [GeneratedRegex(@"\{[^}]+\}")]
    private static partial Regex Named();
}
