import { useQuery } from '@tanstack/react-query';
import { getCodePages, type MachineSheetView } from '../api/generated';
import { ask } from '../api/ledger';
import type { Step } from '../machines/watched';
import { Choose } from '../ui/Choose';
import { Key } from '../ui/Key';
import { useLate } from '../ui/useLate';

/** Only where it takes a while: most sheets are read before one looks up. */
export function Reading({ step, stop }: { step: Step | undefined; stop: () => void }) {
  return useLate(400) ? (
    <p role="status" className="flex items-center gap-4 py-2 text-ink-2">
      Reading the sheet…
      {step?.of !== undefined && (
        <span>
          {step.done} of {step.of} {step.what}
          <progress className="ml-2 w-[120px] accent-rust" value={step.done} max={step.of} aria-label="Read" />
        </span>
      )}
      <button type="button" className="link min-h-[38px] max-[899px]:min-h-[44px]" onClick={stop}>
        Stop
      </button>
    </p>
  ) : null;
}

export function Summary({ view, busy, take }: { view: MachineSheetView; busy: boolean; take: () => void }) {
  const wires = view.wires.filter((w) => w.isTaken).length;
  return (
    <div className="flex items-center gap-4 py-2 max-[899px]:flex-wrap">
      <p className="min-w-0 grow">
        <b>
          {view.added} rows new, {view.changed} changed
          {view.refused > 0 && <span className="text-out">, {view.refused} refused</span>}
          {view.doubtful > 0 && <span className="text-marginal">, {view.doubtful} in doubt</span>}; {wires}{' '}
          {wires === 1 ? 'wire' : 'wires'}.
        </b>{' '}
        <span className="text-[14px] text-ink-2">
          {view.fileKind}.{view.common && ` Black probe on ${view.common} where a row says nothing else.`}
          {view.newStates.length > 0 && ` New states: ${view.newStates.map((s) => s.name).join(', ')}.`}
          {view.reached.map((r) => ` Changes ${r.words} of ${r.machines.join(', ')} as well.`).join('')}
        </span>
      </p>
      <button
        type="button"
        className="action shrink-0 max-[899px]:w-full"
        disabled={!view.changesAnything || busy}
        onClick={take}
      >
        {view.changesAnything ? (
          <>
            Take it in <Key>F9</Key>
          </>
        ) : (
          'Nothing would change'
        )}
      </button>
    </div>
  );
}

export function CodePages({ value, set }: { value: string; set: (page: string) => void }) {
  const pages = useQuery({ queryKey: ['code-pages'], queryFn: () => ask(getCodePages()), staleTime: Infinity });
  return (
    <Choose
      name="Signs of the file"
      className="w-[190px]"
      value={value}
      options={[
        { value: '', words: 'signs: by the file' },
        ...(pages.data ?? []).map((p) => ({ value: `${p.page}`, words: p.name })),
      ]}
      onChange={set}
    />
  );
}

export function Hints() {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">What is understood</h2>
      <ul className="text-[14px] text-ink-2 [&>li]:border-b [&>li]:border-rule [&>li]:py-1.5">
        <li>
          Many connectors on one sheet: a line <span className="font-mono">DRIVE BOARD</span> or{' '}
          <span className="font-mono">Plug P12</span>, a column of boards, or{' '}
          <span className="font-mono">drive J4-3</span> in the pin.
        </li>
        <li>
          Headings as you write them, in one row or two; none at all; two tables side by side; ditto marks; notes and
          totals.
        </li>
        <li>
          Pins <span className="font-mono">1-4</span>, <span className="font-mono">1,2,5</span>, and those a spreadsheet
          made dates of. Colours in words: <span className="font-mono">blk w/ wht</span>.
        </li>
        <li>
          One black probe: <span className="font-mono">common: P12-3</span>, for the sheet or below a section.
        </li>
        <li>
          The other end of a wire, a wire number, <span className="font-mono">P31 in J31</span>: the wires are proposed.
        </li>
        <li>A value that nobody understands keeps its pin, its wire and its words, and judges nothing.</li>
      </ul>
    </>
  );
}
