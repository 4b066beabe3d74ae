using System.Text.Json;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;

namespace RustyLedger.Server.Safety;

/// <summary>Refuses sheets of a model that cannot be meant so, with the place.</summary>
internal static class SheetRules
{
    private const int Most = 200;

    public static void Check(VariantSheet sheet)
    {
        if (SerialDate.Problem(sheet.SerialPattern) is { } problem)
        {
            throw ProblemException.Bad("serialPattern", problem);
        }

        if (VariantCoverage.PiecesOf(sheet.Variants) is > VariantCoverage.MostPieces and var pieces)
        {
            throw ProblemException.Bad(
                "variants",
                $"The rules tell {pieces} cases apart; at most {VariantCoverage.MostPieces} can be looked through for gaps."
            );
        }

        Unique("variants", sheet.Variants.Select(v => v.Id));
        Unique("variants", sheet.Variants.Select(v => v.Name));
        foreach (var variant in sheet.Variants)
        {
            Texts.Needed($"name of {variant.Id}", variant.Name, 60);
            if (
                variant.Rules.FirstOrDefault(r =>
                    r.From > r.To || r.SerialFrom > r.SerialTo || r.Volts <= 0 || r.Phases is not (null or 1 or 3)
                ) is
                { } rule
            )
            {
                throw ProblemException.Bad(
                    $"rules of {variant.Name}",
                    $"\"{rule.Words}\" cannot be: a range runs from the lesser to the greater, volts are above 0, phases are 1 or 3."
                );
            }

            Unique($"overlay of {variant.Name}", variant.Overlay.Select(o => o.Pin.Text), mostSigns: 200);
            if (variant.Overlay.FirstOrDefault(o => o.Label.Length is 0 or > 12) is { } label)
            {
                throw ProblemException.Bad($"overlay of {variant.Name}", $"The label \"{label.Label}\" has 1 to 12 signs.");
            }
        }
    }

    public static void Check(SafetySheet sheet)
    {
        Unique(
            "sources, charges and interlocks",
            sheet
                .Sources.Select(s => s.Id)
                .Concat(sheet.Charges.Select(c => c.Id))
                .Concat(sheet.Interlocks.Select(i => i.Id))
                .Concat(sheet.RunOns.Select(r => r.Id))
        );
        foreach (var source in sheet.Sources)
        {
            Texts.Needed("name of a source", source.Name, 60);
            Unique($"conductors of {source.Name}", source.Conductors);
            if (source.IsElectrical && source.Ends.Count < 2)
            {
                throw ProblemException.Bad(
                    "sources",
                    $"{source.Name} is electrical, so it has two ends at least, such as L, N, or one and the chassis; "
                        + $"without them nothing can be proved dead."
                );
            }

            if (
                source.Conductors.Any(c => c.Length is 0 or > 12 || c.Contains('/', StringComparison.Ordinal))
                || source.Id.Contains('/', StringComparison.Ordinal)
            )
            {
                throw ProblemException.Bad("sources", $"A conductor of {source.Name} has 1 to 12 signs and no stroke.");
            }
        }

        if (
            sheet.Charges.FirstOrDefault(c =>
                c.Microfarads <= 0
                || c.Volts <= 0
                || c.BleedOhms <= 0
                || c.BleedTolerancePercent is < 0 or > 100
                || c.CapacitanceTolerancePercent is < 0 or > 100
            ) is
            { } charge
        )
        {
            throw ProblemException.Bad(
                "charges",
                $"{charge.Name} needs a capacitance, volts and bleed resistance above 0, and tolerances from 0 to 100 %."
            );
        }

        if (sheet.Charges.FirstOrDefault(c => sheet.SourcesOrAssumed.All(s => s.Id != c.SourceId)) is { } lost)
        {
            throw ProblemException.Bad("charges", $"{lost.Name} is charged from a source that is not in the sheet: \"{lost.SourceId}\".");
        }

        if (sheet.Interlocks.FirstOrDefault(i => i.Name.Trim().Length < 3) is not null)
        {
            throw ProblemException.Bad("interlocks", "A protective device needs a name of three letters at least.");
        }

        if (sheet.RunOns.FirstOrDefault(r => r.Minutes is <= 0 or > 1440) is { } runOn)
        {
            throw ProblemException.Bad("runOns", $"{runOn.Name} runs on for more than 0 and at most 1440 minutes.");
        }
    }

    public static void Check(OutsideSheet sheet)
    {
        if (sheet.Problems() is [var problem, ..])
        {
            throw ProblemException.Bad("own", problem);
        }

        Unique("own", sheet.Own.Select(c => c.Id));
    }

    /// <summary>A row about to be written, whoever writes it.</summary>
    public static void CheckRow(object record)
    {
        switch (record)
        {
            case ModelSheetRecord { Id.Value: ModelSheetRecord.Variants } sheet:
                Check(Read<VariantSheet>(sheet));
                break;
            case ModelSheetRecord { Id.Value: ModelSheetRecord.Safety } sheet:
                Check(Read<SafetySheet>(sheet));
                break;
            case ModelSheetRecord sheet:
                Check(Read<OutsideSheet>(sheet));
                break;
            case ShopRecord shop when shop.Limits.Problems() is [var (member, problem), ..]:
                throw ProblemException.Bad(member, problem);
        }
    }

    public static T Read<T>(ModelSheetRecord sheet) => JsonSerializer.Deserialize<T>(sheet.Body, MachineFile.OneLine)!;

    private static void Unique(string at, IEnumerable<string> names, int mostSigns = 64)
    {
        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var name in names)
        {
            if (name.Trim().Length == 0 || name.Length > mostSigns)
            {
                throw ProblemException.Bad(at, $"A name in {at} is empty or longer than {mostSigns} signs.");
            }

            if (!seen.Add(name))
            {
                throw ProblemException.Bad(at, $"\"{name}\" stands twice in {at}.");
            }
        }

        if (seen.Count > Most)
        {
            throw ProblemException.Bad(at, $"{at} has {seen.Count} entries; at most {Most} fit.");
        }
    }
}
