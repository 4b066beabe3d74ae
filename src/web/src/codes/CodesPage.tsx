import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { findCode, getBoardCodes, type BoardCodes, type CodeAsked, type CodeKind } from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { Fits } from './CodeFits';
import { Display, isSaid, Lamp, nothing } from './CodeLook';
import { Rhythm } from './CodeRhythm';

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
        <Tabs
          className="grow"
          name="How it speaks"
          value={asked.kind}
          tabs={kinds}
          onChange={(kind) => setAsked({ ...nothing, kind })}
        />
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
