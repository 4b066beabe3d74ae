import type { CircuitPageView, CircuitPartView, CircuitRow, NumberFrom } from '../api/generated';
import { Mark } from '../ui/Mark';

interface CircuitKnownProps {
  tag: string;
  circuit: CircuitPageView;
  add: (row: Omit<CircuitRow, 'id'>) => void;
}

/** What the ledger makes of the rows: what it still needs, what it assumed, and what it would help most to enter. */
export function CircuitKnown({ tag, circuit, add }: CircuitKnownProps) {
  const first = circuit.states.find((s) => s.energised);
  const next = circuit.next[0];
  return (
    <>
      <h2 className="title">As the ledger understands it</h2>
      <p className="flex items-start gap-2 border-b border-rule py-1">
        <Mark kind={circuit.hasCircuit ? 'within' : 'untouched'} />
        {circuit.hasCircuit
          ? `${circuit.worked} ${circuit.worked === 1 ? 'check' : 'checks'} worked out${
              circuit.unsaid > 0 ? `; of ${circuit.unsaid} more it says nothing` : ''
            }.`
          : 'No source is known yet: nothing can be worked out.'}
      </p>
      {circuit.gaps.length > 0 && (
        <>
          <h3 className="mt-3 text-[15px] text-ink-2">Must be entered</h3>
          <ul>
            {circuit.gaps.map((gap) => (
              <li key={gap.part + gap.words} className="flex items-center gap-2 border-b border-rule py-1">
                <Mark kind="untouched" />
                <span className="grow">
                  <span className="font-mono font-bold">{gap.part}</span>: {gap.words}
                </span>
                {gap.kinds.length > 0 && gap.kinds.length < 4 && (
                  <button
                    type="button"
                    className="quiet px-2 text-[14px]"
                    onClick={() => add({ part: gap.part, between: '', what: gap.kinds[0] ?? '', onIn: '', onlyOn: '' })}
                  >
                    Add its row
                  </button>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      {next && (
        <>
          <h3 className="mt-3 text-[15px] text-ink-2">Would change most</h3>
          <ul>
            {circuit.next.map((n, at) => (
              <li key={n.part + n.number} className={`border-b border-rule py-1 ${at === 0 ? 'font-bold' : ''}`}>
                <span className="font-mono">{n.part}</span>: {n.number}, assumed{' '}
                <span className="font-mono">{n.assumed}</span>
                <span className="block text-[14px] font-normal text-ink-2">
                  moves {n.moves} {n.moves === 1 ? 'reading' : 'readings'}, one by{' '}
                  <span className="font-mono">{n.most}</span>
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 className="mt-3 text-[15px] text-ink-2">Parts</h3>
      <ul>
        {circuit.parts.map((part) => (
          <Part key={part.name} part={part} />
        ))}
      </ul>
      {circuit.usual > 0 && (
        <p className="py-1 text-[14px] text-ink-2">
          {circuit.usual} wires, contacts and tracks as they usually are: 30, 5 and 2 mΩ, assumed.
        </p>
      )}
      {circuit.hasCircuit && first && (
        <a
          className="link mt-2 inline-flex min-h-[34px] items-center max-[899px]:min-h-[44px]"
          href={`/api/machines/${encodeURIComponent(tag)}/circuit/file?state=${encodeURIComponent(first.code)}`}
          download
        >
          As a SPICE file, {first.name}
        </a>
      )}
    </>
  );
}

const fromWords: Record<NumberFrom, string> = { entered: '', marking: ' (marked)', assumed: ' (assumed)' };

function Part({ part }: { part: CircuitPartView }) {
  return (
    <li className="border-b border-rule py-1 text-[14px]">
      <span className="font-mono font-bold">{part.name}</span>{' '}
      {part.numbers.map((n, at) => (
        <span key={n.name} className={n.from === 'assumed' ? 'text-ink-2' : ''}>
          {at > 0 && ', '}
          {n.name} <span className="font-mono">{n.written}</span>
          {fromWords[n.from]}
        </span>
      ))}
      {part.onIn && (
        <span className="block text-ink-2">
          closed in: {part.onIn.length > 0 ? part.onIn.join(', ') : 'no state'}
          {part.isAssumed && ' (assumed)'}
        </span>
      )}
    </li>
  );
}
