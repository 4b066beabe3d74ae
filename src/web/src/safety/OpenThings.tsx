import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editObservation, type ObservationView, type VisitStart } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose, type Option } from '../ui/Choose';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useDone } from '../visits/start';
import { LeafPart } from './LeafPart';
import { useLine } from '../ui/useDraft';

/** Covers off and plugs pulled, until they are back. */
const opened: Option<'coverOff' | 'unplugged'>[] = [
  { value: 'coverOff', words: 'cover off' },
  { value: 'unplugged', words: 'unplugged' },
];

export function OpenThings({ start }: { start: VisitStart }) {
  const queries = useQueryClient();
  const { done, error } = useDone(start);
  const [kind, setKind] = useState<'coverOff' | 'unplugged'>('coverOff');
  const { text, setText, takeBack } = useLine(`open-thing/${start.visitId}`);
  const [failure, setFailure] = useState<Error | null>(null);
  const things = start.observations.filter((o) => o.kind === 'coverOff' || o.kind === 'unplugged');
  const back = async (o: ObservationView) => {
    try {
      setFailure(null);
      const now = await ask(
        editObservation({ path: { id: o.id }, body: { version: o.version, text: o.text, isDone: o.doneAt === null } }),
      );
      queries.setQueryData(['start', start.visitId], now);
    } catch (broken) {
      setFailure(broken as Error);
    }
  };
  return (
    <LeafPart title="Covers off, plugs pulled">
      <ul>
        {things.map((o) => (
          <li key={o.id} className="flex items-center gap-2 border-b border-rule py-1">
            <Mark kind={o.doneAt ? 'within' : 'differs'} />
            <span className="min-w-0 grow">
              {o.kind === 'coverOff' ? 'Cover off' : 'Unplugged'}: <b>{o.text}</b>
            </span>
            {!start.hasEnded && (
              <button
                type="button"
                className="link min-h-[32px] shrink-0 text-[14px] max-[899px]:min-h-[44px]"
                aria-label={`${o.doneAt ? 'Open again' : 'Back'}: ${o.text}`}
                onClick={() => void back(o)}
              >
                {o.doneAt ? 'back; open again' : 'It is back'}
              </button>
            )}
          </li>
        ))}
      </ul>
      {!start.hasEnded && (
        <form
          className="mt-1 flex gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            if (text.trim()) {
              const line = text;
              setText('');
              void done({
                to: 'observations',
                words: line,
                json: { kind, text: line, at: new Date().toISOString() },
                back: () => takeBack(line),
              });
            }
          }}
        >
          <Choose
            name="What was opened"
            className="w-[124px] shrink-0 px-1"
            value={kind}
            options={opened}
            onChange={setKind}
          />
          <input
            className="field min-w-0"
            aria-label="Which cover or plug"
            placeholder="which"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <button type="submit" className="quiet px-2">
            Note
          </button>
        </form>
      )}
      <Problem error={error ?? failure} />
    </LeafPart>
  );
}
