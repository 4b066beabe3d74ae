import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { getCable, type PinAddress } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose, optionsOf } from '../ui/Choose';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { TickBox } from '../ui/Tick';
import type { PlacedPin } from './wires';

const ways = {
  label: 'pin to pin',
  mirrored: 'mirrored: the first to the last',
  colour: 'by colour',
  signal: 'by signal',
} as const;

interface CableFormProps {
  modelId: string;
  pins: PlacedPin[];
  join: (wires: { from: PinAddress; to: PinAddress; directed: boolean }[]) => void;
}

/** Many wires at once, from one connector to another; those whose ends do not agree are left to be ticked. */
export function CableForm({ modelId, pins, join }: CableFormProps) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [by, setBy] = useState<keyof typeof ways>('label');
  const [feeds, setFeeds] = useState(false);
  const [turned, setTurned] = useState<Record<string, boolean>>({});
  const connectors = [...new Set(pins.map((p) => p.printed.slice(0, p.printed.lastIndexOf('·'))))];
  const asked = from !== '' && to !== '' && from !== to;
  const cable = useQuery({
    queryKey: ['model', modelId, 'cable', from, to, by, pins.length],
    queryFn: () => ask(getCable({ path: { id: modelId }, query: { from, to, by } })),
    enabled: asked,
  });
  const choices = [
    { value: '', words: 'choose' },
    ...connectors.map((c) => ({
      value: c,
      words: `${c}, ${pins.filter((p) => p.printed.startsWith(`${c}·`)).length} pins`,
    })),
  ];
  const cores = (cable.data?.cores ?? []).filter((c) => !c.isThere);
  const isOn = (core: (typeof cores)[number]) => turned[core.fromPrinted + core.toPrinted] ?? core.doubt === '';
  const taken = cores.filter(isOn);
  return (
    <form
      aria-label="Join by a cable"
      className="text-[15px]"
      onSubmit={(event) => {
        event.preventDefault();
        join(taken.map((c) => ({ from: c.from, to: c.to, directed: feeds })));
        setFrom('');
        setTo('');
        setTurned({});
      }}
    >
      <div className="grid items-end gap-3 min-[700px]:grid-cols-[1fr_1fr_1fr]">
        <label>
          From connector
          <Choose name="From connector" className="mt-1 w-full" value={from} options={choices} onChange={setFrom} />
        </label>
        <label>
          to connector
          <Choose name="to connector" className="mt-1 w-full" value={to} options={choices} onChange={setTo} />
        </label>
        <label>
          Which to which
          <Choose name="Which to which" className="mt-1 w-full" value={by} options={optionsOf(ways)} onChange={setBy} />
        </label>
      </div>
      <Problem error={cable.error} />
      {asked && cable.data && (
        <>
          <ul aria-label="Cores" className="mt-2">
            {cable.data.cores.map((core) => (
              <li key={core.fromPrinted} className="border-t border-rule-2 py-0.5">
                <label className="flex min-h-[32px] items-center gap-2 max-[899px]:min-h-[44px]">
                  {core.isThere ? (
                    <Mark kind="within" />
                  ) : (
                    <TickBox
                      on={isOn(core)}
                      set={(on) => setTurned({ ...turned, [core.fromPrinted + core.toPrinted]: on })}
                    />
                  )}
                  <span className="font-mono">
                    {core.fromPrinted} – {core.toPrinted}
                  </span>
                  {core.isThere && <span className="text-ink-2">joined already</span>}
                  {core.doubt && (
                    <span className="flex items-center gap-1.5 text-marginal">
                      <Mark kind="differs" /> {core.doubt}
                    </span>
                  )}
                </label>
              </li>
            ))}
          </ul>
          {cable.data.left.length > 0 && (
            <p className="text-[14px] text-ink-2">Without another end: {cable.data.left.join(', ')}.</p>
          )}
        </>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-5">
        <label className="flex min-h-[38px] items-center gap-2">
          <TickBox on={feeds} set={setFeeds} /> power runs from the first to the second
        </label>
        <button type="submit" className="action" disabled={!asked || taken.length === 0}>
          Join {taken.length} {taken.length === 1 ? 'wire' : 'wires'}
        </button>
      </div>
    </form>
  );
}
