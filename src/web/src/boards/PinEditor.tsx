import { useMutation, useQueryClient } from '@tanstack/react-query';
import { editPin, type PinEdit, type PinOnMap } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { Clash } from '../ui/Clash';
import { Problem } from '../ui/Problem';
import { keepDraft, useWritten } from '../ui/useDraft';

const fields = [
  ['label', 'Label as printed'],
  ['colours', 'Wire colours'],
  ['signal', 'What it does'],
] as const;

/** A pin's texts, on its board type: every position that has the type gets them. */
export function PinEditor({ pin, boardTypeId }: { pin: PinOnMap; boardTypeId: string }) {
  const draft = `pin/${boardTypeId}/${pin.id}`;
  const [text, setText] = useWritten<PinEdit>(draft, {
    version: pin.version,
    label: pin.label,
    colours: pin.colours.map((c) => c.code).join('-'),
    signal: pin.signal,
  });
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (edit: PinEdit) =>
      ask(editPin({ path: { boardTypeId, elementId: pin.elementId, pinId: pin.id }, body: edit })),
    onSuccess: (now) => {
      setText(now);
      keepDraft(draft, '');
      void queries.invalidateQueries({ queryKey: ['map'] });
    },
  });
  const clash = save.error instanceof Refusal && save.error.problem.theirs ? save.error.problem : undefined;
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(text);
      }}
    >
      <h3>Change this pin</h3>
      {fields.map(([name, label]) => (
        <label key={name} className="mt-2 block text-[14px]">
          {name === 'label' && pin.elsewherePrinted ? 'Label of the board type; this build prints its own' : label}
          <input
            className="field mt-0.5 font-mono"
            value={text[name]}
            onChange={(event) => setText({ ...text, [name]: event.target.value })}
          />
        </label>
      ))}
      {clash ? (
        <Clash
          problem={clash}
          keepMine={() => save.mutate({ ...text, version: clash.version ?? text.version })}
          takeTheirs={() => {
            setText({ ...text, ...clash.theirs, version: clash.version ?? text.version });
            keepDraft(draft, '');
            save.reset();
          }}
        />
      ) : (
        <Problem error={save.error} />
      )}
      <button type="submit" className="quiet mt-3" disabled={save.isPending}>
        Keep the change
      </button>
      {save.isSuccess && <span className="ml-3 text-within">kept</span>}
    </form>
  );
}
