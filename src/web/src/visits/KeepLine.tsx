import { useState } from 'react';
import type { VisitStart } from '../api/generated';
import { Problem } from '../ui/Problem';
import { useDone } from './start';

/** What a visit's line holds. */
const mostKept = 300;

interface KeepLineProps {
  start: VisitStart;
  /** What was worked out, in a line; cut where it is too long for one. */
  text: string;
  /** It is being worked out anew. */
  isOld?: boolean;
}

/** Keeps what was worked out as a line of the visit. */
export function KeepLine({ start, text: whole, isOld = false }: KeepLineProps) {
  const { done, error, waits } = useDone(start);
  const [sent, setSent] = useState('');
  const text = whole.length <= mostKept ? whole : `${whole.slice(0, mostKept - 1)}…`;
  const isKept = start.observations.some((o) => o.kind === 'workedOut' && o.text === text);
  // What was kept before on this device holds up no other answer.
  const isWaiting = waits && sent === text;
  return (
    <>
      <button
        type="button"
        className="action"
        disabled={isKept || isWaiting || isOld}
        onClick={() => {
          setSent(text);
          void done({
            to: 'observations',
            words: text,
            json: { kind: 'workedOut', text, at: new Date().toISOString() },
          });
        }}
      >
        {isKept ? 'Kept with the visit' : isWaiting ? 'Kept on this device' : 'Keep it with the visit'}
      </button>
      <Problem error={error} />
    </>
  );
}
