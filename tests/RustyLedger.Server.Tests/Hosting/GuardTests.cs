using System.Net;
using System.Text;

namespace RustyLedger.Server.Tests.Hosting;

public sealed class GuardTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    [Fact]
    public async Task Every_answer_carries_the_security_headers()
    {
        foreach (var path in (string[])["/api/machines", "/api/machines/none", "/api/openapi.json"])
        {
            var answer = await demo.Ledger.Http.GetAsync(path);
            var policy = Assert.Single(answer.Headers.GetValues("Content-Security-Policy"));
            Assert.Contains("default-src 'none'", policy, StringComparison.Ordinal);
            Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
            Assert.Equal("nosniff", Assert.Single(answer.Headers.GetValues("X-Content-Type-Options")));
        }
    }

    [Theory]
    [InlineData("ledger.example", null, HttpStatusCode.BadRequest)]
    [InlineData(null, "http://other.example", HttpStatusCode.Forbidden)]
    [InlineData(null, "null", HttpStatusCode.Forbidden)]
    public async Task A_foreign_host_or_origin_is_turned_away(string? host, string? origin, HttpStatusCode status)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/people")
        {
            Content = new StringContent("{\"id\":\"x\",\"name\":\"Mallory\"}", Encoding.UTF8, "application/json"),
        };
        request.Headers.Host = host;
        if (origin is not null)
        {
            request.Headers.Add("Origin", origin);
        }

        Assert.Equal(status, (await demo.Ledger.Http.SendAsync(request)).StatusCode);
        Assert.DoesNotContain("Mallory", await demo.Ledger.Http.GetStringAsync("/api/people"), StringComparison.Ordinal);
    }

    // RFC 9457: the media type and the members of problem details.
    [Theory]
    [InlineData("GET", "/api/machines/none", "", 404)]
    [InlineData("GET", "/api/nowhere", "", 404)]
    [InlineData("POST", "/api/visits", "{\"id\":", 400)]
    [InlineData("POST", "/api/visits", "{\"id\":\"x\"}", 400)]
    [InlineData("DELETE", "/api/machines", "", 405)]
    public async Task Every_error_is_a_problem_with_details(string method, string path, string body, int status)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path)
        {
            Content = body.Length > 0 ? new StringContent(body, Encoding.UTF8, "application/json") : null,
        };
        var answer = await demo.Ledger.Http.SendAsync(request);
        Assert.Equal(status, (int)answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
        Assert.Contains($"\"status\":{status}", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Listens_on_loopback_only_and_compresses()
    {
        Assert.Equal("127.0.0.1", demo.Ledger.Http.BaseAddress!.Host);
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/rounds/r3");
        request.Headers.Add("Accept-Encoding", "br");
        Assert.Equal("br", Assert.Single((await demo.Ledger.Http.SendAsync(request)).Content.Headers.ContentEncoding));
    }

    [Fact]
    public async Task A_wrong_setting_is_named_at_the_start()
    {
        var refusal = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            LedgerProcess.Start(Path.GetTempPath(), "--Ledger:Port", "99999")
        );
        Assert.StartsWith(
            "The server ended with 2: ledger: Port is 99999; it must be between 0 and 65535",
            refusal.Message,
            StringComparison.Ordinal
        );
    }
}
