import type { VisitEdit, VisitView, Warranty } from '../api/generated';

export const warrantyWords: Record<Warranty, string> = {
  notAsked: 'not asked yet',
  yes: 'under warranty',
  no: 'not under warranty',
};

/** What of a visit is written as it goes. */
export const editOf = (visit: VisitView): VisitEdit => ({
  version: visit.version,
  complaint: visit.complaint,
  endingNote: visit.endingNote,
  left: visit.left,
  bring: visit.bring,
  travelMinutes: visit.travelMinutes,
  labourMinutes: visit.labourMinutes,
  agreed: visit.agreed,
  warranty: visit.warranty,
});

/** Minutes as typed, 0 included; -1 for a text that is none, which the ledger refuses by name. */
export function minutesOf(text: string): number | null {
  const number = Number(text.trim());
  return text.trim() === '' ? null : Number.isInteger(number) ? number : -1;
}
