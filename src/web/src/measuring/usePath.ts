import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { getReason, getRoundPaths, type PathView, type RoundView, type RowView } from '../api/generated';
import { ask } from '../api/ledger';
import { onTaken } from '../outbox/outbox';

/** The power path along the branch on which one stands; the last one known while the ledger is out of reach. */
export function usePath(view: RoundView, row: RowView | undefined): PathView | undefined {
  const asked = useQuery({
    queryKey: ['paths', view.id, row?.key, view.last?.id, view.taken],
    queryFn: () => ask(getRoundPaths({ path: { id: view.id }, query: { at: row?.key ?? '' } })),
    // The round itself says it of the check that comes next.
    enabled: row !== undefined && row.key !== view.nextKey && view.paths.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const paths = row !== undefined && row.key !== view.nextKey ? (asked.data ?? view.paths) : view.paths;
  return paths.find((p) => p.state === row?.state) ?? paths.find((p) => p.stretches.length > 0);
}

// The suspects of a circuit know more than the order of the pins.
const byCircuit = 3;

/**
 * The path as the suspects have it, once something on it is bad and the circuit of the machine is known; undefined until they are
 * weighed, and where they say nothing.
 */
export function useWeighedPath(
  visitId: string,
  path: PathView | undefined,
  row: RowView | undefined,
): PathView | undefined {
  const queries = useQueryClient();
  const isBad = path !== undefined && path.stretches.length > 0;
  useEffect(() => onTaken(() => void queries.invalidateQueries({ queryKey: ['reason', visitId] })), [queries, visitId]);
  const reason = useQuery({
    queryKey: ['reason', visitId, 'fastest', ''],
    queryFn: ({ signal }) => ask(getReason({ path: { id: visitId }, query: { school: 'fastest' }, signal })),
    enabled: isBad,
    retry: false,
  });
  if (!isBad || reason.isError || reason.data?.level !== byCircuit) {
    return undefined;
  }
  const weighed = reason.data.paths.find((p) => p.state === path.state);
  // On another branch than that of the suspects one sees one's own.
  const isOn = (at: string | undefined, of: PathView) => of.points.some((p) => p.printed === at);
  return weighed && isOn(row?.red?.printed, path) && !isOn(row?.red?.printed, weighed) ? undefined : weighed;
}
