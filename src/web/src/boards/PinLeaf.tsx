import { useQuery } from '@tanstack/react-query';
import { listPinReadings, type BoardMap as Map, type PinOnMap } from '../api/generated';
import { ask } from '../api/ledger';
import { Wire } from '../ui/Wire';
import { originWords } from '../ui/origins';
import { dayOf } from '../ui/time';

export function PinLeaf({ pin, board }: { pin: PinOnMap; board: Map }) {
  const lines: [string, string[]][] = [
    ['Fed by', pin.fedBy],
    ['Feeds', pin.feeds],
    ['Joined to', pin.joinedTo],
    ['Should read', pin.checks],
  ];
  return (
    <>
      <h2 className="font-mono text-[24px]">{pin.printed}</h2>
      {pin.elsewherePrinted && (
        <p className="text-[14px] text-ink-2">
          <span className="font-mono">{pin.elsewherePrinted}</span> on other builds
        </p>
      )}
      <p>
        <Wire colours={pin.colours} words={pin.colourWords} />
      </p>
      <p className="mt-1">{pin.signal}</p>
      <p className="text-ink-2">
        {pin.words}, as you face it{pin.landmarks && `; ${pin.landmarks}`}
      </p>
      {lines
        .filter(([, texts]) => texts.length > 0)
        .map(([name, texts]) => (
          <section key={name} className="mt-3" aria-label={name}>
            <h3 className="border-b border-rule-2 text-[14px] text-ink-2">{name}</h3>
            <ul>
              {texts.map((text) => (
                <li key={text} className="border-b border-rule py-1 font-mono text-[14px]">
                  {text}
                </li>
              ))}
            </ul>
          </section>
        ))}
      <p className="mt-3 text-[14px] text-ink-2">{originWords(pin.origins)}</p>
      <PinReadings pin={pin} board={board} />
    </>
  );
}

/** All that was ever read here on this machine, those from before the pin had a name included. */
function PinReadings({ pin, board }: { pin: PinOnMap; board: Map }) {
  const readings = useQuery({
    queryKey: ['pinReadings', board.machineId, board.positionId, pin.id],
    queryFn: () =>
      ask(
        listPinReadings({
          path: { machineId: board.machineId, positionId: board.positionId, pinId: pin.id },
        }),
      ),
  });
  if (!readings.data || readings.data.length === 0) {
    return null;
  }
  return (
    <section className="mt-3" aria-label="Read here before">
      <h3 className="border-b border-rule-2 text-[14px] text-ink-2">Read here before</h3>
      <ul className="text-[14px]">
        {readings.data.slice(0, 8).map((r) => (
          <li key={r.id} className="flex justify-between gap-2 border-b border-rule py-1">
            <span>
              <b className="font-mono">{r.value}</b> {r.remark} {r.mode}
            </span>
            <span className="text-ink-2">
              {dayOf(r.at)}, {r.person}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
