import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import {
  type LiveAnswer,
  openFault,
  type PinOnMap,
  type RoundView,
  type RowView,
  type VisitStart,
} from '../api/generated';
import { ask, type Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { BoardMap } from '../boards/BoardMap';
import { NearNotes } from '../boards/NearNotes';
import { useOverlay } from '../photographs/BoardPhotograph';
import { PhotoMap } from '../photographs/PhotoMap';
import { useFacing } from '../boards/facing';
import { FacingKeys } from '../boards/FacingKeys';
import { useBoardMap } from '../boards/useBoardMap';
import { usePerson } from '../people/person';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark, type MarkKind, markWords } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { SafeBand } from '../safety/SafeBand';
import { useStart } from '../visits/start';
import { VisitMargin } from '../visits/VisitMargin';
import { AllTheSame } from './AllTheSame';
import { AskLive } from './AskLive';
import { ExtraReading } from './ExtraReading';
import { discard, store, useWaitingLines, type WaitingLine } from './lines';
import { NumberPad } from './NumberPad';
import { PathLine, PathWords } from './PathLine';
import { Probe } from './Probe';
import { changesBetween, lineOf, markOf, nextDown, sheetOf } from './sheet';
import { SheetTable } from './SheetTable';
import { useRound } from './useRound';
import { Spreadsheet } from './Spreadsheet';
import { Why } from './Why';
import { draftOf, keepDraft } from '../ui/useDraft';

/**
 * How long the page waits for a ledger that neither answers nor refuses the connection before it goes on down the
 * sheet: long enough that a slow one still says which check is next, in ms.
 */
const patience = 4000;
const skipReasons = ['cannot reach', 'not fitted', 'guard in the way', 'not safe now'];

export function MeasurePage() {
  const { roundId = '' } = useParams();
  const round = useRound(roundId);
  if (!round.data) {
    return (
      <Frame title="Measure" probing>
        {round.isPending ? (
          <p className="py-6 text-ink-2">Laying out the sheet…</p>
        ) : (
          <Problem error={round.error} retry={() => void round.refetch()} />
        )}
      </Frame>
    );
  }
  return <Measuring key={roundId} view={round.data} />;
}

function Measuring({ view }: { view: RoundView }) {
  const person = usePerson();
  const waiting = useWaitingLines();
  const queries = useQueryClient();
  const start = useStart(view.visitId);
  const go = useNavigate();
  const lines = sheetOf(view, waiting);
  const [cursor, setCursor] = useState<string | null>(view.nextKey);
  // The number belongs to its row: it is there again after a reload, and nowhere else.
  const [typed, setTypedNow] = useState(() => {
    const [row, text] = (draftOf(`reading/${view.id}`) ?? '').split('\n');
    return row && row === cursor ? (text ?? '') : '';
  });
  const setTyped = (text: string) => {
    keepDraft(`reading/${view.id}`, text === '' ? '' : `${cursor ?? ''}\n${text}`);
    setTypedNow(text);
  };
  const [error, setError] = useState<Refusal | null>(null);
  const [ready, setReady] = useState<string | null>(null);
  const [why, setWhy] = useState(false);
  const [extra, setExtra] = useState(false);
  const [wholeBoard, setWholeBoard] = useState(false);
  const [onPhotograph, setOnPhotograph] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  // Which of two readings was chosen, while it is asked whether it is live.
  const chosen = useRef<number>(undefined);

  const row = view.rows.find((r) => r.key === cursor);
  const lastKey =
    waiting.findLast((w) => w.roundId === view.id && w.line.kind === 'taken')?.line.checkKey ?? view.last?.checkKey;
  const changes = changesBetween(
    view.rows.find((r) => r.key === lastKey),
    row,
  );
  const interrupted = changes.length > 0 && ready !== cursor;
  const isNotDead = view.condition !== null && view.condition !== 'provedDead';
  const [reason, setReason] = useState('');
  const needsReason = isNotDead && row?.deadOnly === true;
  const path = view.paths.find((p) => p.state === row?.state) ?? view.paths.find((p) => p.stretches.length > 0);
  const onBoard = row?.red?.position ?? undefined;
  const facing = useFacing(view.machineId, onBoard);
  const map = useBoardMap(view.machineId, onBoard, facing.facing);
  const overlay = useOverlay(onPhotograph ? (map.data?.photographId ?? undefined) : undefined, facing.facing);
  const laid = onPhotograph && map.data?.photographId && overlay.data?.isLaid ? overlay.data : undefined;
  const here = map.data?.pins.find((p) => p.id === row?.red?.pin && map.data.positionId === onBoard);

  const moveTo = (key: string | null) => {
    setCursor(key);
    setError(null);
    setWhy(false);
    field.current?.focus();
  };

  const write = useMutation({
    mutationFn: () =>
      ask(
        openFault({
          body: { id: newId(), machineId: null, roundId: view.id, noticed: '', personId: person?.id ?? '' },
        }),
      ),
    onSuccess: async (fault) => {
      await queries.invalidateQueries({ queryKey: ['machine'] });
      await go(`/faults/${fault.id}`);
    },
  });

  const put = async (
    asked: RowView,
    what: { typed: string; choice?: number; alive?: LiveAnswer } | { reason: string },
  ) => {
    chosen.current = 'typed' in what ? what.choice : undefined;
    const line = lineOf(
      asked,
      person?.id ?? '',
      'typed' in what
        ? {
            typed: what.typed,
            choice: what.choice ?? null,
            alive: what.alive ?? null,
            reason: needsReason ? reason : '',
          }
        : { kind: 'skipped', reason: what.reason },
    );
    for (const old of waiting.filter((w) => w.refused && w.line.checkKey === asked.key)) {
      await discard(old.line.id);
    }
    setTyped('');
    setError(null);
    const sent = store(view.id, line);
    const outcome = await Promise.race([
      sent,
      new Promise<null>((resolve) => setTimeout(() => resolve(null), patience)),
    ]);
    if (outcome?.kind === 'refused') {
      // The technician is still here: back into the field instead of onto the sheet.
      await discard(line.id);
      setTyped('typed' in what ? what.typed : '');
      setError(outcome.refusal);
      return;
    }
    moveTo(outcome?.kind === 'stored' ? outcome.change.nextKey : nextDown(lines, asked.key, !isNotDead));
  };

  const takeBack = async () => {
    const takenBack = new Set(waiting.map((w) => w.line.target));
    const mine = waiting.findLast(
      (w) => w.roundId === view.id && w.line.kind === 'taken' && w.line.checkKey !== null && !takenBack.has(w.line.id),
    );
    const mineRow = view.rows.find((r) => r.key === mine?.line.checkKey);
    if (mine && mineRow) {
      if (mine.refused) {
        await discard(mine.line.id);
      } else {
        // It may have arrived without the answer coming back, so it is taken back like any other.
        void store(view.id, lineOf(mineRow, person?.id ?? '', { kind: 'retracted', target: mine.line.id }));
      }
      moveTo(mine.line.checkKey);
      return;
    }
    const last = view.last;
    const lastRow = view.rows.find((r) => r.key === last?.checkKey) ?? view.rows[0];
    if (last && lastRow) {
      await store(
        view.id,
        lineOf(lastRow, person?.id ?? '', { kind: 'retracted', target: last.id, checkKey: last.checkKey }),
      );
      moveTo(last.checkKey ?? cursor);
    }
  };

  const step = (by: number) => {
    const at = view.rows.findIndex((r) => r.key === cursor);
    const next = view.rows[at + by];
    if (next) {
      moveTo(next.key);
    }
  };

  /** One press, from the keyboard or the pad; true where it was an action rather than a sign. */
  const press = (key: string): boolean => {
    // Whoever types a number has moved the probe: it begins the number and is not lost.
    if (interrupted && /^[\d.,]$/.test(key)) {
      setReady(cursor);
      setTyped(key);
      return true;
    }
    const acts: Record<string, (() => void) | undefined> = {
      Enter: () => {
        if (interrupted) {
          setReady(cursor);
        } else if (row && typed.trim()) {
          void put(row, { typed });
        }
      },
      '*': () => setTyped('OL'),
      '?': () => setWhy(!why),
      '/': typed === '' && row ? () => void put(row, { reason: 'later' }) : undefined,
      later: row ? () => void put(row, { reason: 'later' }) : undefined,
      Backspace: typed === '' ? () => void takeBack() : undefined,
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
    };
    const act = acts[key];
    act?.();
    return act !== undefined;
  };

  // A reading may have ended what stands above the page.
  const told = start.data?.safety.state.condition;
  const isTold = view.condition === null || told === undefined || told === view.condition;
  useEffect(() => {
    if (!isTold) {
      void queries.invalidateQueries({ queryKey: ['start', view.visitId] });
    }
  }, [isTold, queries, view.visitId]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'F4') {
        event.preventDefault();
        setExtra(true);
      } else if (event.key === 'F8') {
        event.preventDefault();
        write.mutate();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  const pick = (pin: PinOnMap) => {
    const at = lines.filter((l) => l.row.red?.pin === pin.id && l.row.red.position === onBoard);
    moveTo((at.find((l) => !l.row.reading) ?? at[0])?.row.key ?? cursor);
  };

  const marks = new Map<string, MarkKind>();
  for (const line of lines) {
    const mark = markOf(line);
    if (line.row.red && line.row.red.position === onBoard && mark !== 'untouched') {
      marks.set(line.row.red.pin, mark);
    }
  }

  return (
    <Frame
      tag={view.tag}
      title={view.machineName}
      place={view.site}
      probing
      band={start.data && <SafeBand start={start.data} />}
      aside={
        <span className="flex items-center gap-4 min-[900px]:hidden">
          <span className="text-on-iron-2">
            Measure {view.taken} of {view.rows.length}
          </span>
          <button type="button" className="min-h-[44px] px-1 underline" onClick={() => setExtra(true)}>
            Extra
          </button>
          <button type="button" className="min-h-[44px] px-1 underline" onClick={() => write.mutate()}>
            Write up
          </button>
        </span>
      }
      margin={<Margin view={view} start={start.data} extra={() => setExtra(true)} writeUp={() => write.mutate()} />}
      leaf={
        <>
          {map.data && onBoard ? (
            <>
              <h2>
                {map.data.positionName}, {map.data.facingWords}
              </h2>
              <div className="my-2 flex flex-wrap gap-2 text-[14px] [&>[role=group]]:contents">
                <FacingKeys {...facing} />
                <button
                  type="button"
                  className="quiet px-2"
                  aria-pressed={wholeBoard}
                  onClick={() => setWholeBoard(!wholeBoard)}
                >
                  {wholeBoard ? 'Closer' : 'Whole board'}
                </button>
                {map.data.photographId && (
                  <button
                    type="button"
                    className="quiet px-2"
                    aria-pressed={onPhotograph}
                    onClick={() => setOnPhotograph(!onPhotograph)}
                  >
                    {onPhotograph ? 'Map' : 'Photograph'}
                  </button>
                )}
              </div>
              {laid && (
                <PhotoMap
                  overlay={laid}
                  red={row?.red?.pin}
                  black={row?.black?.position === onBoard ? row.black.pin : undefined}
                  marks={marks}
                  onPick={pick}
                  className="max-h-[520px] w-full"
                />
              )}
              {!laid && (
                <BoardMap
                  map={map.data}
                  red={row?.red?.pin}
                  black={row?.black?.position === onBoard ? row.black.pin : undefined}
                  marks={marks}
                  zoomed={!wholeBoard}
                  onPick={pick}
                  className="max-h-[520px] w-full"
                />
              )}
              <NearNotes notes={map.data.notes} pinId={row?.red?.pin} />
              <p className="mt-1 text-[14px] text-ink-2">The square pin is pin 1. Choose a pin to go to its check.</p>
            </>
          ) : (
            <p className="text-ink-2">
              {onBoard
                ? map.isError
                  ? 'The map of this board is out of reach.'
                  : 'Laying out the board…'
                : row?.red
                  ? `${row.red.element} is off the boards: ${row.red.holderWords}.`
                  : 'Nothing to probe for this check.'}
            </p>
          )}
          <Extras view={view} waiting={waiting.filter((w) => w.roundId === view.id && w.line.checkKey === null)} />
        </>
      }
    >
      <div className="max-[899px]:pb-[290px]">
        <Last view={view} why={why} toggle={() => setWhy(!why)} />
        {why && <Why view={view} row={row} path={path} />}
        {extra && person ? (
          <ExtraReading
            view={view}
            current={row}
            personId={person.id}
            close={() => {
              setExtra(false);
              setTimeout(() => field.current?.focus());
            }}
          />
        ) : row ? (
          <>
            <Probe
              row={row}
              words={here?.words}
              landmarks={here?.landmarks}
              isProvedDead={view.condition === 'provedDead'}
            />
            {interrupted && (
              <div role="alert" className="settle mb-2 border-4 border-rust bg-rust-wash px-4 py-2">
                {changes.map((change) => (
                  <p key={change} className="text-[22px] leading-tight font-bold">
                    {change}
                  </p>
                ))}
                <button
                  type="button"
                  className="quiet mt-2 border-ink max-[899px]:hidden"
                  onClick={() => setReady(cursor)}
                >
                  Done <Key>Enter</Key>
                </button>
              </div>
            )}
            {needsReason && !interrupted && reason && (
              <p className="text-[14px] text-out">
                Not proved dead, measured all the same: {reason}.{' '}
                <button
                  type="button"
                  className="link min-h-[32px] max-[899px]:min-h-[44px]"
                  onClick={() => setReason('')}
                >
                  Change
                </button>
              </p>
            )}
            {row.energised && view.condition === 'provedDead' && (
              <p className="py-1 font-semibold text-marginal">
                It is proved dead, and this is read live.{' '}
                <Link className="link" to={`/visits/${view.visitId}/safe`}>
                  Go live again
                </Link>
              </p>
            )}
            {!interrupted && needsReason && !reason && <AllTheSame key={row.key} view={view} say={setReason} />}
            {!interrupted && !(needsReason && !reason) && (
              <Entry typed={typed} setTyped={setTyped} press={press} row={row} field={field} invalid={error !== null} />
            )}
            {interrupted && (
              <input
                ref={field}
                autoFocus
                readOnly
                inputMode="none"
                aria-label="Enter when done"
                className="absolute size-px opacity-0"
                value=""
                onKeyDown={(event) => {
                  if (press(event.key)) {
                    event.preventDefault();
                  }
                }}
              />
            )}
            <AskLive
              error={error}
              answer={(alive) => void put(row, { typed, choice: chosen.current, alive })}
              mistyped={() => {
                setError(null);
                setTyped('');
                field.current?.focus();
              }}
            />
            <Choice error={error} choose={(choice) => void put(row, { typed, choice })} />
            <Keys skip={(reason) => void put(row, { reason })} />
          </>
        ) : (
          <p className="border-y border-rule-2 py-6 text-[19px] font-semibold">
            {view.waitingForDead > 0 ? (
              <>
                {view.waitingForDead} checks are left that are measured dead.{' '}
                <Link className="link" to={`/visits/${view.visitId}/safe`}>
                  Prove it dead
                </Link>
                , or choose one on the sheet.
              </>
            ) : view.rows.length === 0 ? (
              <>
                Nothing is written on the sheet yet. Take an extra reading (<Key>F4</Key>), or write down what should be
                read on{' '}
                <Link className="link" to={`/machines/${encodeURIComponent(view.tag)}`}>
                  the machine’s boards
                </Link>
                .
              </>
            ) : (
              'Everything on the sheet is measured. Write up the fault, or end the visit on the machine’s page.'
            )}
          </p>
        )}
        <Problem error={write.error} />
        {path && (
          <section aria-label="Power path" className="border-t border-rule-2 py-1.5">
            <h2 className="text-[14px] text-ink-2">Power path, {path.stateName}</h2>
            <PathLine path={path} here={row?.red?.printed} onPick={moveTo} />
            <PathWords path={path} />
          </section>
        )}
        {row && !extra && <Keys thumb skip={(reason) => void put(row, { reason })} />}
        <SheetTable lines={lines} current={cursor} onPick={moveTo} />
      </div>
      {row && !extra && !(needsReason && !reason && !interrupted) && (
        <NumberPad
          storeWord={interrupted ? 'Done' : 'Store'}
          press={(key) => {
            if (key === 'off') {
              setTyped('-');
            } else if (key === '+') {
              setTyped('+');
            } else if (key === 'Backspace' && typed !== '') {
              setTyped(typed.slice(0, -1));
            } else if (!press(key)) {
              setTyped(typed + key);
            }
          }}
        />
      )}
    </Frame>
  );
}

interface EntryProps {
  typed: string;
  setTyped: (text: string) => void;
  press: (key: string) => boolean;
  row: RowView;
  field: React.RefObject<HTMLInputElement | null>;
  invalid: boolean;
}

function Entry({ typed, setTyped, press, row, field, invalid }: EntryProps) {
  const said = { '+': row.mode === 'lamp' ? 'on' : 'closed', '-': row.mode === 'lamp' ? 'off' : 'open' }[typed];
  return (
    <div className={`flex items-stretch border-2 ${invalid ? 'border-out' : 'border-ink'}`}>
      <input
        ref={field}
        autoFocus
        autoComplete="off"
        autoCapitalize="off"
        spellCheck={false}
        inputMode={matchMedia('(max-width: 899px)').matches ? 'none' : 'decimal'}
        aria-label={`Reading at ${row.red?.printed ?? row.part}`}
        aria-invalid={invalid}
        className="h-[52px] w-full min-w-0 bg-sheet min-[900px]:h-[58px] px-4 font-mono text-[40px] font-bold caret-rust"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (!event.ctrlKey && !event.altKey && !event.metaKey && press(event.key)) {
            event.preventDefault();
          }
        }}
      />
      <span className="flex min-w-[58px] items-center justify-center border-l border-rule-2 px-3 text-[24px] text-ink-2">
        {said ?? row.unit}
      </span>
    </div>
  );
}

function Choice({ error, choose }: { error: Refusal | null; choose: (choice: number) => void }) {
  const choices = error?.problem.choices;
  if (error?.problem.asksLive) {
    return null;
  }
  if (!choices) {
    return <Problem error={error} />;
  }
  return (
    <div role="alert" className="my-2 border-l-4 border-rust bg-rust-wash px-4 py-2">
      <b>Which one counts?</b>
      {choices.map((choice, i) => (
        <button
          key={choice}
          type="button"
          className="quiet ml-3 min-h-[44px] border-ink font-mono font-bold"
          autoFocus={i === 0}
          onClick={() => choose(i)}
        >
          {choice}
        </button>
      ))}
    </div>
  );
}

/** The keys where they act; under a thumb only the reasons for a skip, below the path. */
function Keys({ skip, thumb }: { skip: (reason: string) => void; thumb?: boolean }) {
  return (
    <p
      className={`flex flex-wrap items-center gap-x-4 gap-y-1 py-1.5 text-[14px] text-ink-2 ${thumb ? 'min-[900px]:hidden' : 'max-[899px]:hidden'}`}
    >
      <span className={thumb ? 'hidden' : 'contents'}>
        <span>
          <Key>Enter</Key> store
        </span>
        <span>
          <Key>*</Key> OL
        </span>
        <span>
          <Key>+</Key> on <Key>-</Key> off
        </span>
        <span>
          <Key>/</Key> later
        </span>
        <span>
          <Key>⌫</Key> take back
        </span>
      </span>
      <label className="inline-flex items-center gap-2">
        Skip:
        <select
          className="min-h-[28px] border border-rule-2 px-1 max-[899px]:min-h-[44px]"
          value=""
          onChange={(event) => {
            if (event.target.value) {
              skip(event.target.value);
            }
          }}
        >
          <option value="">another reason</option>
          {skipReasons.map((reason) => (
            <option key={reason} value={reason}>
              {reason}
            </option>
          ))}
        </select>
      </label>
    </p>
  );
}

function Last({ view, why, toggle }: { view: RoundView; why: boolean; toggle: () => void }) {
  const last = view.last;
  return (
    <div
      className="flex min-h-[40px] items-center gap-x-3 border-b border-rule min-[900px]:pb-1"
      aria-live="polite"
      data-testid="last"
    >
      {last ? (
        <p
          key={last.id}
          className="settle flex min-w-0 grow flex-wrap items-center gap-x-3 leading-snug max-[899px]:max-h-[44px] max-[899px]:overflow-hidden"
        >
          <Mark kind={last.verdict} />
          <b className="font-mono">
            {last.redPrinted} {last.value}
          </b>
          <span
            className={
              last.verdict === 'within'
                ? 'text-within'
                : last.verdict === 'notJudged'
                  ? 'text-ink-2'
                  : last.verdict === 'marginal'
                    ? 'text-marginal'
                    : 'text-out'
            }
          >
            {last.reason.startsWith(markWords(last.verdict))
              ? last.reason
              : `${markWords(last.verdict)}: ${last.reason}`}
          </span>
          {view.effect && <b>{view.effect}</b>}
        </p>
      ) : (
        <p className="grow text-ink-2">{view.complaint || 'Nothing measured yet.'}</p>
      )}
      <button
        type="button"
        className="inline-flex min-h-[32px] shrink-0 cursor-pointer items-center gap-2 self-start text-[14px] max-[899px]:min-h-[44px]"
        aria-expanded={why}
        onClick={toggle}
      >
        Why? <Key>?</Key>
      </button>
    </div>
  );
}

function Margin({
  view,
  start,
  extra,
  writeUp,
}: {
  view: RoundView;
  start: VisitStart | undefined;
  extra: () => void;
  writeUp: () => void;
}) {
  const acts = (
    <div className="mt-1 space-y-1.5 text-[14px]">
      <button type="button" className="quiet flex w-full items-center justify-between px-2" onClick={extra}>
        Extra reading <Key>F4</Key>
      </button>
      <button type="button" className="quiet flex w-full items-center justify-between px-2" onClick={writeUp}>
        Write up fault <Key>F8</Key>
      </button>
      <Spreadsheet roundId={view.id} />
      <p className="text-ink-2">
        Round of {dayOf(view.startedAt)}, {clockOf(view.startedAt)}
        {view.visitEnded && '. The visit has ended.'}
      </p>
    </div>
  );
  const measured = `${view.taken} of ${view.rows.length}`;
  // With the ledger gone there may be no steps to show; what is done here is done all the same.
  return start ? (
    <VisitMargin start={start} here="measure" brief measured={measured}>
      {acts}
    </VisitMargin>
  ) : (
    <>
      <p className="font-bold">{view.complaint || 'No complaint noted'}</p>
      <p className="mt-2">
        <b>Measure</b> <span className="font-mono text-[14px] text-ink-2">{measured}</span>
      </p>
      {acts}
    </>
  );
}

function Extras({ view, waiting }: { view: RoundView; waiting: readonly WaitingLine[] }) {
  const mine = waiting.filter((w) => w.line.kind === 'taken');
  if (view.extras.length + mine.length === 0) {
    return null;
  }
  return (
    <section aria-label="Extra readings" className="mt-4">
      <h2 className="border-b border-rule-2 pb-1 text-[15px]">Extra readings</h2>
      <ul className="text-[14px]">
        {view.extras.map((r) => (
          <li key={r.id} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-1">
            <span className="font-mono">
              {r.redPrinted}
              {r.blackPrinted && ` to ${r.blackPrinted}`}
            </span>
            <span>
              <b className="font-mono">{r.value}</b> {r.remark} {r.state}
            </span>
          </li>
        ))}
        {mine.map(({ line, refused }) => (
          <li key={line.id} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-1">
            <span className="font-mono">
              {line.red?.printed}
              {line.black && ` to ${line.black.printed}`}
            </span>
            <span>
              <b className="font-mono">{line.typed}</b>{' '}
              {refused ? (
                <>
                  <span className="text-out">refused: {refused}</span>{' '}
                  <button type="button" className="link" onClick={() => void discard(line.id)}>
                    Leave it out
                  </button>
                </>
              ) : (
                'unsent, not judged until sent'
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
