import { Key } from './Key';
import { closest } from './useView';

/** Looking closer by a press, for those without a wheel or two fingers. */
export function Nearer({ scale, zoom }: { scale: number; zoom: (by: number) => void }) {
  return (
    <p className="mt-1 flex items-center gap-2 text-[14px]">
      <button type="button" className="quiet px-2" onClick={() => zoom(1.4)} disabled={scale >= closest}>
        Closer <Key>+</Key>
      </button>
      <button type="button" className="quiet px-2" onClick={() => zoom(1 / 1.4)} disabled={scale <= 1}>
        Wider <Key>-</Key>
      </button>
      <button type="button" className="quiet px-2" onClick={() => zoom(0.001)} disabled={scale <= 1}>
        All of it <Key>0</Key>
      </button>
    </p>
  );
}
