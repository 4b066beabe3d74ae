import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import {
  type ObservationKind,
  type ObservationView,
  retireObservation,
  type VisitStart,
  type VisitStep,
} from '../api/generated';
import { ask } from '../api/ledger';
import { BuildFacts } from '../machines/BuildFacts';
import { useOutbox } from '../outbox/outbox';
import { usePerson } from '../people/person';
import { take } from '../photographs/take';
import { TakeButton } from '../photographs/TakeButton';
import { SafeBand } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf } from '../ui/time';
import { OutsideChecks } from './OutsideChecks';
import { statusMarks, statusWords, stepWords, useDone, useStart } from './start';
import { SkipStep, VisitMargin } from './VisitMargin';
import { useDraft } from '../ui/useDraft';

/** The first thing of a visit: what switching off will lose, which build it is, and the checks that open nothing. */
export function ArrivePage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return (
      <Frame title="Arrive">
        {start.isPending ? (
          <p className="py-6 text-ink-2">Opening the visit…</p>
        ) : (
          <Problem error={start.error} retry={() => void start.refetch()} />
        )}
      </Frame>
    );
  }
  return <Arriving start={start.data} />;
}

function Arriving({ start }: { start: VisitStart }) {
  const isCaught = start.steps.some((s) => s.step === 'catch' && s.status !== 'open');
  const go = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const to = { F9: start.lastRoundId && `/rounds/${start.lastRoundId}`, F7: `/visits/${start.visitId}/safe` }[
        event.key
      ];
      if (to) {
        event.preventDefault();
        void go(to);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [go, start.lastRoundId, start.visitId]);
  return (
    <Frame
      tag={start.tag}
      title={start.machineName}
      place={start.site}
      band={<SafeBand start={start} />}
      margin={<VisitMargin start={start} here="arrive" />}
      marginLast
      leafName="Build and boards"
      leaf={<Build start={start} />}
    >
      <Step
        start={start}
        step="catch"
        hint="Ten seconds if that is all there is: one burst of the lamps and the display."
      >
        <Catch start={start} />
      </Step>
      <Step start={start} step="outsideChecks" hint="Before a cover comes off.">
        <OutsideChecks start={start} />
      </Step>
      <p className="mt-4 flex flex-wrap gap-3">
        <Link
          to={`/visits/${start.visitId}/safe`}
          className={`${isCaught ? 'action' : 'quiet'} inline-flex items-center`}
        >
          Make safe <span className="ml-2 font-mono text-[12px] font-normal">F7</span>
        </Link>
        {start.lastRoundId && (
          <Link to={`/rounds/${start.lastRoundId}`} className="quiet inline-flex items-center gap-2">
            Measure <Key>F9</Key>
          </Link>
        )}
      </p>
    </Frame>
  );
}

function Step({
  start,
  step,
  hint,
  children,
}: {
  start: VisitStart;
  step: VisitStep;
  hint?: string;
  children: ReactNode;
}) {
  const state = start.steps.find((s) => s.step === step);
  return (
    <section aria-label={stepWords[step]} className="border-b border-rule-2 py-2">
      <h2 className="flex flex-wrap items-baseline gap-x-3">
        {state && <Mark kind={statusMarks[state.status]} />}
        {stepWords[step]}
        {state && <span className="text-[14px] font-normal text-ink-2">{statusWords[state.status]}</span>}
        {hint && <span className="text-[14px] font-normal text-ink-2">{hint}</span>}
      </h2>
      {children}
      <SkipStep start={start} step={step} />
    </section>
  );
}

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
]);

function Catch({ start }: { start: VisitStart }) {
  const person = usePerson();
  const { done, error } = useDone(start);
  const [kind, setKind] = useState<ObservationKind>('code');
  const [text, setText] = useDraft(`catch/${start.visitId}`);
  const field = useRef<HTMLInputElement>(null);
  const waiting = useOutbox().filter((p) => p.machineId === start.machineId && p.picture);
  const isCaught = start.steps.some((s) => s.step === 'catch' && s.status !== 'open');
  const caught = start.observations.filter((o) => !['coverOff', 'unplugged', 'lookedOver'].includes(o.kind));
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
              }).then((ok) => {
                if (!ok) {
                  setText(line);
                }
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

function StrikeOut({ observation, visitId }: { observation: ObservationView; visitId: string }) {
  const queries = useQueryClient();
  const strike = useMutation({
    mutationFn: () => ask(retireObservation({ path: { id: observation.id } })),
    onSuccess: (now) => queries.setQueryData(['start', visitId], now),
  });
  return (
    <button
      type="button"
      className={`link min-h-[28px] text-[14px] max-[899px]:min-h-[44px] ${strike.error ? 'text-out' : ''}`}
      aria-label={`Strike out: ${observation.text}`}
      onClick={() => strike.mutate()}
    >
      {strike.error ? 'not struck out; again' : 'Strike out'}
    </button>
  );
}

function Build({ start }: { start: VisitStart }) {
  return (
    <>
      <Step start={start} step="build">
        <BuildFacts build={start.build} modelId={start.modelId} modelName={start.modelName} tag={start.tag} />
      </Step>
      <Step start={start} step="boards">
        {start.boards.length === 0 && (
          <p className="text-[14px] text-ink-2">This model has no board written down yet.</p>
        )}
        <ul>
          {start.boards.map((p) => (
            <li key={p.positionId} className="flex flex-wrap items-center gap-x-2 border-b border-rule py-0.5">
              <Mark kind={p.isKnown ? 'within' : 'marginal'} />
              <span className="min-w-0 grow">
                {p.name} <span className="font-mono text-[14px]">{p.fitted || 'not written down'}</span>
                {!p.isKnown && (
                  <span className="block text-[14px] text-ink-2">
                    {p.fitted ? 'does not belong in this build' : 'more than one belongs here'}
                  </span>
                )}
              </span>
              {!start.hasEnded && (
                <Link
                  className="link inline-flex min-h-[36px] items-center text-[14px] max-[899px]:min-h-[44px]"
                  to={`/visits/${start.visitId}/boards/${p.positionId}`}
                  aria-label={`Which board is the ${p.name}?`}
                >
                  Which board is it?
                </Link>
              )}
            </li>
          ))}
        </ul>
      </Step>
    </>
  );
}
