import { useEffect } from 'react';
import type { LiveAnswer } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';

interface AskLiveProps {
  error: Refusal | null;
  answer: (alive: LiveAnswer) => void;
  mistyped: () => void;
}

/** Volts where it was thought dead: live, mistyped, or read elsewhere; a key each, before anything is stored. */
export function AskLive({ error, answer, mistyped }: AskLiveProps) {
  const asks = error?.problem.asksLive === true;
  useEffect(() => {
    if (!asks) {
      return;
    }
    const acts: Record<string, () => void> = {
      l: () => answer('live'),
      m: mistyped,
      e: () => answer('elsewhere'),
    };
    const onKey = (event: KeyboardEvent) => {
      // What is typed into the find box or a chooser is no answer.
      if (event.target instanceof Element && event.target.closest('header, select, textarea')) {
        return;
      }
      const act = event.ctrlKey || event.altKey || event.metaKey ? undefined : acts[event.key.toLowerCase()];
      if (act) {
        event.preventDefault();
        event.stopPropagation();
        act();
      }
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [asks, answer, mistyped]);
  if (!asks) {
    return null;
  }
  return (
    <div role="alert" className="settle my-2 border-4 border-out bg-out-wash px-4 py-2">
      <p className="flex items-center gap-2 text-[19px] font-bold text-out">
        <Mark kind="high" /> {error.problem.detail}
      </p>
      <div className="mt-2 flex flex-wrap gap-3">
        <button
          type="button"
          className="quiet min-h-[44px] border-out font-bold text-out"
          onClick={() => answer('live')}
        >
          It is live <Key>L</Key>
        </button>
        <button type="button" className="quiet min-h-[44px] border-ink font-bold" onClick={mistyped}>
          Mistyped <Key>M</Key>
        </button>
        <button type="button" className="quiet min-h-[44px]" onClick={() => answer('elsewhere')}>
          Read elsewhere: line side, next machine, tester <Key>E</Key>
        </button>
      </div>
    </div>
  );
}
