import { useEffect } from 'react';
import type { BoardSide } from '../api/generated';
import { Key } from '../ui/Key';
import { type Facing, sideWords } from './facing';

interface FacingKeysProps {
  facing: Facing | undefined;
  face: (next: Facing) => void;
  turn: () => void;
  otherSide: () => void;
}

/** As one faces the board: turned, upside down, from which side; by button or by key, since letters alone belong to typing readings. */
export function FacingKeys({ facing, face, turn, otherSide }: FacingKeysProps) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const act = event.altKey ? { r: turn, m: otherSide }[event.key.toLowerCase()] : undefined;
      if (act) {
        event.preventDefault();
        act();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  return (
    <span role="group" aria-label="As you face it" className="inline-flex flex-wrap gap-2 text-[14px]">
      <button type="button" className="quiet px-2" onClick={turn}>
        Turn{' '}
        <span className="max-[899px]:hidden">
          <Key>Alt R</Key>
        </span>
      </button>
      <button
        type="button"
        className={`quiet px-2 ${facing?.turns === 2 ? 'border-ink font-bold' : ''}`}
        aria-pressed={facing?.turns === 2}
        onClick={() => facing && face({ ...facing, turns: facing.turns === 2 ? 0 : 2 })}
      >
        Upside down
      </button>
      <label className="inline-flex items-center gap-1">
        <span className="sr-only">Side</span>
        <select
          className="field w-auto px-1"
          value={facing?.side ?? 'component'}
          onChange={(event) => facing && face({ ...facing, side: event.target.value as BoardSide })}
        >
          {Object.entries(sideWords).map(([side, words]) => (
            <option key={side} value={side}>
              {words}
            </option>
          ))}
        </select>
        <span className="max-[899px]:hidden">
          <Key>Alt M</Key>
        </span>
      </label>
    </span>
  );
}
