import { Choose, optionsOf } from '../ui/Choose';
import { Key } from '../ui/Key';
import { useKeys } from '../ui/useKeys';
import { type Facing, sideWords } from './facing';

interface FacingKeysProps {
  facing: Facing | undefined;
  face: (next: Facing) => void;
  turn: () => void;
  otherSide: () => void;
}

/** As one faces the board: turned, upside down, from which side; by button or by key, since letters alone belong to typing readings. */
export function FacingKeys({ facing, face, turn, otherSide }: FacingKeysProps) {
  useKeys((key) => {
    const act = { 'Alt R': turn, 'Alt M': otherSide }[key];
    act?.();
    return act !== undefined;
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
        <Choose
          name="Side"
          className="w-auto px-1"
          value={facing?.side ?? 'component'}
          options={optionsOf(sideWords)}
          onChange={(side) => facing && face({ ...facing, side })}
        />
        <span className="max-[899px]:hidden">
          <Key>Alt M</Key>
        </span>
      </label>
    </span>
  );
}
