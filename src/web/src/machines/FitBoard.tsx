import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type AlikeBoard, fitBoard, listAlikeBoards, type MachinePage } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useAct } from '../outbox/useAct';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { Tick } from '../ui/Tick';
import { isBegun, useWritten } from '../ui/useDraft';

const empty = { positionId: '', name: '', partNumber: '', revision: '', serial: '', firmware: '' };

/** The board bears the number of another and is none of those that are known. */
const isNew = 'new';

const fields = [
  ['partNumber', 'Part number'],
  ['revision', 'Revision'],
  ['serial', 'Serial'],
  ['firmware', 'Firmware'],
] as const;

export const usedIn = ({ machines, count }: AlikeBoard) =>
  count === 0
    ? 'in no machine now'
    : `in ${machines.join(', ')}${count > machines.length ? ` and ${count - machines.length} more` : ''}`;

/** A board in: into a new position, or in exchange for the one that is there. */
export function FitBoard({ machine }: { machine: MachinePage }) {
  const [shown, setShown] = useState(() => isBegun(`fit/${machine.id}`));
  const [board, setBoard] = useWritten(`fit/${machine.id}`, empty);
  const [which, setWhich] = useState('');
  const number = board.partNumber.trim();
  const alike = useQuery({
    queryKey: ['alike', number],
    queryFn: () => ask(listAlikeBoards({ query: { partNumber: number } })),
    enabled: shown && number !== '',
    placeholderData: (before) => before,
  });
  const known = number === '' ? [] : (alike.data ?? []);
  const queries = useQueryClient();
  const fit = useAct({
    words: `a board of ${machine.tag}, ${[board.name, number].filter(Boolean).join(' ')}`,
    machineId: machine.id,
    send: (client) =>
      ask(
        fitBoard({
          client,
          path: { id: machine.id },
          body: {
            ...board,
            id: newId(),
            positionId: board.positionId || null,
            from: null,
            boardTypeId: known.some((k) => k.id === which) ? which : null,
            isNew: which === isNew,
          },
        }),
      ),
    away: () => {
      setBoard(empty);
      setShown(false);
      setWhich('');
    },
    taken: () => queries.invalidateQueries(),
  });
  if (!shown) {
    return (
      <button
        type="button"
        className="link min-h-[36px] text-[14px] max-[899px]:min-h-[44px]"
        onClick={() => setShown(true)}
      >
        Add or exchange a board
      </button>
    );
  }
  return (
    <form
      aria-label="Add or exchange a board"
      className="border-b border-rule-2 py-2 text-[14px]"
      onSubmit={(event) => {
        event.preventDefault();
        fit.act();
      }}
    >
      <label className="block">
        Where
        <Choose
          className="mt-0.5"
          value={board.positionId}
          options={[
            { value: '', words: 'a new position' },
            ...machine.boards.map((b) => ({ value: b.positionId, words: `in exchange for ${b.prefix} ${b.name}` })),
          ]}
          onChange={(positionId) => setBoard({ ...board, positionId })}
        />
      </label>
      {board.positionId === '' && (
        <label className="mt-2 block">
          Name of the position
          <input
            className="field mt-0.5"
            value={board.name}
            onChange={(event) => setBoard({ ...board, name: event.target.value })}
          />
        </label>
      )}
      <div className="mt-2 grid grid-cols-2 gap-2">
        {fields.map(([name, label]) => (
          <label key={name}>
            {label}
            <input
              className="field mt-0.5 font-mono"
              value={board[name]}
              onChange={(event) => setBoard({ ...board, [name]: event.target.value })}
            />
          </label>
        ))}
      </div>
      {known.length > 0 && (
        <fieldset className="mt-2 border-l-4 border-rust bg-rust-wash px-3 py-1">
          <legend className="sr-only">Which board is it?</legend>
          <p className="font-bold">{number} is known. Is it that one?</p>
          <p className="text-ink-2">What is entered for a board holds for every machine that has it.</p>
          {known.map((k) => (
            <Tick key={k.id} on={which === k.id} set={(on) => setWhich(on ? k.id : '')}>
              {k.printed}, {k.name}, {k.pins} pins, {usedIn(k)}
            </Tick>
          ))}
          <Tick on={which === isNew} set={(on) => setWhich(on ? isNew : '')}>
            another one with the same number
          </Tick>
        </fieldset>
      )}
      <Problem error={fit.error} />
      <p className="mt-3 flex gap-3">
        <button type="submit" className="quiet" disabled={fit.isPending}>
          Fit it
        </button>
        <button type="button" className="quiet" onClick={() => setShown(false)}>
          Not now
        </button>
      </p>
    </form>
  );
}
