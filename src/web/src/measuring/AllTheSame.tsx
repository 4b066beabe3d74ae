import { useState } from 'react';
import { Link } from 'react-router';
import type { RoundView } from '../api/generated';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { useDraft } from '../ui/useDraft';

/** Stands where the reading would: this check is measured dead, and the machine is not proved dead. */
export function AllTheSame({ view, say }: { view: RoundView; say: (reason: string) => void }) {
  const [reason, setReason] = useDraft(`all-the-same/${view.id}`);
  const [isNumber, setIsNumber] = useState(false);
  return (
    <form
      className="border-2 border-out px-4 py-2"
      data-testid="dead-only"
      onSubmit={(event) => {
        event.preventDefault();
        if (!/\p{L}/u.test(reason)) {
          setIsNumber(reason.trim() !== '');
          return;
        }
        setReason('');
        say(reason.trim());
      }}
    >
      <p className="flex items-center gap-2 text-[19px] font-bold text-out">
        <Mark kind="high" /> Measured dead, and it is {view.condition === 'live' ? 'live' : 'not proved dead'}.
      </p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <Link className="action inline-flex items-center" to={`/visits/${view.visitId}/safe`}>
          Prove it dead
        </Link>
        <label className="min-w-[200px] flex-1 text-[14px]">
          or say why it is measured all the same
          <input
            className="field"
            ref={(field) => field?.focus()}
            aria-invalid={isNumber}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </label>
        <button type="submit" className="quiet">
          All the same <Key>Enter</Key>
        </button>
      </div>
      {isNumber && (
        <p role="alert" className="mt-1 text-[14px] font-semibold text-out">
          A number is no reason: say it in words, or prove it dead first. The reading comes after.
        </p>
      )}
      {view.condition === 'live' && (
        <p className="mt-1 text-[14px] text-ink-2">Ohms, continuity and diode taken live are kept, and not judged.</p>
      )}
    </form>
  );
}
