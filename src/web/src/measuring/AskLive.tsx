import type { LiveAnswer } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { useKeys } from '../ui/useKeys';

interface AskLiveProps {
  error: Refusal | null;
  answer: (alive: LiveAnswer) => void;
  mistyped: () => void;
}

/** Volts where it was thought dead: live, mistyped, or read elsewhere; a key each, before anything is stored. */
export function AskLive({ error, answer, mistyped }: AskLiveProps) {
  const asks = error?.problem.asksLive === true;
  useKeys((key) => {
    const act = asks
      ? { l: () => answer('live'), m: mistyped, e: () => answer('elsewhere') }[key.toLowerCase()]
      : undefined;
    act?.();
    return act !== undefined;
  }, true);
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
