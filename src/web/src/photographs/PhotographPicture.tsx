import { type KeyboardEvent, type MouseEvent, useRef, useState } from 'react';
import { type PhotographPage as Page } from '../api/generated';
import { Nearer } from '../ui/Nearer';
import { useView } from '../ui/useView';
import { type Place } from './PlaceLeaf';
import { aside, nextAt } from './markers';
import { kindWords } from './take';

interface PictureProps {
  page: Page;
  places: Place[];
  chosen: string | null;
  choose: (id: string) => void;
  tap: (x: number, y: number) => void;
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));
const step = 0.01;

/** A photograph with its places; looked at closer by wheel, two fingers or keys. */
export function Picture({ page, places, chosen, choose, tap }: PictureProps) {
  const { photograph } = page;
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const box = useRef<HTMLDivElement>(null);
  /** In shares of the whole picture, wherever one looks. */
  const placeOf = (clientX: number, clientY: number) => {
    const at = box.current?.firstElementChild?.getBoundingClientRect();
    return at ? { x: clamp((clientX - at.x) / at.width), y: clamp((clientY - at.y) / at.height) } : { x: 0.5, y: 0.5 };
  };
  const { view, zoom, wasMoved, handlers } = useView({ width: 1, height: 1, target: box, placeOf });
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    const from = cross ?? { x: view.x, y: view.y };
    const closer = { '+': 1.4, '-': 1 / 1.4, '0': 0.001 }[event.key];
    if (by) {
      event.preventDefault();
      const size = (event.shiftKey ? step * 5 : step) / view.scale;
      setCross({ x: clamp(from.x + (by[0] ?? 0) * size), y: clamp(from.y + (by[1] ?? 0) * size) });
    } else if (closer && !event.ctrlKey && !event.altKey) {
      event.preventDefault();
      zoom(closer);
    }
  };
  const onTap = (event: MouseEvent) => {
    if (event.detail === 0) {
      // Pressed by a key: at the cross.
      tap(cross?.x ?? view.x, cross?.y ?? view.y);
    } else if (!wasMoved()) {
      const at = placeOf(event.clientX, event.clientY);
      tap(at.x, at.y);
    }
  };
  /** In pixels of the picture as it lies on the screen: what is near is near to the finger. */
  const onScreen = (place: { x: number; y: number }) => {
    const at = box.current?.firstElementChild?.getBoundingClientRect();
    return { x: place.x * (at?.width ?? 600), y: place.y * (at?.height ?? 400) };
  };
  const spots = places.map((p) => ({ id: p.id, x: p.x, y: p.y }));
  return (
    <div className="mx-auto w-fit max-w-full">
      <div
        ref={box}
        className={`relative overflow-hidden border border-rule-2 ${view.scale > 1 ? 'touch-none' : 'touch-pan-y'}`}
        style={{ aspectRatio: `${photograph.width} / ${photograph.height}` }}
        data-testid="picture"
        {...handlers}
      >
        <div
          className="relative size-full origin-top-left"
          style={{
            transform: `translate(${50 - view.x * view.scale * 100}%, ${50 - view.y * view.scale * 100}%) scale(${view.scale})`,
          }}
        >
          <img
            src={`/api/pictures/${photograph.hash}`}
            alt={photograph.caption || kindWords[photograph.kind]}
            width={photograph.width}
            height={photograph.height}
            draggable={false}
            className="block max-h-[calc(100dvh-170px)] w-auto max-w-full"
          />
          <button
            type="button"
            aria-label="The picture: tap a place, or move the cross and press Enter"
            className="absolute inset-0 size-full cursor-crosshair"
            onClick={onTap}
            onKeyDown={onKey}
            onBlur={() => setCross(null)}
          />
          {cross && (
            <svg
              className="pointer-events-none absolute size-[40px] -translate-1/2 text-rust"
              style={{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%`, scale: `${1 / view.scale}` }}
              viewBox="-20 -20 40 40"
              aria-hidden="true"
            >
              <path d="M-20,0 H20 M0,-20 V20" stroke="currentColor" strokeWidth={3} />
            </svg>
          )}
          {places.map((place) => {
            const by = aside(place.id, spots, view.scale, photograph.width / photograph.height);
            return (
              <button
                key={place.id}
                type="button"
                className="absolute grid size-[44px] -translate-1/2 place-items-center"
                style={{ left: `${place.x * 100}%`, top: `${place.y * 100}%`, scale: `${1 / view.scale}` }}
                aria-label={`Place ${place.number}${place.name && `, ${place.name}`}`}
                aria-pressed={place.id === chosen}
                // By a finger, what lies under it in turn; by a key, the one that has the focus.
                onClick={(event) =>
                  !wasMoved() &&
                  choose(
                    event.detail === 0
                      ? place.id
                      : nextAt(
                          place.id,
                          chosen,
                          spots.map((s) => ({ id: s.id, ...onScreen(s) })),
                        ),
                  )
                }
              >
                <span className="absolute size-[7px] rounded-full border border-sheet bg-rust" aria-hidden="true" />
                <span
                  style={{ translate: `${by.x}px ${by.y}px` }}
                  className={`grid size-[24px] place-items-center border-2 font-mono text-[14px] font-bold ${
                    place.id === chosen ? 'z-10 border-rust bg-rust text-on-rust' : 'border-ink bg-sheet text-ink'
                  }`}
                >
                  {place.number}
                </span>
              </button>
            );
          })}
        </div>
      </div>
      <Nearer scale={view.scale} zoom={zoom} />
    </div>
  );
}
