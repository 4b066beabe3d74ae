import { Link } from 'react-router';
import type { VisitStart } from '../api/generated';
import { conditionMarks, conditionWords } from '../safety/SafeBand';
import { Mark } from '../ui/Mark';

/** The safe state of each source, and what is placed or open, in the margin above the steps: from the first paint, in one place. */
export function VisitSafety({ start }: { start: VisitStart }) {
  const { state, links, notices } = start.safety;
  const placed = [
    ...links.filter((l) => !l.removedAt).map((l) => `${l.kindWords}: ${l.where}`),
    ...notices.filter((n) => !n.backAt).map((n) => `Out of service, told ${n.told}`),
    ...start.observations
      .filter((o) => !o.doneAt && (o.kind === 'coverOff' || o.kind === 'unplugged'))
      .map((o) => `${o.kind === 'coverOff' ? 'Cover off' : 'Unplugged'}: ${o.text}`),
  ];
  return (
    <section aria-label="Sources" className="border-b border-rule-2 pb-2 text-[14px]">
      <ul>
        {state.sources.map((source) => (
          <li key={source.id}>
            <Link
              to={`/visits/${start.visitId}/safe`}
              className="flex min-h-[26px] items-start gap-2 max-[899px]:min-h-[44px]"
            >
              <span className="pt-0.5">
                <Mark kind={conditionMarks[source.condition]} />
              </span>
              <span className="min-w-0 break-words">
                {source.name}: <b>{conditionWords[source.condition]}</b>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {placed.length > 0 && (
        <ul className="mt-1">
          {placed.map((words) => (
            <li key={words} className="flex items-start gap-2 text-out">
              <span className="pt-0.5">
                <Mark kind="differs" />
              </span>
              <span className="min-w-0 break-words">{words}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
