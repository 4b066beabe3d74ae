import { useState } from 'react';
import type { VisitStart } from '../api/generated';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { useDone } from '../visits/start';
import { act } from './NextAct';

/** Going live again is a deliberate act: it lists what is open first, and asks why. */
export function GoLive({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const [shown, setShown] = useState(false);
  const [source, setSource] = useState('');
  const [why, setWhy] = useDraft(`live-again/${start.visitId}`);
  const anyOff = start.safety.state.steps.some((s) => s.kind !== 'read' && s.doneAt !== null);
  if (!anyOff) {
    return null;
  }
  if (!shown) {
    return (
      <button type="button" className="quiet border-out text-out" onClick={() => setShown(true)}>
        Go live again
      </button>
    );
  }
  return (
    <form
      aria-label="Go live again"
      className="border-2 border-out px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        void done(act('liveAgain', source, 'live again', { words: why })).then((ok) => {
          if (ok) {
            setShown(false);
            setWhy('');
          }
        });
      }}
    >
      <h2>Before it goes live</h2>
      {start.goingLive.length === 0 ? (
        <p>No cover is noted as off, nothing as unplugged, no temporary link as placed. Look all the same.</p>
      ) : (
        <ul className="list-disc pl-5">
          {start.goingLive.map((g) => (
            <li key={g} className="font-bold text-out">
              {g}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          What comes back on?
          <Choose
            value={source}
            options={[
              { value: '', words: 'all of it' },
              ...start.safety.sources.map((s) => ({ value: s.id, words: s.name })),
            ]}
            onChange={setSource}
          />
        </label>
        <label className="min-w-[200px] flex-1">
          Why?
          <input
            className="field"
            ref={(f) => f?.focus()}
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
        </label>
        <button type="submit" className="quiet border-out font-bold text-out" disabled={!why.trim()}>
          It is live again
        </button>
        <button type="button" className="link min-h-[38px]" onClick={() => setShown(false)}>
          Not yet
        </button>
      </div>
      <Problem error={error} />
    </form>
  );
}
