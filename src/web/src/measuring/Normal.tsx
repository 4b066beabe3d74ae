import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { acceptNormal, type ReadingView, type RoundView } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useAct } from '../outbox/useAct';
import { Key } from '../ui/Key';
import { Problem } from '../ui/Problem';
import { isBegun, useWritten } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';

const nothing = { limit: '', reason: '' };

/** Whether the last reading is being accepted as right on its machine; the key opens it, and what was begun is open again. */
export function useNormal(reading: ReadingView | null) {
  const [openFor, setOpenFor] = useState(reading && isBegun(`normal/${reading.id}`) ? reading.id : '');
  const isOffered = (reading?.proposedNormal ?? '') !== '';
  const isOpen = isOffered && openFor === reading?.id;
  const open = (is: boolean) => setOpenFor(is && reading ? reading.id : '');
  useKeys((key) => {
    if (key === 'F7' && isOffered) {
      open(true);
      return true;
    }
    if (key === 'Escape' && isOpen) {
      open(false);
      return true;
    }
    return false;
  });
  return { isOffered, isOpen, open };
}

interface NormalProps {
  view: RoundView;
  reading: ReadingView;
  close: () => void;
}

/** A reading that is off the book and right on this machine: with its reason it becomes what should be read there. */
export function Normal({ view, reading, close }: NormalProps) {
  const queries = useQueryClient();
  const [written, setWritten] = useWritten(`normal/${reading.id}`, nothing);
  const limit = written.limit === '' ? reading.proposedNormal : written.limit;
  const accept = useAct({
    words: `${reading.redPrinted} ${reading.value} is right on ${view.tag}: ${written.reason}`,
    machineId: view.machineId,
    send: (client) =>
      ask(
        acceptNormal({
          client,
          path: { id: view.id },
          body: { id: newId(), readingId: reading.id, limit, reason: written.reason },
        }),
      ),
    away: () => {
      setWritten(nothing);
      close();
    },
    taken: (now) => {
      queries.setQueryData(['round', view.id], now);
      for (const key of ['machine', 'before', 'door', 'edits', 'start']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  return (
    <form
      aria-label={`Right for ${view.tag}`}
      className="settle my-1 border-l-4 border-rust bg-rust-wash px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        accept.act();
      }}
    >
      <p>
        <b className="font-mono">
          {reading.redPrinted} {reading.value}
        </b>{' '}
        is off the book, {reading.limit}. If it is right on {view.tag}, it is what should be read there from now on.
      </p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <label className="w-[170px] text-[14px]">
          Should read here
          <input
            className="field mt-1 font-mono"
            value={limit}
            onChange={(event) => setWritten({ ...written, limit: event.target.value })}
          />
        </label>
        <label className="min-w-[220px] flex-1 text-[14px]">
          Why it is right
          <input
            className="field mt-1"
            autoFocus
            value={written.reason}
            onChange={(event) => setWritten({ ...written, reason: event.target.value })}
          />
        </label>
        <button type="submit" className="action" disabled={accept.isPending}>
          Keep it as normal
        </button>
        <button type="button" className="quiet" onClick={close}>
          Leave it <Key>Esc</Key>
        </button>
      </div>
      <Problem error={accept.error} />
    </form>
  );
}
