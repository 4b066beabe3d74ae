import { useEffect } from 'react';
import { Key } from '../ui/Key';

/** Turn and mirror, by button or by key; letters alone belong to typing readings. */
export function FacingKeys({ turn, mirror }: { turn: () => void; mirror: () => void }) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const act = event.altKey ? { r: turn, m: mirror }[event.key.toLowerCase()] : undefined;
      if (act) {
        event.preventDefault();
        act();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  return (
    <span className="inline-flex gap-2 text-[14px]">
      <button type="button" className="quiet px-2" onClick={turn}>
        Turn <Key>Alt R</Key>
      </button>
      <button type="button" className="quiet px-2" onClick={mirror}>
        Mirror <Key>Alt M</Key>
      </button>
    </span>
  );
}
