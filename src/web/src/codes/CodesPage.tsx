import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  findCode,
  getBoardCodes,
  keepCode,
  type BoardCodes,
  type CodeAsked,
  type CodeFit,
  type CodeKind,
  type CodePattern,
  type CodesFound,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { usePerson } from '../people/person';
import { take } from '../photographs/take';
import { TakeButton } from '../photographs/TakeButton';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { lampColours } from '../ui/lamp';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Digit } from './Digit';

const kinds: [CodeKind, string][] = [
  ['display', 'On a display'],
  ['lamp', 'A lamp'],
  ['beeps', 'Beeps'],
  ['ticks', 'Ticks or clicks'],
];

/** What a board shows, blinks, beeps or ticks: found by how it looks or sounds. */
export function CodesPage() {
  const { tag = '', positionId = '' } = useParams();
  const codes = useQuery({
    queryKey: ['codes', tag, positionId],
    queryFn: () => ask(getBoardCodes({ path: { machineId: tag, positionId } })),
  });
  return (
    <Frame
      tag={tag}
      margin={<PlaceMargin tag={tag} here="look" />}
      marginLast
      title={codes.data ? `Codes of ${codes.data.positionName}` : 'Codes'}
      place={codes.data?.boardName ?? ''}
    >
      {codes.isPending && <p className="py-6 text-ink-2">Opening the codes…</p>}
      <Problem error={codes.error} retry={() => void codes.refetch()} />
      {codes.data && <Finder codes={codes.data} />}
    </Frame>
  );
}

const nothing: CodeAsked = {
  kind: 'display',
  text: '',
  digits: [],
  element: '',
  colour: '',
  pattern: null,
  taps: [],
  count: null,
};

function isSaid(asked: CodeAsked): boolean {
  return (
    asked.text.trim() !== '' ||
    asked.digits.some((d) => d !== '') ||
    asked.taps.length > 1 ||
    asked.count !== null ||
    asked.pattern !== null ||
    asked.colour !== '' ||
    asked.element !== ''
  );
}

function Finder({ codes }: { codes: BoardCodes }) {
  const usual = kinds.find(([k]) => codes.codes.some((c) => c.kind === k))?.[0] ?? 'display';
  const [asked, setAsked] = useState<CodeAsked>({ ...nothing, kind: usual });
  const found = useQuery({
    queryKey: ['code', codes.machineId, codes.positionId, asked],
    queryFn: () => ask(findCode({ path: { machineId: codes.machineId, positionId: codes.positionId }, body: asked })),
    enabled: isSaid(asked),
    placeholderData: keepPreviousData,
  });
  const put = (what: Partial<CodeAsked>) => setAsked({ ...asked, ...what });
  const board = `/machines/${encodeURIComponent(codes.tag)}/boards/${codes.positionId}`;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule-2">
        <div role="group" aria-label="How it speaks" className="flex grow flex-wrap gap-x-5">
          {kinds.map(([kind, words]) => (
            <button
              key={kind}
              type="button"
              aria-pressed={kind === asked.kind}
              className={`min-h-[44px] cursor-pointer border-b-[3px] ${kind === asked.kind ? 'border-rust font-bold' : 'border-transparent text-ink-2'}`}
              onClick={() => setAsked({ ...nothing, kind })}
            >
              {words}
            </button>
          ))}
        </div>
        <Link className="link inline-flex min-h-[44px] items-center text-[14px]" to={board}>
          The board
        </Link>
        <Link
          className="link inline-flex min-h-[44px] items-center text-[14px]"
          to={`/board-types/${codes.boardTypeId}#codes`}
        >
          Change the list
        </Link>
      </div>
      <div className="flex flex-col gap-6 py-3 min-[900px]:flex-row">
        <section aria-label="What you see or hear" className="min-w-0 min-[900px]:w-[400px]">
          {asked.kind === 'display' && <Display asked={asked} put={put} found={found.data} />}
          {asked.kind === 'lamp' && <Lamp asked={asked} put={put} codes={codes} />}
          {asked.kind !== 'display' && (
            <Rhythm
              key={asked.kind}
              asked={asked}
              put={put}
              heard={isSaid(asked) ? (found.data?.rhythm ?? null) : null}
            />
          )}
          <button
            type="button"
            className="quiet mt-3"
            disabled={!isSaid(asked)}
            onClick={() => setAsked({ ...nothing, kind: asked.kind })}
          >
            Start again
          </button>
        </section>
        <section aria-label="What it is" className="min-w-0 grow">
          <Problem error={found.error} />
          {isSaid(asked) && found.data ? (
            <Fits key={JSON.stringify(asked)} codes={codes} asked={asked} found={found.data} />
          ) : (
            <All codes={codes} kind={asked.kind} />
          )}
        </section>
      </div>
    </>
  );
}

interface PartProps {
  asked: CodeAsked;
  put: (what: Partial<CodeAsked>) => void;
}

function Display({ asked, put, found }: PartProps & { found: CodesFound | undefined }) {
  const digits = asked.digits.length > 0 ? asked.digits : ['', ''];
  const toggle = (at: number, bar: string) =>
    put({
      text: '',
      digits: digits.map((d, i) =>
        i !== at
          ? d
          : d.includes(bar)
            ? d.replace(bar, '')
            : Array.from(d + bar)
                .sort()
                .join(''),
      ),
    });
  return (
    <>
      <h2>Tap the bars that are lit</h2>
      <div className="mt-2 flex flex-wrap gap-1">
        {digits.map((lit, i) => (
          <Digit key={i} lit={lit} number={i + 1} toggle={(bar) => toggle(i, bar)} />
        ))}
      </div>
      <p className="mt-1 min-h-[24px] text-[14px] text-ink-2" role="status">
        {asked.digits.length > 0 &&
          found?.signs.map((s, i) => `${i > 0 ? ', ' : ''}${s === '' ? 'no sign' : Array.from(s).join(' or ')}`)}
      </p>
      <p className="flex gap-2 text-[14px]">
        <button
          type="button"
          className="quiet"
          disabled={digits.length >= 6}
          onClick={() => put({ text: '', digits: [...digits, ''] })}
        >
          One digit more
        </button>
        <button
          type="button"
          className="quiet"
          disabled={digits.length <= 1}
          onClick={() => put({ text: '', digits: digits.slice(0, -1) })}
        >
          One less
        </button>
      </p>
      <label className="mt-3 block">
        or type what it shows
        <input
          className="field mt-0.5 font-mono text-[24px]"
          autoComplete="off"
          value={asked.text}
          onChange={(event) => put({ text: event.target.value, digits: [] })}
        />
      </label>
    </>
  );
}

function Lamp({ asked, put, codes }: PartProps & { codes: BoardCodes }) {
  const patterns: [CodePattern, string][] = [
    ['steady', 'Steady'],
    ['even', 'Blinks evenly'],
    ['groups', 'In groups'],
    ['off', 'Off'],
  ];
  const colours = lampColours.filter(
    (c) => codes.codes.some((code) => code.colour === c) || codes.lamps.some((l) => l.colour === c),
  );
  return (
    <div className="text-[14px]">
      {codes.lamps.length > 0 && (
        <label className="block">
          Which lamp
          <select
            className="field mt-0.5"
            value={asked.element}
            onChange={(event) => put({ element: event.target.value })}
          >
            <option value="">any</option>
            {codes.lamps.map((l) => (
              <option key={l.designator} value={l.designator}>
                {[l.designator, l.colour, l.purpose].filter(Boolean).join(', ')}
              </option>
            ))}
          </select>
        </label>
      )}
      <p className="mt-2 flex flex-wrap gap-2" role="group" aria-label="Colour">
        {(colours.length > 0 ? colours : lampColours).map((c) => (
          <button
            key={c}
            type="button"
            className={`quiet min-h-[44px] ${asked.colour === c ? 'border-ink font-bold' : ''}`}
            aria-pressed={asked.colour === c}
            onClick={() => put({ colour: asked.colour === c ? '' : c })}
          >
            {c}
          </button>
        ))}
      </p>
      <p className="mt-2 flex flex-wrap gap-2" role="group" aria-label="How it is lit">
        {patterns.map(([p, words]) => (
          <button
            key={p}
            type="button"
            className={`quiet min-h-[44px] ${asked.pattern === p ? 'border-ink font-bold' : ''}`}
            aria-pressed={asked.pattern === p}
            onClick={() => put({ pattern: asked.pattern === p ? null : p, taps: [], count: null })}
          >
            {words}
          </button>
        ))}
      </p>
    </div>
  );
}

const listens = 250;

/** Counted, or tapped along: the ledger hears the groups and the rate. */
function Rhythm({ asked, put, heard }: PartProps & { heard: CodesFound['rhythm'] }) {
  const [taps, setTaps] = useState<number[]>([]);
  const tap = () => setTaps((was) => [...was, performance.now() / 1000]);
  useEffect(() => {
    if (taps.length < 2) {
      return;
    }
    // While the hand still taps, nothing is asked.
    const wait = setTimeout(
      () => put({ taps: taps.map((t) => t - (taps[0] ?? 0)), count: null, pattern: null }),
      listens,
    );
    return () => clearTimeout(wait);
    // Only a tap asks anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [taps]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (
        event.key === ' ' &&
        !(event.target instanceof HTMLElement && event.target.closest('input, select, button, [role=button]'))
      ) {
        event.preventDefault();
        tap();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <>
      {asked.kind !== 'ticks' && (
        <label className="mt-3 block">
          {asked.kind === 'beeps' ? 'How many beeps' : 'How many blinks before the pause'}
          <input
            className="field mt-0.5 block max-w-[120px] font-mono text-[24px]"
            inputMode="numeric"
            autoComplete="off"
            value={asked.count ?? ''}
            onChange={(event) => {
              setTaps([]);
              put({ count: Number(event.target.value) || null, taps: [], pattern: null });
            }}
          />
        </label>
      )}
      <p className="mt-3 font-bold">{asked.kind === 'ticks' ? 'Tap along with the ticks' : 'or tap along with it'}</p>
      <button
        type="button"
        className="mt-1 min-h-[110px] w-full cursor-pointer border-2 border-ink bg-paper text-[22px] font-bold select-none"
        onPointerDown={tap}
        onKeyDown={(event) => {
          if ((event.key === ' ' || event.key === 'Enter') && !event.repeat) {
            event.preventDefault();
            tap();
          }
        }}
      >
        Tap here <Key>Space</Key>
      </button>
      <p className="mt-1 min-h-[48px] text-[14px] text-ink-2" role="status" data-testid="heard">
        {taps.length > 0 && `${taps.length} taps. `}
        {heard && (
          <b className="text-[17px] text-ink">
            {heard.words}
            {heard.repeats > 1 && !heard.isEven ? `, heard ${heard.repeats} times` : ''}
          </b>
        )}
      </p>
    </>
  );
}

function Fits({ codes, asked, found }: { codes: BoardCodes; asked: CodeAsked; found: CodesFound }) {
  const exact = found.fits.filter((f) => f.isExact);
  const near = found.fits.filter((f) => !f.isExact);
  const [asksNear, setAsksNear] = useState(false);
  const showsNear = asksNear || exact.length === 0;
  return (
    <>
      <h2 className="title">
        {exact.length === 0
          ? 'No code in the list looks so'
          : exact.length === 1
            ? 'It is this one'
            : `${exact.length} codes look so`}
      </h2>
      {exact.map((fit) => (
        <Fit key={fit.code.id} codes={codes} asked={asked} fit={fit} />
      ))}
      {near.length > 0 && (
        <button
          type="button"
          className="link mt-2 min-h-[44px] text-[14px]"
          aria-expanded={showsNear}
          onClick={() => setAsksNear(!asksNear)}
        >
          {near.length === 1 ? '1 nearly fits' : `${near.length} nearly fit`}
        </button>
      )}
      {showsNear && near.map((fit) => <Fit key={fit.code.id} codes={codes} asked={asked} fit={fit} />)}
      {exact.length === 0 && <Keep codes={codes} asked={asked} fit={null} words={found.seen} />}
    </>
  );
}

function Fit({ codes, asked, fit }: { codes: BoardCodes; asked: CodeAsked; fit: CodeFit }) {
  return (
    <article className="mt-2 border-b border-rule-2 pb-2" aria-label={fit.code.words ?? ''}>
      <h3 className="flex flex-wrap items-baseline gap-3">
        <span className={`font-mono leading-tight ${fit.code.kind === 'display' ? 'text-[30px]' : 'text-[17px]'}`}>
          {fit.code.words}
        </span>
        <span className="text-[20px] leading-tight">
          {fit.code.meaning}
          {fit.value && (
            <>
              {' '}
              <span className="font-mono">{fit.value.words}</span>
            </>
          )}
        </span>
      </h3>
      {fit.code.pointsTo && (
        <p>
          Points to <b>{fit.code.pointsTo}</b>
        </p>
      )}
      {fit.code.toDo && <p>{fit.code.toDo}</p>}
      <p className="text-[14px] text-ink-2">
        <Mark kind={fit.isExact ? 'within' : 'marginal'} /> {fit.isExact ? 'fits' : 'nearly fits'}: {fit.why}
      </p>
      <Keep codes={codes} asked={asked} fit={fit} words={fit.code.words ?? ''} />
    </article>
  );
}

/** Keeps what was seen in the open visit: with its number, or, where nobody knows it, with its picture. */
function Keep({
  codes,
  asked,
  fit,
  words,
}: {
  codes: BoardCodes;
  asked: CodeAsked;
  fit: CodeFit | null;
  words: string;
}) {
  const person = usePerson();
  const queries = useQueryClient();
  const [lines, setLines] = useState<string[] | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [photographId, setPhotographId] = useState<string | null>(null);
  const keep = async (picture: string | null) => {
    try {
      setError(null);
      const answer = await ask(
        keepCode({
          path: { machineId: codes.machineId, positionId: codes.positionId },
          body: {
            id: newId(),
            visitId: codes.visitId ?? '',
            codeId: fit?.code.id ?? null,
            asked,
            photographId: picture,
            storesNumber: fit?.value !== null && fit?.value !== undefined,
            at: new Date().toISOString(),
            personId: person?.id ?? '',
          },
        }),
      );
      setLines(answer.lines);
      await queries.invalidateQueries({ queryKey: ['start'] });
      await queries.invalidateQueries({ queryKey: ['machine'] });
    } catch (failure) {
      setError(failure as Error);
    }
  };
  if (!codes.visitId) {
    return (
      <p className="text-[14px] text-ink-2">
        No visit is open, so nothing is kept.{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(codes.tag)}`}>
          Start one on the page of {codes.tag}
        </Link>
      </p>
    );
  }
  if (lines) {
    return (
      <ul className="mt-1" aria-label="Kept">
        {lines.map((line) => (
          <li key={line} className="flex gap-2">
            <span className="pt-0.5">
              <Mark kind="within" />
            </span>
            kept: {line}
          </li>
        ))}
      </ul>
    );
  }
  return (
    <>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" className={fit ? 'quiet min-h-[44px]' : 'action'} onClick={() => void keep(photographId)}>
          {fit?.value
            ? `Keep it, and ${fit.value.number.name} ${fit.value.words}`
            : fit
              ? 'Keep it in the visit'
              : `Keep it as not known: ${words}`}
        </button>
        {!fit && (
          <TakeButton
            label="Photograph of the code"
            onTake={(files) => {
              const [id] = take(files.slice(0, 1), {
                machineId: codes.machineId,
                tag: codes.tag,
                kind: 'screen',
                personId: person?.id ?? '',
                visitId: codes.visitId ?? undefined,
                positionId: codes.positionId,
              });
              setPhotographId(id ?? null);
            }}
          >
            {photographId ? 'Photograph taken' : 'With a photograph'}
          </TakeButton>
        )}
      </p>
      <Problem error={error} />
    </>
  );
}

/** The whole list, for whoever would rather read. */
function All({ codes, kind }: { codes: BoardCodes; kind: CodeKind }) {
  const lines = codes.codes.filter((c) => c.kind === kind);
  return (
    <>
      <h2>{lines.length === 0 ? 'No code of this kind is in the list' : 'All of them'}</h2>
      <ul className="text-[14px]">
        {lines.map((code) => (
          <li key={code.id} className="flex flex-wrap gap-x-4 border-b border-rule py-1">
            <span className="w-[190px] font-mono font-bold">{code.words}</span>
            <span className="min-w-[180px] flex-1">
              {code.meaning}
              {code.number && code.number.name !== code.meaning.toLowerCase() && `, ${code.number.name}`}
            </span>
            <span className="text-ink-2">{code.pointsTo}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
