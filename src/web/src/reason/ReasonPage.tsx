import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import {
  editVisit,
  getVisit,
  type NextActView,
  openFault,
  type ReasonView,
  type RoundView,
  type School,
  type VisitStart,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { PathLine, PathWords } from '../measuring/PathLine';
import { roundOn } from '../measuring/proposed';
import { useRound } from '../measuring/useRound';
import { usePerson } from '../people/person';
import { SafeBand } from '../safety/SafeBand';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { useKeys } from '../ui/useKeys';
import { editOf } from '../visits/edit';
import { useDone, useStart } from '../visits/start';
import { VisitMargin } from '../visits/VisitMargin';
import { DoNext } from './DoNext';
import { KnownLeaf } from './KnownLeaf';
import { Moved } from './Moved';
import { Suspects } from './Suspects';
import { useFurther, useReason } from './useReason';
import { Where } from './Where';
import { minutes, schools } from './words';

/** The step Reason: what is known, who is suspected, and what to do next. */
export function ReasonPage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  const [school, setSchool] = useState<School>('fastest');
  const [leftOut, setLeftOut] = useState<readonly string[]>([]);
  const reason = useReason(visitId, school, leftOut);
  const round = useRound(reason.data?.lastRoundId || undefined);
  if (!start.data || !reason.data) {
    return <OpeningPage title="Reason" words="Weighing what is known…" of={[start, reason]} />;
  }
  return (
    <Reason
      key={visitId}
      view={reason.data}
      isFresh={!reason.isPlaceholderData && !reason.isError}
      error={reason.error}
      start={start.data}
      round={round.data}
      school={school}
      setSchool={setSchool}
      leaveOut={(id) => setLeftOut([...leftOut, id])}
      leftOut={leftOut}
      takeIn={() => setLeftOut([])}
      again={() => void reason.refetch()}
    />
  );
}

interface ReasonProps {
  view: ReasonView;
  isFresh: boolean;
  error: Error | null;
  start: VisitStart;
  round: RoundView | undefined;
  school: School;
  setSchool: (school: School) => void;
  leaveOut: (id: string) => void;
  leftOut: readonly string[];
  takeIn: () => void;
  again: () => void;
}

function Reason({
  view,
  isFresh,
  error,
  start,
  round,
  school,
  setSchool,
  leaveOut,
  leftOut,
  takeIn,
  again,
}: ReasonProps) {
  const person = usePerson();
  const queries = useQueryClient();
  const { done, error: notKept } = useDone(start);
  const [picked, setPicked] = useState('');
  const [leaf, setLeaf] = useState<'known' | 'map' | 'photograph'>('known');
  const act = view.next.find((n) => n.id === picked) ?? view.next[0];
  const others = view.next.filter((n) => n.id !== act?.id).slice(0, 3);
  const further = useFurther(view, school, leftOut, isFresh && !start.hasEnded);
  const fresh = () => {
    setPicked('');
    void queries.invalidateQueries({ queryKey: ['reason', view.visitId] });
  };
  const say = async (text: string) => {
    const kept = await done({
      to: 'observations',
      words: text,
      json: { kind: 'seen', text, at: new Date().toISOString() },
    });
    if (kept) {
      fresh();
    }
    return kept;
  };
  useKeys((key) => {
    const other = { 'Alt Digit2': others[0], 'Alt Digit3': others[1], 'Alt Digit4': others[2] }[key];
    if (other) {
      setPicked(other.id);
    }
    return other !== undefined;
  });
  const path =
    view.paths.find((p) => p.state === act?.state) ?? view.paths.find((p) => p.stretches.length > 0) ?? view.paths[0];
  return (
    <Frame
      tag={start.tag}
      title={start.machineName}
      place={start.site}
      band={<SafeBand start={start} />}
      margin={
        <VisitMargin start={start} here="reason" brief>
          <School school={school} setSchool={setSchool} />
        </VisitMargin>
      }
      marginLast
      leafName="What is known"
      leaf={
        <>
          <Tabs
            name="Beside it"
            value={leaf}
            tabs={[
              ['known', 'What is known'],
              ['map', 'Map'],
              ['photograph', 'Photograph'],
            ]}
            onChange={setLeaf}
            className="mb-2 border-b border-rule-2"
          />
          {leaf === 'known' ? (
            <>
              <KnownLeaf view={view} round={round} personId={person?.id ?? ''} hasEnded={start.hasEnded} say={say} />
              <Moved view={view} />
            </>
          ) : (
            <Where key={leaf} start={start} view={view} act={act} onPhotograph={leaf === 'photograph'} />
          )}
        </>
      }
    >
      {!isFresh && (
        <p role="status" className="border-l-4 border-marginal pl-3 text-[14px] text-marginal">
          {error
            ? 'The ledger does not answer: this is how it last stood. What you add waits on this device.'
            : 'Weighing…'}
        </p>
      )}
      <Problem error={notKept} />
      {view.level === 0 ? (
        <Nothing start={start} />
      ) : (
        <>
          {view.suspects[0]?.standing === 'proved' && <Proved view={view} start={start} again={again} />}
          {act && !start.hasEnded && (
            <DoNext
              key={act.id}
              view={view}
              start={start}
              round={round}
              personId={person?.id ?? ''}
              act={act}
              say={say}
              leaveOut={() => {
                setPicked('');
                leaveOut(act.id);
              }}
              stored={fresh}
            />
          )}
          {!start.hasEnded && (
            <ul aria-label="Or one of these" className="border-t border-rule-2">
              {others.map((o, i) => (
                <li key={o.id} className="border-b border-rule">
                  <button
                    type="button"
                    className="flex min-h-[34px] w-full cursor-pointer items-baseline gap-3 text-left max-[899px]:min-h-[48px] max-[899px]:items-center"
                    onClick={() => setPicked(o.id)}
                  >
                    <Key>Alt {i + 2}</Key>
                    <span className="min-w-0 grow">{wordsOf(o)}</span>
                    <span className="shrink-0 text-[14px] text-ink-2">
                      {minutes(o.minutes)}, {minutes(o.toTheEnd)} to the end
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          )}
          {!start.hasEnded && view.lastRoundId && view.round.length > 0 && <RoundOfThese view={view} />}
          {further && further.id !== act?.id && (
            <p className="text-[14px] text-ink-2">
              Looked one act further,{' '}
              <button type="button" className="link max-[899px]:min-h-[44px]" onClick={() => setPicked(further.id)}>
                {wordsOf(further)}
              </button>{' '}
              comes to less in the end.
            </p>
          )}
          {leftOut.length > 0 && (
            <p className="text-[14px] text-ink-2">
              {leftOut.length} left out as not possible here.{' '}
              <button type="button" className="link" onClick={takeIn}>
                Offer them again
              </button>
            </p>
          )}
          <Suspects view={view} />
          {view.suspects[0]?.standing !== 'proved' && <Proved view={view} start={start} again={again} />}
          <Doubts view={view} />
          {path && (
            <section aria-label="Where on the path" className="mt-3 border-t border-rule-2 pt-1">
              <h2>Where on the path</h2>
              <PathLine path={path} here={act?.red?.printed} onPick={() => undefined} />
              <PathWords path={path} />
            </section>
          )}
          {view.worthEntering && (
            <p className="mt-2 text-[14px] text-ink-2">
              Worth entering: {view.worthEntering}.{' '}
              <Link className="link" to={`/machines/${encodeURIComponent(start.tag)}/circuit?view=parts`}>
                To the circuit
              </Link>
            </p>
          )}
        </>
      )}
    </Frame>
  );
}

/** Readings that are worth taking in one go, with the way to them. */
function RoundOfThese({ view }: { view: ReasonView }) {
  const go = useNavigate();
  const to = roundOn(
    view.lastRoundId,
    view.round.map((r) => r.checkKey),
  );
  useKeys((key) => {
    if (key === 'F9') {
      void go(to);
    }
    return key === 'F9';
  });
  const dead = view.round.filter((r) => r.isDead).length;
  return (
    <Link
      className="flex min-h-[34px] w-full items-baseline gap-3 border-b border-rule max-[899px]:min-h-[48px] max-[899px]:items-center"
      title={view.round.map((r) => `${r.words}, ${r.stateName}`).join('; ')}
      to={to}
    >
      <Key>F9</Key>
      <span className="min-w-0 grow">
        Measure the {view.round.length} that tell most in a round{dead > 0 && `, ${dead} of them while it is dead`}
      </span>
      <span className="shrink-0 text-[14px] text-ink-2">
        {minutes(view.round.reduce((sum, r) => sum + r.minutes, 0))}
      </span>
    </Link>
  );
}

const verbs: Record<NextActView['kind'], string> = {
  read: 'Read',
  try: 'Try',
  look: 'Look at',
  inspect: 'Look closely at',
  swap: 'Swap',
  fit: '',
  wait: '',
  leave: '',
  close: 'Put in or close',
  wiggle: 'Move',
  code: '',
};

const wordsOf = (act: NextActView) => {
  // What is neither read nor seen is said as a whole: go over its settings.
  const words = act.kind === 'read' || act.choices.length > 0 ? `${verbs[act.kind]} ${act.words}`.trim() : act.words;
  return act.stateName && act.kind !== 'fit' ? `${words}, ${act.stateName}` : words;
};

function School({ school, setSchool }: { school: School; setSchool: (school: School) => void }) {
  return (
    <div className="py-2 text-[14px]">
      <span className="mb-1 block text-ink-2">Way of going on</span>
      <Choose
        name="Way of going on"
        value={school}
        options={schools.map(([value, words]) => ({ value, words }))}
        onChange={setSchool}
      />
      <p className="mt-1 leading-snug text-ink-2">{schools.find(([value]) => value === school)?.[2]}</p>
    </div>
  );
}

/** Level 0: what to enter so that something can be said. */
function Nothing({ start }: { start: VisitStart }) {
  return (
    <div className="py-4">
      <h2 className="title">Nothing is entered yet that tells suspects apart</h2>
      <p className="mt-2 max-w-[60ch]">
        The quickest way in is a table of what the machine does and which parts that takes: ticks, some forty presses.
        The wiring, and the circuit, tell more.
      </p>
      <p className="mt-3 flex flex-wrap gap-x-6">
        <Link
          className="link inline-flex min-h-[44px] items-center"
          to={`/machines/${encodeURIComponent(start.tag)}/functions`}
        >
          What it does
        </Link>
        <Link
          className="link inline-flex min-h-[44px] items-center"
          to={`/machines/${encodeURIComponent(start.tag)}/wiring`}
        >
          Its wiring
        </Link>
        <Link
          className="link inline-flex min-h-[44px] items-center"
          to={`/machines/${encodeURIComponent(start.tag)}/circuit`}
        >
          Its circuit
        </Link>
      </p>
    </div>
  );
}

/** How it stands in a sentence, and what takes it over: the fault, or the visit's ending. */
function Proved({ view, start, again }: { view: ReasonView; start: VisitStart; again: () => void }) {
  const go = useNavigate();
  const person = usePerson();
  const [error, setError] = useState<Error | null>(null);
  const [kept, setKept] = useState(false);
  const first = view.suspects[0];
  const isProved = first?.standing === 'proved';
  const writeUp = async () => {
    try {
      setError(null);
      const fault = await ask(
        openFault({
          body: {
            id: newId(),
            machineId: null,
            roundId: view.lastRoundId || null,
            reasonedInVisit: view.visitId,
            noticed: start.complaint,
            personId: person?.id ?? '',
          },
        }),
      );
      await go(`/faults/${fault.id}`);
    } catch (failure) {
      setError(failure as Error);
    }
  };
  useKeys((key) => {
    if (key === 'F8') {
      void writeUp();
    }
    return key === 'F8';
  });
  const bring = async () => {
    try {
      setError(null);
      const visit = await ask(getVisit({ path: { id: view.visitId } }));
      const edit = editOf(visit);
      await ask(
        editVisit({
          path: { id: view.visitId },
          body: {
            ...edit,
            bring: [...edit.bring, view.bring],
            endingNote: edit.endingNote || view.ending,
          },
        }),
      );
      setKept(true);
      again();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  if (!view.ending) {
    return null;
  }
  return (
    <div className={`border-b border-rule-2 py-1.5 ${isProved ? 'border-l-4 border-l-rust pl-3' : ''}`}>
      <p className={isProved ? 'text-[19px] font-bold' : ''}>{view.ending}</p>
      {!start.hasEnded && (
        <p className="flex flex-wrap gap-x-5 text-[14px]">
          <button type="button" className="link min-h-[32px] max-[899px]:min-h-[44px]" onClick={() => void writeUp()}>
            Write up the fault <Key>F8</Key>
          </button>
          {!isProved && view.bring && (
            <button
              type="button"
              className="link min-h-[32px] max-[899px]:min-h-[44px]"
              disabled={kept}
              onClick={() => void bring()}
            >
              {kept ? 'It is with what to bring' : `Not today: bring ${view.bring}`}
            </button>
          )}
          {view.lastRoundId && (
            <Link className="link inline-flex min-h-[32px] items-center" to={`/rounds/${view.lastRoundId}`}>
              To the sheet
            </Link>
          )}
        </p>
      )}
      <Problem error={error} />
    </div>
  );
}

/** What does not fit: the observations to doubt, and what no listed fault explains. */
function Doubts({ view }: { view: ReasonView }) {
  const least = view.leastToDoubt.filter((u) => !view.nothingExplains.includes(u));
  if (view.unexplained.length + view.nothingExplains.length + least.length === 0) {
    return null;
  }
  return (
    <section aria-label="What does not fit" className="mt-3 border-l-4 border-marginal pl-3 text-[14px]">
      {view.nothingExplains.length > 0 && (
        <p>
          <b>Nothing in this ledger explains</b> {view.nothingExplains.join('; ')}. Is it read right? Else a wire may be
          missing here.
        </p>
      )}
      {least.length > 0 && (
        <p>
          <b>No fault in this ledger explains all of it.</b> Without “{least.join('” and “')}” one does:{' '}
          {view.otherwise}.
        </p>
      )}
      {view.unexplained.some((u) => !view.nothingExplains.includes(u) && !least.includes(u)) && (
        <p>
          <b>To doubt, if it is {view.suspects.find((s) => s.parts.length > 0)?.name}:</b>{' '}
          {view.unexplained.filter((u) => !view.nothingExplains.includes(u) && !least.includes(u)).join('; ')}.
        </p>
      )}
    </section>
  );
}
