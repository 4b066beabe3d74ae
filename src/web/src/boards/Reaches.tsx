import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useLocation, useNavigate, useSearchParams } from 'react-router';
import { type LayoutTables, makeBoardOnlyHere } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';

interface ReachesProps {
  boardTypeId: string;
  /** Tags of the machines that have it. */
  machines: string[];
  /** The machine and position it was opened from, from which it can be parted. */
  at: { machineId: string; positionId: string } | undefined;
  /** Told the board type that it is from then on. */
  parted?: (boardTypeId: string) => unknown;
}

/** Whom a change of a shared board reaches; from a machine's own page it can be parted from the others first. */
export function Reaches({ boardTypeId, machines, at, parted }: ReachesProps) {
  const queries = useQueryClient();
  const part = useMutation({
    mutationFn: (at: { machineId: string; positionId: string }) =>
      ask(makeBoardOnlyHere({ path: { boardTypeId }, body: { id: newId(), ...at } })),
    onSuccess: async (made) => {
      await queries.invalidateQueries();
      await parted?.(made.boardTypeId);
    },
  });
  if (machines.length < 2) {
    return null;
  }
  return (
    <div className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1 text-[14px]">
      <span className="flex items-center gap-2">
        <Mark kind="marginal" /> What is written here holds in {machines.join(', ')}.
      </span>
      {at && (
        <button
          type="button"
          className="link min-h-[38px] max-[899px]:min-h-[44px]"
          disabled={part.isPending}
          onClick={() => part.mutate(at)}
        >
          Write it for this machine only
        </button>
      )}
      <Problem error={part.error} />
    </div>
  );
}

/** The same on a page of the board type itself, which goes on with the board that was parted. */
export function TablesReach({ tables }: { tables: LayoutTables }) {
  const [params] = useSearchParams();
  const [machineId, positionId] = [params.get('machine'), params.get('position')];
  const here = useLocation().pathname;
  const go = useNavigate();
  return (
    <Reaches
      boardTypeId={tables.boardTypeId}
      machines={tables.machines}
      at={machineId && positionId ? { machineId, positionId } : undefined}
      parted={(made) => {
        params.delete('machine');
        params.delete('position');
        return go(`${here.replace(encodeURIComponent(tables.boardTypeId), made)}?${params.toString()}`);
      }}
    />
  );
}
