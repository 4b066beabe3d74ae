import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { LiveAnswer, RoundView, RowView } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { usePerson } from '../people/person';
import { VisitBand } from '../safety/VisitBand';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark, markColour, markWords } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { useDraft, useWritten } from '../ui/useDraft';
import { VisitMargin } from '../visits/VisitMargin';
import { useStart } from '../visits/start';
import { AskLive } from './AskLive';
import { Choice } from './Entry';
import { discard, store, useWaitingLines } from './lines';
import { lineOf, sheetOf } from './sheet';
import { useRound } from './useRound';

/** The round on paper: printed for the field, and what was written there typed in one go. */
export function PaperPage() {
  const { roundId = '' } = useParams();
  const round = useRound(roundId);
  const start = useStart(round.data?.visitId);
  if (!round.data) {
    return <OpeningPage title="Round on paper" words="Laying out the sheet…" of={[round]} />;
  }
  const view = round.data;
  return (
    <Frame
      tag={view.tag}
      title={view.machineName}
      place={view.site}
      band={<VisitBand visitId={view.visitId} />}
      margin={start.data && <VisitMargin start={start.data} here="measure" />}
    >
      <Paper view={view} />
    </Frame>
  );
}

const print = (id: string, kind: string, paper: string) =>
  `/api/rounds/${encodeURIComponent(id)}/paper.pdf?kind=${kind}&paper=${paper}`;

/** What was read in the field and is typed now, when the machine may be in another state, says so itself. */
const fromPaper = 'from paper';

function Paper({ view }: { view: RoundView }) {
  const person = usePerson();
  const waiting = useWaitingLines();
  const [typed, setTyped] = useWritten<Record<string, string>>(`paper/${view.id}`, {});
  // Others are typed while one is on its way.
  const latest = useRef(typed);
  const write = (key: string, text: string) => {
    const { [key]: _, ...others } = latest.current;
    latest.current = text === '' ? others : { ...others, [key]: text };
    setTyped(latest.current);
  };
  const [wrong, setWrong] = useState<{ key: string; refusal: Refusal; choice?: number } | null>(null);
  const [readAt, setReadAt] = useDraft(`paper-at/${view.id}`);
  const list = useRef<HTMLOListElement>(null);
  const lines = sheetOf(view, waiting);

  const goOn = (from: string) => {
    const fields = [...(list.current?.querySelectorAll<HTMLInputElement>('input') ?? [])];
    const next = fields.slice(fields.findIndex((f) => f.name === from) + 1).find((f) => f.value === '');
    next?.focus();
  };
  const put = async (row: RowView, what: { choice?: number; alive?: LiveAnswer } = {}) => {
    const text = latest.current[row.key]?.trim() ?? '';
    if (text === '') {
      goOn(row.key);
      return;
    }
    for (const old of waiting.filter((w) => w.refused && w.line.checkKey === row.key)) {
      await discard(old.line.id);
    }
    const line = lineOf(row, person?.id ?? '', {
      typed: text,
      choice: what.choice ?? null,
      alive: what.alive ?? null,
      reason: row.deadOnly ? fromPaper : '',
      ...(readAt === '' ? {} : { deviceTime: new Date(readAt).toISOString() }),
    });
    goOn(row.key);
    // It is on the device, ahead of its answer.
    write(row.key, '');
    const outcome = await store(view.id, line);
    if (outcome.kind === 'refused') {
      await discard(line.id);
      write(row.key, text);
      setWrong({ key: row.key, refusal: outcome.refusal, ...(what.choice === undefined ? {} : what) });
      return;
    }
    setWrong((now) => (now?.key === row.key ? null : now));
  };
  return (
    <>
      <h2 className="title">The round on paper</h2>
      <p className="text-[14px] text-ink-2">
        For where no screen goes: every check with its number, room for its reading, and the boards as you face them.
      </p>
      <p className="mt-2 flex flex-wrap gap-x-6">
        {(
          [
            ['field', 'For the field'],
            ['finished', 'As it was read'],
          ] as const
        ).map(([kind, words]) => (
          <span key={kind} className="inline-flex min-h-[44px] items-center gap-x-3">
            {words}:
            <a className="link" href={print(view.id, kind, 'a4')}>
              PDF, A4
            </a>
            <a className="link" href={print(view.id, kind, 'letter')}>
              Letter
            </a>
          </span>
        ))}
        <a className="link inline-flex min-h-[44px] items-center" href={`/api/rounds/${view.id}/readings.csv`} download>
          CSV
        </a>
        <Link className="link inline-flex min-h-[44px] items-center" to={`/rounds/${view.id}`}>
          Back to measuring
        </Link>
      </p>
      <h3 className="mt-4 border-b border-rule-2 pb-1">
        Typed from paper{' '}
        <span className="font-mono font-normal">
          {view.taken} of {view.rows.length}
        </span>
      </h3>
      <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-1 py-1 text-[14px] text-ink-2">
        <p>
          <Key>Enter</Key> keeps a reading and goes to the next; <Key>Enter</Key> in an empty one leaves it out. Live or
          dead is taken from when it was read.
        </p>
        <label className="flex items-center gap-2">
          Read at
          <input
            type="datetime-local"
            className="field h-[34px] w-[210px] font-mono max-[899px]:h-[44px]"
            value={readAt}
            onChange={(event) => setReadAt(event.target.value)}
          />
          {readAt === '' && 'nothing said: now'}
        </label>
      </div>
      <ol ref={list} className="text-[15px]">
        {lines.map(({ row, waiting: waits }, i) => (
          <li key={row.key} className="border-b border-rule">
            {row.state !== lines[i - 1]?.row.state && (
              <p className="pt-2 text-[14px] font-semibold text-ink-2">
                {row.stateName}, {row.energised ? 'energised' : 'dead'}
              </p>
            )}
            <label className="grid min-h-[44px] grid-cols-[34px_minmax(0,1fr)_130px_150px] items-center gap-x-3 max-[599px]:grid-cols-[26px_minmax(0,1fr)_110px]">
              <span className="font-mono text-ink-2">{i + 1}</span>
              <span className="min-w-0">
                <b className="font-mono">{row.red?.printed ?? row.part}</b>{' '}
                <span className="text-ink-2">
                  {row.red?.signal} {row.remark}
                </span>{' '}
                <span className="font-mono text-ink-2">{row.limit}</span>
              </span>
              <input
                name={row.key}
                className="field h-[34px] font-mono max-[899px]:h-[44px]"
                autoComplete="off"
                inputMode="decimal"
                aria-label={`${i + 1}, ${row.red?.printed ?? row.part}`}
                aria-invalid={wrong?.key === row.key}
                value={typed[row.key] ?? ''}
                onChange={(event) => write(row.key, event.target.value)}
                onKeyDown={(event) => {
                  if (event.key === 'Enter') {
                    event.preventDefault();
                    void put(row);
                  }
                }}
              />
              <span className="truncate max-[599px]:col-start-2 max-[599px]:col-end-4">
                {waits ? (
                  <span className="text-ink-2">{waits.line.typed || waits.line.reason}, on its way</span>
                ) : row.reading ? (
                  <span className="inline-flex items-center gap-2">
                    <Mark kind={row.reading.verdict} />
                    <b className="font-mono">{row.reading.value}</b>
                    <span className={markColour(row.reading.verdict)}>{markWords(row.reading.verdict)}</span>
                  </span>
                ) : (
                  row.skipped !== null && <span className="text-ink-2">{row.skipped}</span>
                )}
              </span>
            </label>
            {wrong?.key === row.key && (
              <>
                <AskLive
                  error={wrong.refusal}
                  answer={(alive) => void put(row, { ...wrong, alive })}
                  mistyped={() => {
                    setWrong(null);
                    write(row.key, '');
                  }}
                />
                <Choice error={wrong.refusal} choose={(choice) => void put(row, { choice })} />
              </>
            )}
          </li>
        ))}
      </ol>
      {view.rows.length === 0 && <p className="py-2 text-ink-2">This machine has no checks yet.</p>}
    </>
  );
}
