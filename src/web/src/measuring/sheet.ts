import type { NewLine, ProbeView, RoundView, RowView } from '../api/generated';
import { newId } from '../api/newId';
import type { MarkKind } from '../ui/Mark';
import { meterName } from '../people/person';
import { nextOrder, type WaitingLine } from './lines';

/** A row with what waits on this device for it. */
export interface SheetLine {
  row: RowView;
  waiting: WaitingLine | undefined;
}

/** The sheet with the lines that the server has not seen yet laid over it. */
export function sheetOf(view: RoundView, waiting: readonly WaitingLine[]): SheetLine[] {
  const takenBack = new Set(waiting.map((w) => w.line.target));
  const mine = waiting.filter((w) => w.roundId === view.id && w.line.kind !== 'retracted' && !takenBack.has(w.line.id));
  return view.rows.map((row) => ({ row, waiting: mine.findLast((w) => w.line.checkKey === row.key) }));
}

export function markOf({ row, waiting }: SheetLine): MarkKind {
  if (waiting) {
    return waiting.line.kind === 'skipped' ? 'skipped' : 'notJudged';
  }
  return row.reading ? row.reading.verdict : row.skipped !== null ? 'skipped' : 'untouched';
}

/** What is measured of the pins of the board in a position, by pin. */
export function marksOn(lines: readonly SheetLine[], position: string | undefined): Map<string, MarkKind> {
  const marks = new Map<string, MarkKind>();
  for (const line of lines) {
    const mark = markOf(line);
    if (line.row.red && line.row.red.position === position && mark !== 'untouched') {
      marks.set(line.row.red.pin, mark);
    }
  }
  return marks;
}

export const isOpen = ({ row, waiting }: SheetLine) => !waiting && !row.reading && row.skipped === null;

/**
 * The next open row down the sheet, used only while the server cannot say which one.
 *
 * @param mayBeDead What is measured dead may come too: the machine was proved dead when the ledger last said.
 */
export function nextDown(lines: SheetLine[], after: string, mayBeDead: boolean): string | null {
  const at = lines.findIndex((l) => l.row.key === after);
  const ahead = [...lines.slice(at + 1), ...lines.slice(0, at)].filter((l) => mayBeDead || !l.row.deadOnly);
  return (
    ahead.find((l) => isOpen(l) && l.row.state === lines[at]?.row.state)?.row.key ?? ahead.find(isOpen)?.row.key ?? null
  );
}

export const probed = (probe: ProbeView | null) => (probe ? { address: probe.address, printed: probe.printed } : null);

/** A line about a row, carrying the check as it is shown. */
export function lineOf(row: RowView, personId: string, what: Partial<NewLine>): NewLine {
  return {
    id: newId(),
    order: nextOrder(),
    kind: 'taken',
    checkKey: row.key,
    red: probed(row.red),
    black: probed(row.black),
    mode: row.mode,
    state: row.state,
    plugged: row.plugged,
    limit: row.limit,
    tolerance: row.tolerance,
    typed: '',
    choice: null,
    target: null,
    reason: '',
    deviceTime: new Date().toISOString(),
    personId,
    meter: meterName(),
    ...what,
  };
}

/** What has to be done by hand before the next check: the black probe, the meter, the machine, the plug. */
export function changesBetween(before: RowView | undefined, next: RowView | undefined): string[] {
  if (!before || !next || before.key === next.key) {
    return [];
  }
  const changes: string[] = [];
  if (before.state !== next.state) {
    changes.push(`Machine: ${next.stateName}${next.energised ? '' : ', switched off and proved dead'}`);
  }
  if (before.access.toLowerCase() !== next.access.toLowerCase()) {
    changes.push(`To get at it: ${next.access || 'nothing open, the front'}`);
  }
  if (before.mode !== next.mode) {
    changes.push(`Meter: ${next.modeWords}`);
  }
  if (next.black && before.black?.printed !== next.black.printed) {
    changes.push(`Black probe: ${next.black.printed}`);
  }
  if (next.plugged !== null && before.plugged !== next.plugged) {
    changes.push(`${next.red?.element ?? 'Connector'}: ${next.plugged ? 'plugged in' : 'unplugged'}`);
  }
  return changes;
}
