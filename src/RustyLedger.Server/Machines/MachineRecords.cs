using System.Text.Json;
using RustyLedger.Core.Measuring;
using RustyLedger.Server.Measuring;
using RustyLedger.Server.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Machines;

/// <summary>What a machine file holds besides boards and wiring, as the records of the book.</summary>
internal static class MachineRecords
{
    /// <summary>
    /// Visits with all that was done in them, faults, settings and notes; no readings and no photographs, of which there may be many.
    /// </summary>
    public static IEnumerable<object> Of(MachineFile file)
    {
        var machine = file.Machine;
        foreach (var visit in file.Visits)
        {
            yield return new VisitRecord
            {
                Id = visit.Id,
                MachineId = machine.Id,
                Complaint = visit.Complaint,
                PersonId = visit.PersonId,
                OpenedAt = visit.OpenedAt,
                EndedAt = visit.EndedAt,
                Ending = visit.Ending,
                EndingNote = visit.EndingNote,
                Left = string.Join('\n', visit.Left),
                Bring = string.Join('\n', visit.Bring),
                TravelMinutes = visit.TravelMinutes,
                LabourMinutes = visit.LabourMinutes,
                Agreed = visit.Agreed,
                AgreedAt = visit.AgreedAt,
                Warranty = visit.Warranty,
            };
            IEnumerable<object> within =
            [
                .. visit.Rounds.Select(r => new RoundRecord
                {
                    Id = r.Id,
                    VisitId = visit.Id,
                    StartedAt = r.StartedAt,
                }),
                .. Care(machine.Id, machine.ModelId, visit),
                .. visit.Calls.Select(c => new SupportCallRecord
                {
                    Id = c.Id,
                    VisitId = visit.Id,
                    PersonId = c.PersonId,
                    At = c.At,
                    CaseNumber = c.CaseNumber,
                    Said = c.Said,
                }),
            ];
            foreach (var record in within)
            {
                yield return record;
            }
        }

        foreach (var f in file.Faults)
        {
            yield return new FaultRecord
            {
                Id = f.Id,
                MachineId = machine.Id,
                VisitId = f.VisitId,
                RoundId = f.RoundId,
                PersonId = f.PersonId,
                OpenedAt = f.OpenedAt,
                Noticed = f.Noticed,
                Found = f.Found,
                Evidence = f.Evidence,
                Cause = f.Cause,
                Proof = f.Proof,
                Done = f.Done,
                Parts = string.Join('\n', f.Parts),
                Deviation = f.Deviation,
                Minutes = f.Minutes,
                Warranty = f.Warranty,
                Held = f.Held,
                PreviousId = f.PreviousId,
                ClosedAt = f.ClosedAt,
            };
        }

        foreach (var s in file.Snapshots)
        {
            yield return new SnapshotRecord
            {
                Id = s.Id,
                MachineId = machine.Id,
                FittedBoardId = s.FittedBoardId,
                VisitId = s.VisitId,
                Kind = s.Kind,
                TakenAt = s.TakenAt,
                PersonId = s.PersonId,
                Firmware = s.Firmware,
                Note = s.Note,
            };
            foreach (var (i, v) in s.Values.Index())
            {
                yield return new SettingValueRecord
                {
                    OwnerId = s.Id,
                    Id = v.Code,
                    Value = v.Value,
                    Ordinal = i,
                };
            }
        }

        foreach (var n in file.Notes)
        {
            yield return new NoteRecord
            {
                Id = n.Id,
                MachineId = machine.Id,
                VisitId = n.VisitId,
                Text = n.Text,
                At = n.At,
                PersonId = n.PersonId,
            };
        }

        foreach (var n in file.BoardNotes)
        {
            yield return new BoardNoteRecord
            {
                Id = n.Id,
                MachineId = machine.Id,
                PositionId = n.PositionId,
                VisitId = n.VisitId,
                Kind = n.Kind,
                ElementId = n.Place.ElementId,
                PinId = n.Place.PinId,
                X = n.Place.X,
                Y = n.Place.Y,
                Text = n.Text,
                Reason = n.Reason,
                PhotographId = n.PhotographId,
                At = n.At,
                PersonId = n.PersonId,
            };
        }
    }

    /// <summary>What was done to arrive, to look and to make safe.</summary>
    private static IEnumerable<object> Care(string machineId, string modelId, FileVisit visit) =>
        [
            .. visit.Observations.Select(o => new ObservationRecord
            {
                Id = o.Id,
                VisitId = visit.Id,
                Kind = o.Kind,
                Text = o.Text,
                At = o.At,
                PersonId = o.PersonId,
                DoneAt = o.DoneAt,
                PhotographId = o.PhotographId,
            }),
            .. visit.Facings.Select(f => new FacingRecord
            {
                OwnerId = visit.Id,
                Id = f.PositionId,
                Turns = f.Turns,
                Side = f.Side,
            }),
            .. visit.OutsideAnswers.Select(a => new OutsideAnswerRecord
            {
                Id = a.Id,
                VisitId = visit.Id,
                ModelId = modelId,
                CheckId = a.CheckId,
                Answer = a.Answer,
                Held = a.Held,
                WasIt = a.WasIt,
                Minutes = a.Minutes,
                Order = a.Order,
                At = a.At,
                PersonId = a.PersonId,
            }),
            .. visit.SafetyEvents.Select(e => new SafetyEventRecord
            {
                Id = e.Id,
                VisitId = visit.Id,
                Order = e.Order,
                Kind = e.Kind,
                Subject = e.Subject,
                Typed = e.Typed,
                Volts = SafetyBook.Volts(e.Kind, e.Subject, e.Typed),
                Words = e.Words,
                Target = e.Target,
                DeviceTime = e.DeviceTime,
                ServerTime = e.ServerTime,
                PersonId = e.PersonId,
            }),
            .. visit.TemporaryLinks.Select(l => new TemporaryLinkRecord
            {
                Id = l.Id,
                MachineId = machineId,
                VisitId = visit.Id,
                Kind = l.Kind,
                FromHolder = l.From?.Holder,
                FromPin = l.From?.Pin,
                ToHolder = l.To?.Holder,
                ToPin = l.To?.Pin,
                Where = l.Where,
                Across = l.Across,
                Standing = l.Standing,
                Why = l.Why,
                Attended = l.Attended,
                Until = l.Until,
                PlacedAt = l.PlacedAt,
                PersonId = l.PersonId,
                RemovedAt = l.RemovedAt,
                RemovedById = l.RemovedById,
            }),
            .. visit.Notices.Select(n => new LifeSafetyNoticeRecord
            {
                Id = n.Id,
                MachineId = machineId,
                VisitId = visit.Id,
                Told = n.Told,
                Watching = n.Watching,
                Until = n.Until,
                At = n.At,
                PersonId = n.PersonId,
                BackAt = n.BackAt,
            }),
            .. visit.SkippedSteps.Select(s => new SkippedStepRecord
            {
                OwnerId = visit.Id,
                Id = s.Step.ToString(),
                Reason = s.Reason,
                PersonId = s.PersonId,
                At = s.At,
            }),
        ];

    public static PhotographRecord Of(string machineId, FilePhotograph p, long bytes) =>
        new()
        {
            Id = p.Id,
            MachineId = machineId,
            VisitId = p.VisitId,
            PositionId = p.PositionId,
            SnapshotId = p.SnapshotId,
            Kind = p.Kind,
            Caption = p.Caption,
            TakenAt = p.TakenAt,
            PersonId = p.PersonId,
            Hash = p.Hash,
            Format = p.Format,
            Width = p.Width,
            Height = p.Height,
            Bytes = bytes,
            Points = JsonSerializer.Serialize(p.Points, MachineFile.OneLine),
        };

    public static PlaceRecord Of(string photographId, FilePlace x) =>
        new()
        {
            Id = x.Id,
            PhotographId = photographId,
            X = x.X,
            Y = x.Y,
            Number = x.Number,
            Name = x.Name,
            Note = x.Note,
            PositionId = x.PositionId,
            PinId = x.PinId,
        };

    public static ReadingRecord Of(string roundId, FileReading r)
    {
        var record = new ReadingRecord
        {
            Id = r.Id,
            RoundId = roundId,
            Order = r.Order,
            Kind = r.Kind,
            CheckKey = r.CheckKey,
            RedHolder = r.RedHolder,
            RedPin = r.RedPin,
            BlackHolder = r.BlackHolder,
            BlackPin = r.BlackPin,
            RedPrinted = r.RedPrinted,
            BlackPrinted = r.BlackPrinted,
            Mode = r.Mode,
            State = r.State,
            Plugged = r.Plugged,
            Limit = r.Limit is null ? null : LimitNotation.Write(r.Limit),
            TolerancePercent = r.Tolerance.Percent,
            ToleranceVolts = r.Tolerance.Volts,
            ToleranceOhms = r.Tolerance.Ohms,
            Typed = r.Typed,
            Choice = r.Choice,
            Supersedes = r.Supersedes,
            Target = r.Target,
            Reason = r.Reason,
            DeviceTime = r.DeviceTime,
            ServerTime = r.ServerTime,
            PersonId = r.PersonId,
            Meter = r.Meter,
            Condition = r.Condition,
        };
        record.Value = RoundBook.EntryOf(record).Value?.Written;
        return record;
    }
}
