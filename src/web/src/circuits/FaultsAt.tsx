import type { CircuitFaultView } from '../api/generated';
import { Mark } from '../ui/Mark';
import { faultsAt } from './atPlace';

interface FaultsAtProps {
  /** A part or a pin, as printed. */
  place: string;
  faults: CircuitFaultView[];
  /** Id of the chosen one; empty for none. */
  fault: string;
  onFault: (id: string) => void;
}

/** The faults that a place of the board may have: one press puts one there, another takes it away. */
export function FaultsAt({ place, faults, fault, onFault }: FaultsAtProps) {
  const here = faultsAt(faults, place);
  return (
    <section aria-label={`Faults at ${place}`} className="mt-2">
      <h3 className="text-[15px] text-ink-2">
        What it would read if, at <span className="font-mono">{place}</span>
      </h3>
      {here.length === 0 && <p className="text-ink-2">The circuit knows of no fault there.</p>}
      <ul>
        {here.map((f) => (
          <li key={f.id} className="border-b border-rule">
            <button
              type="button"
              aria-pressed={f.id === fault}
              className={`flex min-h-[34px] w-full items-center gap-2 text-left text-[14px] max-[899px]:min-h-[44px] ${f.id === fault ? 'bg-rust-wash' : ''}`}
              onClick={() => onFault(f.id === fault ? '' : f.id)}
            >
              <Mark kind={f.id === fault ? 'here' : 'untouched'} />
              <span className="grow font-mono">{f.words}</span>
              <span className="font-mono whitespace-nowrap text-ink-2">{f.share.toFixed(1)} %</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
