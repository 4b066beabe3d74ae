import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { getRoundPaths, type PathView, type RoundView, type RowView } from '../api/generated';
import { ask } from '../api/ledger';

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
