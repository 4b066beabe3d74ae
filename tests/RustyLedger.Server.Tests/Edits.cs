namespace RustyLedger.Server.Tests;

/// <summary>Makes the edits that a device would send: everything of a record that is written as it goes.</summary>
internal static class Edits
{
    public static object Visit(
        int version,
        string complaint = "",
        string endingNote = "",
        string[]? left = null,
        string[]? bring = null,
        int? travelMinutes = null,
        int? labourMinutes = null,
        string agreed = "",
        string warranty = "notAsked"
    ) =>
        new
        {
            version,
            complaint,
            endingNote,
            left = left ?? [],
            bring = bring ?? [],
            travelMinutes,
            labourMinutes,
            agreed,
            warranty,
        };

    public static object Fault(
        int version,
        string noticed = "stops",
        string proof = "",
        string? cause = null,
        string[]? parts = null,
        string deviation = "",
        int? minutes = null,
        string held = "notKnown",
        string? previousId = null,
        bool close = false
    ) =>
        new
        {
            version,
            noticed,
            found = "",
            cause,
            proof,
            done = "",
            parts = parts ?? [],
            deviation,
            minutes,
            warranty = "notAsked",
            held,
            previousId,
            close,
        };

    public static object Plate(
        int version,
        string tag,
        string name = "",
        string maker = "",
        string model = "",
        string serial = "",
        string built = "",
        string supply = "",
        string site = "",
        string customer = "",
        string finish = ""
    ) =>
        new
        {
            version,
            tag,
            name,
            maker,
            model,
            serial,
            built,
            supply,
            site,
            customer,
            finish,
        };
}
