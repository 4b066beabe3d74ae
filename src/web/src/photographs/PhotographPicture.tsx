import { type KeyboardEvent, type MouseEvent, useState } from 'react';
import { type PhotographPage as Page } from '../api/generated';
import { type Place } from './PlaceLeaf';
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

export function Picture({ page, places, chosen, choose, tap }: PictureProps) {
  const { photograph } = page;
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    const from = cross ?? { x: 0.5, y: 0.5 };
    if (by) {
      event.preventDefault();
      const size = event.shiftKey ? step * 5 : step;
      setCross({ x: clamp(from.x + (by[0] ?? 0) * size), y: clamp(from.y + (by[1] ?? 0) * size) });
    }
  };
  const onTap = (event: MouseEvent) => {
    if (event.detail === 0) {
      // Pressed by a key: at the cross.
      tap(cross?.x ?? 0.5, cross?.y ?? 0.5);
      return;
    }
    const box = event.currentTarget.getBoundingClientRect();
    tap(clamp((event.clientX - box.x) / box.width), clamp((event.clientY - box.y) / box.height));
  };
  return (
    <div
      className="relative mx-auto w-fit max-w-full border border-rule-2"
      style={{ aspectRatio: `${photograph.width} / ${photograph.height}` }}
      data-testid="picture"
    >
      <img
        src={`/api/pictures/${photograph.hash}`}
        alt={photograph.caption || kindWords[photograph.kind]}
        width={photograph.width}
        height={photograph.height}
        className="block max-h-[calc(100dvh-130px)] w-auto max-w-full"
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
          style={{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%` }}
          viewBox="-20 -20 40 40"
          aria-hidden="true"
        >
          <path d="M-20,0 H20 M0,-20 V20" stroke="currentColor" strokeWidth={3} />
        </svg>
      )}
      {places.map((place) => (
        <button
          key={place.id}
          type="button"
          className={`absolute grid size-[44px] -translate-1/2 place-items-center`}
          style={{ left: `${place.x * 100}%`, top: `${place.y * 100}%` }}
          aria-label={`Place ${place.number}${place.name && `, ${place.name}`}`}
          aria-pressed={place.id === chosen}
          onClick={() => choose(place.id)}
        >
          <span
            className={`grid size-[26px] place-items-center border-2 font-mono text-[14px] font-bold ${
              place.id === chosen ? 'border-rust bg-rust text-on-rust' : 'border-ink bg-sheet text-ink'
            }`}
          >
            {place.number}
          </span>
        </button>
      ))}
    </div>
  );
}
