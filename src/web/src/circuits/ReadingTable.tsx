import type { CircuitReadingView, FaultyShown, MeterMode } from '../api/generated';
import { Mark } from '../ui/Mark';

interface ReadingTableProps {
  tag: string;
  rows: CircuitReadingView[];
  chosen: string | undefined;
  hasFault: boolean;
  hasOther: boolean;
  /** What stands here is of another fault still. */
  isOld: boolean;
  onChoose: (key: string) => void;
}

const modeWords: Partial<Record<MeterMode, string>> = {
  dcVolts: 'V DC',
  acVolts: 'V AC',
  ohms: 'Ω',
  continuity: 'beep',
  contact: 'contact',
  lamp: 'lamp',
  batteryUnderLoad: 'V DC',
};

/** A pin of the same connector is called by its label alone. */
const from = (red: string, black: string) => {
  const element = red.slice(0, red.lastIndexOf('·') + 1);
  return element && black.startsWith(element) ? black.slice(element.length - 1) : black;
};

/** The sheet as the circuit has it: healthy, and beside it faulty, the largest difference first. */
export function ReadingTable({ tag, rows, chosen, hasFault, hasOther, isOld, onChoose }: ReadingTableProps) {
  return (
    <table className={`mt-2 w-full text-[15px] ${isOld ? 'opacity-60' : ''}`} aria-label={`What ${tag} reads`}>
      <thead>
        <tr className="border-b border-rule-2 text-left text-[14px] text-ink-2">
          <th className="font-normal">Read at</th>
          <th className="pl-2 font-normal max-[899px]:hidden">State</th>
          <th className="text-right font-normal">Healthy</th>
          {hasFault ? (
            <>
              <th className="pl-3 text-right font-normal">With it</th>
              {hasOther && <th className="pl-3 text-right font-normal">With the other</th>}
              <th className="pl-3 font-normal max-[899px]:hidden">{hasOther ? 'Tells apart' : 'Shows'}</th>
            </>
          ) : (
            <>
              <th className="pl-3 font-normal max-[1399px]:hidden">Within</th>
              <th className="pl-3 font-normal">Sheet</th>
            </>
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={row.checkKey}
            aria-current={row.checkKey === chosen ? 'true' : undefined}
            className={`h-[31px] cursor-pointer border-b border-rule max-[899px]:h-[44px] ${
              row.checkKey === chosen ? 'bg-rust-wash' : ''
            }`}
            onClick={() => onChoose(row.checkKey)}
          >
            <td className="min-[900px]:whitespace-nowrap">
              <button type="button" className="text-left" onClick={() => onChoose(row.checkKey)}>
                <span className="font-mono font-bold">{row.red}</span>
                {row.black && <span className="font-mono text-ink-2"> to {from(row.red, row.black)}</span>}{' '}
                <span className="text-[14px] text-ink-2">
                  {modeWords[row.mode] ?? ''}
                  {row.plugged === false && ', unplugged'}
                </span>
              </button>
            </td>
            <td className="max-w-[150px] truncate px-2 max-[899px]:hidden" title={row.stateName}>
              {row.stateName}
            </td>
            <td className="text-right font-mono whitespace-nowrap">{row.healthy}</td>
            {hasFault ? (
              <>
                <Faulty shown={row.faulty} />
                {hasOther && <Faulty shown={row.other} />}
                <td className="pl-3 max-[899px]:hidden">
                  <Apart apart={row.apart} />
                </td>
              </>
            ) : (
              <>
                <td className="pl-3 font-mono text-[14px] whitespace-nowrap text-ink-2 max-[1399px]:hidden">
                  {row.band}
                </td>
                <td className="pl-3">
                  <span className="flex items-center gap-2">
                    {row.contradiction && <Mark kind="differs" />}
                    <span
                      className={`font-mono text-[14px] whitespace-nowrap ${row.contradiction ? 'font-bold text-out' : ''}`}
                    >
                      {row.limit || 'worked out'}
                    </span>
                  </span>
                </td>
              </>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Faulty({ shown }: { shown: FaultyShown | null }) {
  const isApart = (shown?.apart ?? 0) >= 1;
  return (
    <td className={`pl-3 text-right font-mono whitespace-nowrap ${isApart ? 'font-bold' : 'text-ink-2'}`}>
      {shown?.words}
    </td>
  );
}

function Apart({ apart }: { apart: number }) {
  const words = apart >= 10 ? 'plainly' : apart >= 3 ? 'clearly' : apart >= 1 ? 'just' : 'not';
  return (
    <span className="flex items-center gap-2 text-[14px]">
      <span aria-hidden="true" className="inline-block h-[8px] w-[44px] border border-rule-2">
        <span
          className="block h-full bg-ink"
          style={{ width: `${Math.min(100, (Math.log10(1 + apart) / 2) * 100)}%` }}
        />
      </span>
      {words}
    </span>
  );
}
