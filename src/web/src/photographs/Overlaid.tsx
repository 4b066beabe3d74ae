import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  changeTables,
  drawElement,
  getOverlay,
  markPoints,
  tapPhotograph,
  type Corner,
  type ElementKind,
  type LayoutEdit,
  type NewPoint,
  type PhotographOverlay,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { BoardMap } from '../boards/BoardMap';
import { elementWords } from '../boards/ElementLeaf';
import type { Facing } from '../boards/facing';
import { Choose, optionsOf } from '../ui/Choose';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { type BoardPhotographProps } from './BoardPhotograph';
import { PhotoMap } from './PhotoMap';

type Mode = 'tap' | 'mark' | 'draw';

const modes: [Mode, string][] = [
  ['tap', 'Tap to know'],
  ['mark', 'Mark points'],
  ['draw', 'Draw on it'],
];

/** A photograph with the layout of its board, as faced; the last stays in sight while the next is fetched. */
export function useOverlay(photographId: string | undefined, facing: Facing | undefined) {
  return useQuery({
    queryKey: ['overlay', photographId, facing?.turns, facing?.side],
    queryFn: () => ask(getOverlay({ path: { id: photographId ?? '' }, query: { ...facing } })),
    enabled: photographId !== undefined && facing !== undefined,
    placeholderData: keepPreviousData,
    staleTime: 5000,
  });
}

export function Laid({ overlay, board, facing, on, place }: BoardPhotographProps & { overlay: PhotographOverlay }) {
  const queries = useQueryClient();
  const [mode, setMode] = useState<Mode>(overlay.isLaid ? 'tap' : 'mark');
  const [known, setKnown] = useState<{ point: Omit<NewPoint, 'x' | 'y'>; words: string } | null>(null);
  const [tapped, setTapped] = useState('');
  const [error, setError] = useState<Error | null>(null);
  const [drawn, setDrawn] = useState({ kind: 'connector' as ElementKind, designator: '', pins: 2, rows: 1 });
  const [first, setFirst] = useState<{ x: number; y: number } | null>(null);
  const [undo, setUndo] = useState<{ edits: LayoutEdit[]; words: string } | null>(null);
  const put = (next: PhotographOverlay) => {
    queries.setQueryData(['overlay', overlay.photographId, facing.turns, facing.side], next);
    void queries.invalidateQueries({ queryKey: ['map'] });
    void queries.invalidateQueries({ queryKey: ['overlay'], refetchType: 'none' });
  };
  const attempt = async (work: () => Promise<void>) => {
    try {
      setError(null);
      await work();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  const points: NewPoint[] = overlay.points.map(({ elementId, pinId, corner, x, y }) => ({
    elementId,
    pinId,
    corner,
    x,
    y,
  }));
  const mark = (next: NewPoint[]) =>
    attempt(async () =>
      put(
        await ask(
          markPoints({
            path: { id: overlay.photographId },
            body: { version: overlay.version, positionId: board.positionId, points: next, ...facing },
          }),
        ),
      ),
    );
  const isSame = (a: Omit<NewPoint, 'x' | 'y'>, b: NewPoint) =>
    a.elementId === b.elementId && a.pinId === b.pinId && a.corner === b.corner;
  const onTap = (x: number, y: number) => {
    if (mode === 'mark' && known) {
      void mark([...points.filter((p) => !isSame(known.point, p)), { ...known.point, x, y }]);
      setKnown(null);
    } else if (mode === 'tap' && overlay.isLaid) {
      void attempt(async () => {
        const spot = await ask(tapPhotograph({ path: { id: overlay.photographId }, body: { x, y, ...facing } }));
        setTapped(spot.words);
        const pin = board.pins.find((p) => p.id === spot.pinId);
        const element = board.elements.find((e) => e.id === spot.elementId);
        if (pin) {
          on.onPick?.(pin);
        } else if (element) {
          on.onPickElement?.(element);
        } else {
          on.onTapPlace(spot.x, spot.y);
        }
      });
    } else if (mode === 'draw' && overlay.isLaid) {
      if (drawn.pins > 1 && !first) {
        setFirst({ x, y });
        return;
      }
      const from = first ?? { x, y };
      setFirst(null);
      void attempt(async () => {
        const answer = await ask(
          drawElement({
            path: { id: overlay.photographId },
            body: {
              id: newId(),
              purpose: '',
              ...drawn,
              first: { ...from, ...facing },
              last: { x, y, ...facing },
            },
          }),
        );
        put(answer.overlay);
        setUndo({ edits: answer.edits, words: `${drawn.designator} drawn` });
        setDrawn({ ...drawn, designator: '' });
      });
    }
  };
  const takeBack = () =>
    attempt(async () => {
      const edits = [...(undo?.edits ?? [])].reverse().map((e): LayoutEdit => ({ ...e, kind: 'remove' }));
      await ask(changeTables({ path: { boardTypeId: board.boardTypeId }, body: edits }));
      setUndo(null);
      await queries.invalidateQueries({ queryKey: ['map'] });
      await queries.invalidateQueries({ queryKey: ['overlay'] });
    });
  const corner = (c: Corner) => c.replace(/([A-Z])/g, ' $1').toLowerCase();
  return (
    <>
      <div role="group" aria-label="What a tap does" className="flex flex-wrap gap-2 text-[14px]">
        {modes.map(([m, words]) => (
          <button
            key={m}
            type="button"
            className={`quiet ${m === mode ? 'border-ink font-bold' : ''}`}
            aria-pressed={m === mode}
            disabled={m === 'draw' && !overlay.isLaid}
            onClick={() => setMode(m)}
          >
            {words}
          </button>
        ))}
      </div>
      <p role="status" data-testid="photo-says" className="my-2 min-h-[28px] text-[17px] leading-tight font-bold">
        {mode === 'tap' && (tapped || overlay.says)}
        {mode === 'mark' && (known ? `Now tap ${known.words} on the photograph.` : overlay.says)}
        {mode === 'draw' &&
          (first ? 'Now tap its last pin.' : drawn.pins > 1 ? 'Tap its first pin.' : 'Tap the middle of it.')}
      </p>
      <Problem error={error} />
      <div className="flex flex-col gap-4 min-[900px]:flex-row">
        <div className={mode === 'mark' ? 'min-w-0 min-[900px]:w-[58%]' : 'min-w-0 grow'}>
          <PhotoMap
            overlay={overlay}
            red={place.pinId}
            chosen={on.chosen}
            {...(mode === 'tap' && overlay.isLaid
              ? { onPick: on.onPick, onPickElement: on.onPickElement, onPickNote: on.onPickNote }
              : {})}
            onTap={onTap}
            pending={first ? [first] : []}
            showsPoints={mode === 'mark'}
            className="max-h-[max(340px,calc(100dvh-330px))] w-full"
          />
        </div>
        {mode === 'mark' && (
          <div className="min-w-0 grow">
            <h3>Choose a point you know, then tap it on the photograph</h3>
            <BoardMap
              map={board}
              red={known?.point.pinId ?? undefined}
              chosen={known?.point.pinId ? undefined : (known?.point.elementId ?? undefined)}
              onPick={(p) =>
                setKnown({ point: { elementId: p.elementId, pinId: p.id, corner: null }, words: p.printed })
              }
              onPickElement={(e) => {
                // Of an element with pins one pin must be chosen: its middle is nothing to see.
                if (!board.pins.some((p) => p.elementId === e.id)) {
                  setKnown({ point: { elementId: e.id, pinId: null, corner: null }, words: e.designator });
                }
              }}
              onPickCorner={(c) =>
                setKnown({ point: { elementId: null, pinId: null, corner: c }, words: `the ${corner(c)} corner` })
              }
              className="max-h-[340px] w-full"
            />
            <ul aria-label="Points" className="text-[14px]">
              {overlay.points.map((p) => (
                <li key={p.name} className="flex items-center gap-2 border-b border-rule py-0.5">
                  <Mark kind={p.disagrees ? 'differs' : p.offMm === null ? 'untouched' : 'within'} />
                  <span className="grow font-mono">{p.name}</span>
                  <span className="text-ink-2">
                    {p.disagrees && 'disagrees, '}
                    {p.offMm === null ? 'marked' : `${p.offMm.toFixed(1)} mm off`}
                  </span>
                  <button
                    type="button"
                    className="link min-h-[32px] max-[899px]:min-h-[44px]"
                    aria-label={`Take ${p.name} away`}
                    onClick={() => void mark(points.filter((q) => !isSame(p, q)))}
                  >
                    Take away
                  </button>
                </li>
              ))}
            </ul>
          </div>
        )}
        {mode === 'draw' && (
          <div className="min-w-0 text-[14px] min-[900px]:w-[240px]">
            <h3>What is drawn</h3>
            <label className="mt-1 block">
              Kind
              <Choose
                className="mt-0.5"
                value={drawn.kind}
                options={optionsOf(elementWords)}
                onChange={(kind) => setDrawn({ ...drawn, kind, pins: ['indicator', 'trimmer'].includes(kind) ? 0 : 2 })}
              />
            </label>
            <label className="mt-1 block">
              Designator
              <input
                className="field mt-0.5 font-mono"
                value={drawn.designator}
                onChange={(event) => setDrawn({ ...drawn, designator: event.target.value })}
              />
            </label>
            {(['pins', 'rows'] as const).map((name) => (
              <label key={name} className="mt-1 block">
                {name === 'pins' ? 'Pins' : 'Rows'}
                <input
                  className="field mt-0.5 font-mono"
                  inputMode="numeric"
                  value={drawn[name]}
                  onChange={(event) => setDrawn({ ...drawn, [name]: Number(event.target.value) || 0 })}
                />
              </label>
            ))}
            {undo && (
              <p className="mt-2">
                {undo.words}.{' '}
                <button
                  type="button"
                  className="link min-h-[32px] max-[899px]:min-h-[44px]"
                  onClick={() => void takeBack()}
                >
                  Take it back
                </button>
              </p>
            )}
          </div>
        )}
      </div>
    </>
  );
}
