import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useLocation, useNavigate, useSearchParams } from 'react-router';
import { type LayoutTables, makeBoardOnlyHere } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';

/** Whom a change of a shared board reaches; from a machine's own page it can be parted from the others first. */
export function Reaches({ tables }: { tables: LayoutTables }) {
  const [params] = useSearchParams();
  const [machineId, positionId] = [params.get('machine'), params.get('position')];
  const queries = useQueryClient();
  const here = useLocation().pathname;
  const go = useNavigate();
  const part = useMutation({
    mutationFn: (at: { machineId: string; positionId: string }) =>
      ask(makeBoardOnlyHere({ path: { boardTypeId: tables.boardTypeId }, body: { id: newId(), ...at } })),
    onSuccess: async (made) => {
      await queries.invalidateQueries();
      params.delete('machine');
      params.delete('position');
      await go(`${here.replace(encodeURIComponent(tables.boardTypeId), made.boardTypeId)}?${params.toString()}`);
    },
  });
  if (tables.machines.length < 2) {
    return null;
  }
  return (
    <div className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1 text-[14px]">
      <span className="flex items-center gap-2">
        <Mark kind="marginal" /> What is written here holds in {tables.machines.join(', ')}.
      </span>
      {machineId && positionId && (
        <button
          type="button"
          className="link min-h-[38px] max-[899px]:min-h-[44px]"
          disabled={part.isPending}
          onClick={() => part.mutate({ machineId, positionId })}
        >
          Write it for this machine only
        </button>
      )}
      <Problem error={part.error} />
    </div>
  );
}
