import { called } from '../boards/called';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { type BoardChoice, fitBoard, recogniseBoard, type SeenMark } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { featureWords } from '../boards/Marks';
import { SafeBand } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { useKeys } from '../ui/useKeys';
import { useStart } from './start';
import { VisitMargin } from './VisitMargin';

/** Which board is this? Pictures side by side first; then the mark that splits best what is left. */
export function RecognisePage() {
  const { visitId = '', positionId = '' } = useParams();
  const start = useStart(visitId);
  const [seen, setSeen] = useState<SeenMark[]>([]);
  const [partNumber, setPartNumber] = useState('');
  const go = useNavigate();
  const queries = useQueryClient();
  const machineId = start.data?.machineId;
  const found = useQuery({
    queryKey: ['recognise', machineId, positionId, seen, partNumber],
    queryFn: () =>
      ask(recogniseBoard({ path: { machineId: machineId ?? '', positionId }, body: { seen, partNumber } })),
    enabled: machineId !== undefined,
    placeholderData: (before) => before,
  });
  const view = found.data;
  const fit = useMutation({
    mutationFn: (board: BoardChoice) =>
      ask(
        fitBoard({
          path: { id: machineId ?? '' },
          body: {
            id: newId(),
            positionId,
            name: '',
            partNumber: board.partNumber,
            revision: board.revision,
            serial: '',
            firmware: '',
            from: null,
            boardTypeId: board.id,
          },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await go(`/visits/${visitId}/arrive`);
    },
  });
  const answer = (value: string | null) => {
    const feature = view?.feature;
    if (feature) {
      setSeen([...seen, { feature, value }]);
    }
  };
  useKeys((key) => {
    const value = view?.values[Number(key) - 1];
    if (found.isPlaceholderData) {
      return false;
    }
    if (key === '0' && view?.feature) {
      answer(null);
    } else if (value !== undefined) {
      answer(value);
    } else if (key === 'Backspace' && seen.length > 0) {
      setSeen(seen.slice(0, -1));
    } else {
      return false;
    }
    return true;
  });
  if (!start.data) {
    return <OpeningPage title="Which board is this?" words="Opening the visit…" of={[start]} />;
  }
  return (
    <Frame
      tag={start.data.tag}
      title={start.data.machineName}
      place={start.data.site}
      band={<SafeBand start={start.data} />}
      margin={<VisitMargin start={start.data} here="arrive" />}
      marginLast
    >
      <div className="flex flex-wrap items-end gap-4">
        <h2 className="title grow">Which board is the {view?.positionName ?? 'board'}?</h2>
        <label className="text-[14px]">
          Part number, as far as it can be read
          <input
            className="field font-mono"
            value={partNumber}
            onChange={(event) => setPartNumber(event.target.value)}
          />
        </label>
      </div>
      {view?.question && (
        <section
          aria-label="Question"
          className="mt-2 border-l-4 border-rust bg-rust-wash px-4 py-2"
          aria-live="polite"
        >
          <p className="text-[24px] leading-tight font-bold">{view.question}</p>
          <p className="mt-2 flex flex-wrap gap-2">
            {view.values.map((value, i) => (
              <button
                key={value}
                type="button"
                className="quiet inline-flex min-h-[44px] items-center gap-2 border-ink bg-sheet"
                onClick={() => answer(value)}
              >
                {value} <Key>{String(i + 1)}</Key>
              </button>
            ))}
            <button
              type="button"
              className="quiet inline-flex min-h-[44px] items-center gap-2 bg-sheet"
              onClick={() => answer(null)}
            >
              Cannot see <Key>0</Key>
            </button>
          </p>
          <p className="mt-1 text-[14px] text-ink-2">
            Why this: of all marks its answer tells most, {view.bitsGained.toFixed(2)} bits by how common each is in
            this shop.
          </p>
        </section>
      )}
      {view?.alike && (
        <section aria-label="Alike" className="mt-2 border-l-4 border-marginal px-4 py-2">
          <p className="flex items-center gap-2 font-bold">
            <Mark kind="marginal" /> These cannot be told apart by eye.
          </p>
          <ul className="text-[14px]">
            {view.differences.map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
        </section>
      )}
      {seen.length > 0 && (
        <p className="mt-1 text-[14px] text-ink-2">
          Seen: {seen.map((s) => s.value ?? 'could not see').join(', ')}.{' '}
          <button
            type="button"
            className="link min-h-[32px] max-[899px]:min-h-[44px]"
            onClick={() => setSeen(seen.slice(0, -1))}
          >
            Take the last back <Key>⌫</Key>
          </button>
        </p>
      )}
      <Problem error={found.error ?? fit.error} />
      {view?.left.length === 0 && (
        <p className="py-4">
          No board that is known answers to that. Take an answer back, or write down a new board on the page of the
          machine.
        </p>
      )}
      <ul className="mt-3 grid grid-cols-1 gap-x-6 gap-y-4 min-[700px]:grid-cols-2" aria-label="What it may be">
        {view?.left.map((b) => (
          <li key={b.id} className="border-t-2 border-ink pt-1">
            <p className="flex flex-wrap items-baseline gap-x-3">
              <b className="font-mono text-[17px]">{called(b)}</b>
              <span className="font-mono">{Math.round(b.share * 100)} %</span>
              <span className="text-[14px] text-ink-2">
                fitted {b.fitted === 1 ? 'once' : `${b.fitted} times`} in this shop
              </span>
              {!b.belongs && (
                <span className="inline-flex items-center gap-1 text-[14px] text-out">
                  <Mark kind="differs" /> does not belong in this build
                </span>
              )}
            </p>
            {b.picture ? (
              <img
                src={`/api/pictures/${b.picture}`}
                alt={`a ${called(b)}`}
                className="my-1 h-[210px] w-full object-contain object-left"
              />
            ) : (
              <Drawn board={b} />
            )}
            <p className="text-[14px]">
              {b.marks.map((m) => `${featureWords[m.feature]} ${m.value}`).join(', ') || 'no marks written down'}
            </p>
            <button
              type="button"
              className="quiet mt-1"
              disabled={fit.isPending || start.data.hasEnded}
              onClick={() => fit.mutate(b)}
            >
              It is this one
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-3">
        <Link className="link" to={`/visits/${visitId}/arrive`}>
          Back to Arrive
        </Link>
      </p>
    </Frame>
  );
}

/** A board nobody photographed, drawn from its layout. */
function Drawn({ board }: { board: BoardChoice }) {
  return (
    <svg
      role="img"
      aria-label={`${called(board)}, drawn from its layout`}
      className="my-1 h-[210px] w-full"
      viewBox={`-1 -1 ${board.widthMm + 2} ${board.heightMm + 2}`}
      preserveAspectRatio="xMinYMid meet"
    >
      <rect width={board.widthMm} height={board.heightMm} fill="var(--paper)" stroke="var(--ink)" strokeWidth={0.8} />
      {board.shapes.map((s) => (
        <g key={s.designator}>
          <rect x={s.x} y={s.y} width={s.width} height={s.height} fill="none" stroke="var(--ink)" strokeWidth={0.5} />
          <text x={s.x} y={s.y - 1.2} fontSize={4.5} fill="var(--ink)">
            {s.designator}
          </text>
        </g>
      ))}
    </svg>
  );
}
