import { Link, useSearchParams } from 'react-router';
import type { RoundView } from '../api/generated';
import { isOpen, type SheetLine } from './sheet';

/** The checks of a round that Reason proposed, in their order, from the address of the page; none for the whole sheet. */
export function useProposed(): readonly string[] {
  const [params] = useSearchParams();
  return params.getAll('on');
}

/** The address of a round on some checks. */
export const roundOn = (roundId: string, checkKeys: readonly string[]) =>
  `/rounds/${roundId}?${new URLSearchParams(checkKeys.map((key) => ['on', key])).toString()}`;

/** The sheet with these checks alone, in their order; all of it where none of them is on it. */
export function onlyThese(view: RoundView, keys: readonly string[]): RoundView {
  const rows = keys.flatMap((key) => view.rows.find((r) => r.key === key) ?? []);
  if (rows.length === 0) {
    return view;
  }
  const lines = rows.map((row) => ({ row, waiting: undefined }));
  return { ...view, rows, nextKey: firstOpen(lines, '', view.condition === null || view.condition === 'provedDead') };
}

/**
 * The first check that is not read yet, in the order of the round.
 *
 * @param mayBeDead What is measured dead may come too.
 */
export const firstOpen = (lines: readonly SheetLine[], except: string, mayBeDead: boolean): string | null =>
  lines.find((l) => l.row.key !== except && isOpen(l) && (mayBeDead || !l.row.deadOnly))?.row.key ?? null;

/** What this round is, with the ways out of it. */
export function RoundOn({ view }: { view: RoundView }) {
  return (
    <p className="border-l-4 border-rust pl-3 text-[14px]">
      A round of {view.rows.length} on what is suspected.{' '}
      <Link className="link" to={`/visits/${view.visitId}/reason`}>
        Back to Reason
      </Link>{' '}
      or{' '}
      <Link className="link" to={`/rounds/${view.id}`}>
        the whole sheet
      </Link>
    </p>
  );
}
