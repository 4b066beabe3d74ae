import { type FaultView } from '../api/generated';
import { Mark, type MarkKind, markWords } from '../ui/Mark';
import { History } from './History';

const verdictKinds = ['within', 'marginal', 'low', 'high', 'dead', 'reversed', 'differs', 'notJudged'] as const;

const verdicts: Record<string, MarkKind> = Object.fromEntries(verdictKinds.map((k) => [markWords(k), k]));

/** A line of evidence is kept as text; its mark goes by the word of the verdict in it. */
function verdictIn(line: string): MarkKind {
  const word = new RegExp(`, (${Object.keys(verdicts).join('|')})(?: of |$)`).exec(line)?.[1];
  return verdicts[word ?? ''] ?? 'notJudged';
}

export function Evidence({ fault, onPutBack }: { fault: FaultView; onPutBack: () => void }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">Readings it rests on</h2>
      {fault.evidence.length === 0 && <p className="py-2 text-ink-2">None: it was written down by hand.</p>}
      <ul className="text-[14px]">
        {fault.evidence.map((line) => (
          <li key={line} className="flex gap-2 border-b border-rule py-1.5">
            <span className="pt-0.5">
              <Mark kind={verdictIn(line)} />
            </span>
            <span>{line}</span>
          </li>
        ))}
      </ul>
      <History kind="Fault" recordId={fault.id} onPutBack={onPutBack} />
    </>
  );
}
