import type { FaultView } from '../api/generated';
import { Mark } from '../ui/Mark';
import { clockOf, dayOf } from '../ui/time';
import { History } from './History';

export function Evidence({ fault, onPutBack }: { fault: FaultView; onPutBack: () => void }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">Readings it rests on</h2>
      {fault.evidence.length === 0 && <p className="py-2 text-ink-2">None: it was written down by hand.</p>}
      <ul className="text-[14px]">
        {fault.evidence.map(({ at, words, verdict }) => (
          <li key={`${at} ${words}`} className="flex gap-2 border-b border-rule py-1.5">
            {verdict && (
              <span className="pt-0.5">
                <Mark kind={verdict} />
              </span>
            )}
            <span className="min-w-0">
              <span className="block break-words">{words}</span>
              {at && (
                <span className="text-ink-2">
                  {dayOf(at)} {clockOf(at)}
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
      <History kind="Fault" recordId={fault.id} onPutBack={onPutBack} />
    </>
  );
}
