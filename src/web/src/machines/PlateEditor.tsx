import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { editMachine, type MachinePage, type PlateEdit } from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { useKeeping } from '../ui/useKeeping';

const fields = [
  ['tag', 'Tag'],
  ['name', 'What it is'],
  ['maker', 'Maker'],
  ['model', 'Model'],
  ['serial', 'Serial, ? for a sign that cannot be read'],
  ['built', 'Built, as it stands on the plate'],
  ['supply', 'Supply'],
  ['site', 'Site'],
  ['customer', 'Customer'],
  ['finish', 'Finish of the housing, where builds differ by it'],
] as const;

/** The plate and place of a machine, kept as they are written. */
export function PlateEditor({ machine, close }: { machine: MachinePage; close: () => void }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const { edit, write, keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping<PlateEdit>(
    `plate/${machine.id}`,
    plateOf(machine),
    async (next, client) => {
      const now = await ask(editMachine({ client, path: { id: machine.id }, body: plateOf(next) }));
      void queries.invalidateQueries();
      if (now.tag !== machine.tag) {
        void go(`/machines/${encodeURIComponent(now.tag)}`, { replace: true });
      }
      return now;
    },
    (next) => next.tag.trim() !== '',
  );
  const isChanged = fields.some(([name]) => edit[name] !== kept[name]);
  return (
    <form
      aria-label="Plate"
      className="border-b border-rule-2 pb-3"
      onSubmit={(event) => {
        event.preventDefault();
        void (isChanged ? keep(edit) : Promise.resolve(true)).then((done) => {
          if (done) {
            close();
          }
        });
      }}
    >
      <div className="grid grid-cols-2 gap-x-4 gap-y-2 min-[900px]:grid-cols-3">
        {fields.map(([name, label]) => (
          <label key={name} className="text-[14px]">
            {label}
            <input
              className="field mt-0.5 font-mono"
              aria-invalid={fieldInError(error) === name}
              value={edit[name]}
              onChange={(event) => write({ ...edit, [name]: event.target.value })}
              onBlur={() => isChanged && !isClash && void keep(edit)}
            />
          </label>
        ))}
      </div>
      <KeptProblem error={error} edit={edit} keepMine={(version) => void keepOver(edit, version)} takeTheirs={settle} />
      <p className="mt-3 flex items-center gap-4">
        <button type="submit" className="quiet">
          Done
        </button>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </p>
      <History kind="Machine" recordId={machine.id} within onPutBack={close} />
    </form>
  );
}

/** Only what the ledger asks for: the page holds more than the plate. */
const plateOf = (edit: PlateEdit): PlateEdit => ({
  version: edit.version,
  tag: edit.tag,
  name: edit.name,
  maker: edit.maker,
  model: edit.model,
  serial: edit.serial,
  built: edit.built,
  supply: edit.supply,
  site: edit.site,
  customer: edit.customer,
  finish: edit.finish,
});
