import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type BoardMap, editPin, listAlikeBoards, type PinEdit, type PinOnMap } from '../api/generated';
import { ask } from '../api/ledger';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { useKeeping } from '../ui/useKeeping';
import { Reaches } from './Reaches';

const fields = [
  ['label', 'Label as printed'],
  ['colours', 'Wire colours'],
  ['signal', 'What it does'],
] as const;

/** A pin's texts, on its board type: every machine and position that has the type gets them, and it is said which. */
export function PinEditor({ pin, board }: { pin: PinOnMap; board: BoardMap }) {
  const queries = useQueryClient();
  const { boardTypeId, partNumber } = board;
  const alike = useQuery({
    queryKey: ['alike', partNumber],
    queryFn: () => ask(listAlikeBoards({ query: { partNumber } })),
  });
  const { edit, write, keep, keepOver, settle, isChanged, isKeeping, error } = useKeeping<PinEdit>(
    `pin/${boardTypeId}/${pin.id}`,
    {
      version: pin.version,
      label: pin.label,
      colours: pin.colours.map((c) => c.code).join('-'),
      signal: pin.signal,
    },
    async (next, client) => {
      const now = await ask(
        editPin({ client, path: { boardTypeId, elementId: pin.elementId, pinId: pin.id }, body: next }),
      );
      void queries.invalidateQueries({ queryKey: ['map'] });
      return { version: now.version, as: now };
    },
  );
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        void keep(edit);
      }}
    >
      <h3>Change this pin</h3>
      <Reaches
        boardTypeId={boardTypeId}
        machines={alike.data?.find((b) => b.id === boardTypeId)?.machines ?? []}
        at={board}
      />
      {fields.map(([name, label]) => (
        <label key={name} className="mt-2 block text-[14px]">
          {name === 'label' && pin.elsewherePrinted ? 'Label of the board type; this build prints its own' : label}
          <input
            className="field mt-0.5 font-mono"
            value={edit[name]}
            onChange={(event) => write({ ...edit, [name]: event.target.value })}
          />
        </label>
      ))}
      <KeptProblem error={error} edit={edit} keepMine={(over) => void keepOver(edit, over)} takeTheirs={settle} />
      <p className="mt-3 flex items-center gap-3">
        <button type="submit" className="quiet" disabled={isKeeping}>
          Keep the change
        </button>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </p>
    </form>
  );
}
