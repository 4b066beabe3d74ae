import type { OutsideCheck, OutsideSheet } from '../api/generated';
import { newId } from '../api/newId';
import { Tick } from '../ui/Tick';
import { Rows } from './Rows';

interface OutsideEditorProps {
  usual: OutsideCheck[];
  sheet: OutsideSheet;
  change: (sheet: OutsideSheet) => void;
  settle: (sheet: OutsideSheet) => void;
}

/** Outside checks: those every model has, less those this one has nothing for, and its own. */
export function OutsideEditor({ usual, sheet, change, settle }: OutsideEditorProps) {
  const names = new Map([...usual, ...sheet.own].map((c) => [c.id, c.asks]));
  // Each comes after at most one that is chosen here; what a file brought stays.
  const rows = sheet.own.map((c) => ({ id: c.id, asks: c.asks, first: c.after[0] ?? null }));
  const to = (next: typeof rows): OutsideSheet => ({
    ...sheet,
    own: next.map((r) => {
      const was = sheet.own.find((c) => c.id === r.id);
      const rest = was?.after.slice(1) ?? [];
      return {
        id: r.id,
        asks: r.asks,
        chance: was?.chance ?? 0.05,
        minutes: was?.minutes ?? 1,
        asksHowLong: was?.asksHowLong ?? false,
        after: r.first ? [r.first, ...rest.filter((a) => a !== r.first)] : rest,
      };
    }),
  });
  return (
    <>
      <fieldset className="mt-1">
        <legend className="text-[14px] text-ink-2">
          Every model has these; take out what this one has nothing for. Chances and minutes are learnt from visits.
        </legend>
        <div className="grid gap-x-4 min-[700px]:grid-cols-2">
          {usual.map((c) => (
            <Tick
              key={c.id}
              className="text-[14px]"
              on={!sheet.leftOut.includes(c.id)}
              set={(on) =>
                settle({ ...sheet, leftOut: on ? sheet.leftOut.filter((x) => x !== c.id) : [...sheet.leftOut, c.id] })
              }
            >
              {c.asks}
            </Tick>
          ))}
        </div>
      </fieldset>
      <Rows
        title="Its own"
        rows={rows}
        columns={[
          { name: 'asks', label: 'A question that yes answers when all is well', kind: 'text', wide: true },
          { name: 'first', label: 'Only after', kind: 'choiceOrNone', options: [...names] },
        ]}
        fresh={() => ({ id: newId(), asks: 'Is …?', first: null })}
        empty="None of its own."
        onChange={(next) => change(to(next))}
        onSettle={(next) => settle(to(next))}
      />
    </>
  );
}
