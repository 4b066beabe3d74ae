import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { beginMachine } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';

const fields = [
  { name: 'tag', label: 'Tag', hint: 'as on your sticker' },
  { name: 'name', label: 'What it is', hint: 'for example luggage belt controller' },
  { name: 'site', label: 'Site', hint: '' },
  { name: 'maker', label: 'Maker', hint: '' },
  { name: 'serial', label: 'Serial', hint: 'from the plate' },
  { name: 'boards', label: 'Boards', hint: 'part numbers, separated by commas' },
] as const;

type Plate = Record<(typeof fields)[number]['name'], string>;

/** A machine begun from its plate; terminals come from a spreadsheet afterwards. */
export function NewMachinePage() {
  const [plate, setPlate] = useState<Plate>({ tag: '', name: '', site: '', maker: '', serial: '', boards: '' });
  const go = useNavigate();
  const begin = useMutation({
    mutationFn: () =>
      ask(
        beginMachine({
          body: {
            ...plate,
            id: newId(),
            boards: plate.boards
              .split(',')
              .map((b) => b.trim())
              .filter(Boolean),
          },
        }),
      ),
    onSuccess: (page) => {
      const board = page.boards[0];
      void go(
        board
          ? `/machines/${encodeURIComponent(page.tag)}/boards/${board.positionId}/terminals`
          : `/machines/${encodeURIComponent(page.tag)}`,
      );
    },
  });
  const wrong = begin.error instanceof Refusal ? begin.error.problem.field : undefined;
  return (
    <Frame title="New machine">
      <form
        className="mx-auto max-w-[560px] py-6"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <h2 className="title">New machine</h2>
        <p className="mt-1 text-ink-2">Its terminals come next, from a spreadsheet or by hand.</p>
        {fields.map((field, i) => (
          <label key={field.name} className="mt-4 block">
            {field.label} {field.hint && <span className="text-ink-2">{field.hint}</span>}
            <input
              autoFocus={i === 0}
              className="field mt-1 font-mono"
              aria-invalid={wrong === field.name}
              value={plate[field.name]}
              onChange={(event) => setPlate({ ...plate, [field.name]: event.target.value })}
            />
          </label>
        ))}
        <Problem error={begin.error} />
        <button type="submit" className="action mt-5" disabled={begin.isPending}>
          Begin
        </button>
      </form>
    </Frame>
  );
}
