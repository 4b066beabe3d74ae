import { useRef, useState } from 'react';
import { type ObservationKind, type VisitStart } from '../api/generated';
import { useOutbox } from '../outbox/outbox';
import { usePerson } from '../people/person';
import { TakeButton } from '../photographs/TakeButton';
import { take } from '../photographs/take';
import { Problem } from '../ui/Problem';
import { clockOf } from '../ui/time';
import { useLine } from '../ui/useDraft';
import { StrikeOut } from './StrikeOut';
import { useDone } from './start';

const kinds: [ObservationKind, string, string][] = [
  ['code', 'Code', 'as displayed, such as E 07 blinking'],
  ['hours', 'Hours', 'such as 2214 h'],
  ['counter', 'Counter', 'such as 418 220 operations'],
  ['lamp', 'Lamp', 'which, colour, steady or blinking'],
  ['works', 'Works', 'what does work speaks for its parts'],
  ['worksNot', 'Does not', 'what does not work'],
];
const kindWords = new Map<string, string>([
  ...kinds.map(([k, w]) => [k, w] as const),
  ['coverOff', 'Cover off'],
  ['unplugged', 'Unplugged'],
  ['seen', 'Seen'],
]);

export function Catch({ start }: { start: VisitStart }) {
  const person = usePerson();
  const { done, error } = useDone(start);
  const [kind, setKind] = useState<ObservationKind>('code');
  const { text, setText, takeBack } = useLine(`catch/${start.visitId}`);
  const field = useRef<HTMLInputElement>(null);
  const waiting = useOutbox().filter((p) => p.machineId === start.machineId && p.picture);
  const isCaught = start.steps.some((s) => s.step === 'catch' && s.status !== 'open');
  const caught = start.observations.filter(
    (o) => !['coverOff', 'unplugged', 'lookedOver', 'workedOut'].includes(o.kind),
  );
  if (start.hasEnded && caught.length === 0) {
    return <p className="text-ink-2">Nothing was caught.</p>;
  }
  return (
    <>
      {!start.hasEnded && (
        <form
          className="mt-1"
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
              field.current?.focus();
            }
          }}
        >
          <div role="radiogroup" aria-label="What is it?" className="flex flex-wrap gap-1">
            {kinds.map(([k, words]) => (
              <button
                key={k}
                type="button"
                role="radio"
                aria-checked={kind === k}
                tabIndex={kind === k ? 0 : -1}
                className={`quiet px-3 ${kind === k ? 'border-rust bg-rust-wash font-bold' : ''}`}
                onClick={() => {
                  setKind(k);
                  field.current?.focus();
                }}
                onKeyDown={(event) => {
                  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
                  if (by) {
                    event.preventDefault();
                    const next = kinds[(kinds.findIndex(([x]) => x === k) + by + kinds.length) % kinds.length];
                    if (next) {
                      setKind(next[0]);
                      const group = event.currentTarget.parentElement;
                      (group?.children[kinds.indexOf(next)] as HTMLElement | undefined)?.focus();
                    }
                  }
                }}
              >
                {words}
              </button>
            ))}
          </div>
          <div className="mt-1 flex flex-wrap gap-2">
            <input
              ref={field}
              className="field min-w-[200px] flex-1"
              aria-label={`${kindWords.get(kind)}, in a line`}
              placeholder={kinds.find(([k]) => k === kind)?.[2]}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
            <button type="submit" className="quiet">
              Keep it
            </button>
            <TakeButton
              className={isCaught ? 'quiet' : 'action'}
              label="Photographs of what it shows"
              onTake={(files) =>
                take(files, {
                  machineId: start.machineId,
                  tag: start.tag,
                  kind: 'screen',
                  personId: person?.id ?? '',
                  visitId: start.visitId,
                })
              }
            >
              Photograph it, a burst
            </TakeButton>
          </div>
        </form>
      )}
      <Problem error={error} />
      <ul className="mt-1">
        {caught.map((o) => (
          <li key={o.id} className="flex gap-3 border-b border-rule py-1">
            <span className="w-[72px] shrink-0 text-ink-2">{kindWords.get(o.kind)}</span>
            <b className="min-w-0 grow break-words">{o.text}</b>
            <span className="font-mono text-[14px] text-ink-2">{clockOf(o.at)}</span>
            {!start.hasEnded && <StrikeOut observation={o} visitId={start.visitId} />}
          </li>
        ))}
      </ul>
      {(start.photographs.length > 0 || waiting.length > 0) && (
        <p className="mt-1 flex flex-wrap items-center gap-2">
          {start.photographs.map((hash) => (
            <img key={hash} src={`/api/pictures/${hash}/small`} alt="taken in this visit" className="h-[64px]" />
          ))}
          {waiting.length > 0 && <span className="text-ink-2">{waiting.length} on the way</span>}
        </p>
      )}
    </>
  );
}
