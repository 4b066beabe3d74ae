import type { ChargeView, VisitStart } from '../api/generated';
import { inMinutes, useClock } from './clock';
import { LeafPart } from './LeafPart';

/** Stored charge counts down as advice; only a reading proves. */
export function Charges({ start }: { start: VisitStart }) {
  const now = useClock();
  if (start.safety.charges.length === 0) {
    return null;
  }
  return (
    <LeafPart title="Stored charge">
      <ul>
        {start.safety.charges.map((c) => (
          <li key={c.id} className="border-b border-rule py-1">
            <b>{c.name}</b>
            <p className="font-mono text-[22px] font-bold" role="timer">
              {left(c, now)}
            </p>
            <p className="text-[14px] text-ink-2">{c.words}</p>
          </li>
        ))}
      </ul>
      <p className="py-1 text-[14px] text-ink-2">
        The countdown is advice. A bleed resistor fails open: only the reading proves.
      </p>
    </LeafPart>
  );
}

function left(charge: ChargeView, now: number): string {
  const worst = charge.now.secondsAtWorst;
  if (worst === null) {
    return 'no time can be told';
  }
  if (worst === 0) {
    return 'below the limit from the start';
  }
  if (!charge.offAt) {
    return `${inMinutes(worst * 1000)} once it is off`;
  }
  const ms = new Date(charge.offAt).getTime() + worst * 1000 - now;
  return ms <= 0 ? 'may be low now: read it' : `${inMinutes(ms)} to wait`;
}
