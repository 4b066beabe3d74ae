import type { OffBoardPart, OutsideCheck, OutsideSheet } from '../api/generated';
import { newId } from '../api/newId';
import { Choose } from '../ui/Choose';
import { Tick } from '../ui/Tick';
import { Rows } from './Rows';

interface OutsideEditorProps {
  usual: OutsideCheck[];
  /** What is off the boards: its switches and fuses can be asked for by name. */
  parts: OffBoardPart[];
  sheet: OutsideSheet;
  change: (sheet: OutsideSheet) => void;
  settle: (sheet: OutsideSheet) => void;
}

const isAsked = (part: OffBoardPart) => ['switch', 'fuseHolder', 'button'].includes(part.kind);

/** What one asks of a switch, a button or a fuse before any cover comes off; one question each, by the part's own id. */
function questionOf({ id, kind, designator, name }: OffBoardPart) {
  const called = [designator, name].filter(Boolean).join(', ');
  const [asks, clears] =
    kind === 'fuseHolder'
      ? [`Does the fuse in ${called} beep, pulled?`, `the fuse in ${designator}, not its holder`]
      : kind === 'switch'
        ? [`Is ${called} on?`, `${designator} left off, not its contacts`]
        : [`Does ${called} spring back when it is let go?`, `${designator} stuck, not its contacts`];
  return { id: `ask-${id}`, asks, clears, first: null };
}

/** Outside checks: those every model has, less those this one has nothing for, and its own. */
export function OutsideEditor({ usual, parts, sheet, change, settle }: OutsideEditorProps) {
  const named = parts.filter((p) => isAsked(p) && sheet.own.every((c) => c.id !== questionOf(p).id));
  const names = new Map([...usual, ...sheet.own].map((c) => [c.id, c.asks]));
  // Each comes after at most one that is chosen here; what a file brought stays.
  const rows = sheet.own.map((c) => ({ id: c.id, asks: c.asks, clears: c.clears ?? '', first: c.after[0] ?? null }));
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
        clears: r.clears,
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
          { name: 'clears', label: 'What a yes clears', kind: 'text' },
          { name: 'first', label: 'Only after', kind: 'choiceOrNone', options: [...names] },
        ]}
        fresh={() => ({ id: newId(), asks: 'Is …?', clears: '', first: null })}
        empty="None of its own."
        onChange={(next) => change(to(next))}
        onSettle={(next) => settle(to(next))}
      />
      {named.length > 0 && (
        <p className="mt-1 text-[14px]">
          <Choose
            name="Ask for a switch or fuse of its own"
            className="w-auto"
            value=""
            options={[
              { value: '', words: 'Ask for a switch or fuse of its own' },
              ...named.map((part) => ({ value: part.id, words: `${part.designator} ${part.name}` })),
            ]}
            onChange={(id) => {
              const part = named.find((p) => p.id === id);
              if (part) {
                settle(to([...rows, questionOf(part)]));
              }
            }}
          />
        </p>
      )}
    </>
  );
}
