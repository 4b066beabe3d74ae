import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  defineSetting,
  retireSetting,
  type BoardSettings,
  type DefinitionEdit,
  type DefinitionView,
  type SettingKind,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useAct } from '../outbox/useAct';
import { Choose, optionsOf } from '../ui/Choose';
import { fieldInError } from '../ui/Kept';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';
import { useWritten } from '../ui/useDraft';

const kinds: [SettingKind, string][] = [
  ['number', 'number'],
  ['choice', 'choice'],
  ['text', 'text'],
];

/** What the codes of a board type mean and may be, under which firmware. */
export function Definitions({ board }: { board: BoardSettings }) {
  const [edited, setEdited] = useState<string | null>(null);
  const definition = board.definitions.find((d) => d.id === edited);
  return (
    <More
      title={
        <span className="font-bold">
          What the codes of {board.partNumber} mean{' '}
          <span className="font-mono font-normal">{board.definitions.length}</span>
        </span>
      }
      className="mt-4 border-t border-rule-2 pt-1"
    >
      {board.definitions.length > 0 && (
        <table className="w-full border-collapse text-[14px]">
          <caption className="sr-only">Codes</caption>
          <thead>
            <tr className="text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
              <th scope="col">Code</th>
              <th scope="col">Name</th>
              <th scope="col">May be</th>
              <th scope="col">Default</th>
              <th scope="col">Firmware</th>
            </tr>
          </thead>
          <tbody>
            {board.definitions.map((d) => (
              <tr key={d.id} className="border-t border-rule [&>td]:pr-3">
                <td>
                  <button
                    type="button"
                    className="link min-h-[32px] font-mono font-bold max-[899px]:min-h-[44px]"
                    onClick={() => setEdited(d.id)}
                  >
                    {d.code}
                  </button>
                </td>
                <td>{d.name}</td>
                <td className="font-mono">{d.range || d.kind}</td>
                <td className="font-mono">{d.default}</td>
                <td className="font-mono">{d.firmware || 'every'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Editor key={edited ?? 'new'} board={board} definition={definition} done={() => setEdited(null)} />
    </More>
  );
}

interface EditorProps {
  board: BoardSettings;
  definition: DefinitionView | undefined;
  done: () => void;
}

const texts = [
  ['code', 'Code'],
  ['name', 'Name'],
  ['unit', 'Unit'],
  ['default', 'Default'],
  ['firmware', 'Firmware, empty for every one'],
] as const;

function Editor({ board, definition, done }: EditorProps) {
  const queries = useQueryClient();
  const [id] = useState(() => definition?.id ?? newId());
  const first: Omit<DefinitionEdit, 'min' | 'max' | 'choices'> & { min: string; max: string; choices: string } = {
    version: definition?.version ?? 0,
    code: definition?.code ?? '',
    name: definition?.name ?? '',
    kind: definition?.kind ?? 'number',
    unit: definition?.unit ?? '',
    min: definition?.min?.toString() ?? '',
    max: definition?.max?.toString() ?? '',
    choices: definition?.choices.join(', ') ?? '',
    default: definition?.default ?? '',
    firmware: definition?.firmware ?? '',
  };
  const [edit, setEdit] = useWritten(`setting/${board.boardTypeId}/${definition?.id ?? 'new'}`, first);
  const number = (text: string, name: string): number | null => {
    const value = Number(text.replace(',', '.'));
    if (text.trim() !== '' && Number.isNaN(value)) {
      throw new Error(`${name} is not a number: “${text}”.`);
    }
    return text.trim() === '' ? null : value;
  };
  const away = () => {
    setEdit(first);
    done();
  };
  const fresh = () => queries.invalidateQueries({ queryKey: ['settings'] });
  const save = useAct({
    words: `what the setting ${edit.code} means`,
    send: async (client) =>
      ask(
        defineSetting({
          client,
          path: { boardTypeId: board.boardTypeId, id },
          body: {
            ...edit,
            min: number(edit.min, 'The least'),
            max: number(edit.max, 'The most'),
            choices: edit.choices
              .split(',')
              .map((c) => c.trim())
              .filter(Boolean),
          },
        }),
      ),
    away,
    taken: fresh,
  });
  const retire = useAct({
    words: `the setting ${edit.code}, taken away`,
    send: (client) => ask(retireSetting({ client, path: { boardTypeId: board.boardTypeId, id } })),
    away,
    taken: fresh,
  });
  const input = (
    name: 'code' | 'name' | 'unit' | 'default' | 'firmware' | 'min' | 'max' | 'choices',
    label: string,
  ) => (
    <label key={name}>
      {label}
      <input
        className="field mt-0.5 font-mono"
        aria-invalid={fieldInError(save.error) === name}
        value={edit[name]}
        onChange={(event) => setEdit({ ...edit, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <form
      aria-label={definition ? `Change ${definition.code}` : 'Define a code'}
      className="mt-2 text-[14px]"
      onSubmit={(event) => {
        event.preventDefault();
        save.act();
      }}
    >
      <div className="grid grid-cols-2 gap-2 min-[900px]:grid-cols-5">
        {texts.map(([name, label]) => input(name, label))}
        <label>
          Kind
          <Choose
            className="mt-0.5"
            value={edit.kind}
            options={optionsOf(kinds)}
            onChange={(kind) => setEdit({ ...edit, kind })}
          />
        </label>
        {edit.kind === 'number' && (
          <>
            {input('min', 'Least')}
            {input('max', 'Most')}
          </>
        )}
        {edit.kind === 'choice' && input('choices', 'Choices, with commas')}
      </div>
      <Problem error={save.error ?? retire.error} />
      <p className="mt-2 flex gap-3">
        <button type="submit" className="quiet">
          {definition ? 'Keep the change' : 'Define it'}
        </button>
        {definition && (
          <>
            <button type="button" className="quiet" onClick={retire.act}>
              Take it away
            </button>
            <button type="button" className="quiet" onClick={done}>
              Leave it
            </button>
          </>
        )}
      </p>
    </form>
  );
}
