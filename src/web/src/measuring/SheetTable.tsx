import { Fragment, useEffect, useRef } from 'react';
import type { BeforeView, TwinReading } from '../api/generated';
import { Mark, markColour, markWords } from '../ui/Mark';
import { Wire } from '../ui/Wire';
import { BeforePlot } from './Before';
import { markOf, type SheetLine } from './sheet';

interface SheetTableProps {
  lines: SheetLine[];
  current: string | null;
  onPick: (key: string) => void;
  /** What each check read before this round; nothing where none was ever read. */
  before: ReadonlyMap<string, BeforeView>;
  /** The same machine next to it, with what it read last at each check. */
  twin?: { tag: string; readings: ReadonlyMap<string, TwinReading> } | undefined;
}

/** The working sheet: every check with what it should read and what it reads. */
export function SheetTable({ lines, current, onPick, before, twin }: SheetTableProps) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const rows = [...(box.current?.querySelectorAll<HTMLElement>('tbody tr') ?? [])];
    const at = rows.findIndex((row) => row.hasAttribute('aria-current'));
    // Whole rows, the three before it in sight.
    const first = rows[Math.max(0, at - 3)];
    if (at >= 0 && first && box.current) {
      box.current.scrollTop = first.offsetTop - (box.current.querySelector('thead')?.offsetHeight ?? 0);
    }
  }, [current]);
  return (
    <div
      ref={box}
      className="relative min-h-[150px] overflow-auto min-[900px]:grow min-[900px]:basis-0"
      role="region"
      aria-label="Sheet"
      tabIndex={0}
    >
      <table className="w-full border-collapse text-[15px] min-[900px]:text-[14px]">
        <caption className="sr-only">Working sheet</caption>
        <thead className="sticky top-0 bg-sheet">
          <tr className="text-left text-[14px] text-ink-2 [&>th]:py-0.5 [&>th]:pr-3 [&>th]:font-medium">
            <th scope="col">Pin</th>
            <th scope="col" className="max-[899px]:hidden">
              Wire
            </th>
            <th scope="col" className="whitespace-nowrap">
              What it does
            </th>
            <th scope="col">Should read</th>
            <th scope="col" className="text-right">
              Reads
            </th>
            {twin && (
              <th scope="col" className="text-right whitespace-nowrap">
                {twin.tag} read
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => (
            <Fragment key={line.row.key}>
              {line.row.state !== lines[i - 1]?.row.state && (
                <tr>
                  <th
                    scope="rowgroup"
                    colSpan={twin ? 6 : 5}
                    className="border-t border-rule-2 pt-0.5 text-left text-[14px] font-semibold text-ink-2"
                  >
                    {line.row.stateName}, {line.row.energised ? 'energised' : 'dead'}
                  </th>
                </tr>
              )}
              <Line
                line={line}
                isCurrent={line.row.key === current}
                onPick={onPick}
                before={before.get(line.row.key)}
                twin={twin && (twin.readings.get(line.row.key) ?? null)}
              />
            </Fragment>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface LineProps {
  line: SheetLine;
  isCurrent: boolean;
  onPick: (key: string) => void;
  /** Nothing where it was never read. */
  before: BeforeView | undefined;
  /** Null where the twin was not read there; undefined where none stands beside. */
  twin: TwinReading | null | undefined;
}

function Line({ line, isCurrent, onPick, before, twin }: LineProps) {
  const { row, waiting } = line;
  const mark = markOf(line);
  const out = mark === 'low' || mark === 'high' || mark === 'dead' || mark === 'reversed' || mark === 'differs';
  return (
    <tr
      aria-current={isCurrent || undefined}
      data-check={row.key}
      className={`border-t border-rule [&>td]:pr-3 ${isCurrent ? 'bg-rust-wash' : ''} ${out ? 'text-out' : ''}`}
    >
      <td className="whitespace-nowrap">
        <button
          type="button"
          className="flex min-h-[23px] cursor-pointer items-center gap-2 font-mono max-[899px]:min-h-[44px]"
          onClick={() => onPick(row.key)}
          aria-label={`${row.red?.printed ?? row.part}, ${isCurrent ? 'here' : markWords(mark)}`}
        >
          <Mark kind={isCurrent && mark === 'untouched' ? 'here' : mark} />
          {row.red?.printed ?? row.part}
        </button>
      </td>
      <td className="whitespace-nowrap max-[899px]:hidden">
        {row.red && <Wire colours={row.red.colours} words={row.red.colourWords} />}
      </td>
      <td
        className="w-full min-[900px]:max-w-0 min-[900px]:truncate"
        title={[row.red?.signal, row.remark].filter(Boolean).join(', ')}
      >
        {row.red?.signal}
        {row.remark && <span className="text-ink-2"> {row.remark}</span>}
      </td>
      <td
        className="font-mono whitespace-nowrap text-ink-2 min-[900px]:max-w-[190px] min-[900px]:truncate"
        title={[row.limit.length > 20 ? row.limit : '', row.toleranceWords].filter(Boolean).join(': ') || undefined}
      >
        {row.limit}
      </td>
      <td className="text-right font-mono font-bold whitespace-nowrap">
        <BeforePlot before={before} row={row} />
        {waiting ? (
          <span className="font-sans text-[14px] font-normal text-ink-2">
            <b className="font-mono text-ink">{waiting.line.typed || waiting.line.reason}</b>{' '}
            {waiting.refused ? (
              <span className="text-out">refused: {waiting.refused}</span>
            ) : (
              'unsent, not judged until sent'
            )}
          </span>
        ) : row.reading ? (
          <>
            {row.reading.value}{' '}
            <span className={`font-sans text-[14px] font-normal ${markColour(mark)}`}>{markWords(mark)}</span>
          </>
        ) : (
          row.skipped !== null && <span className="font-sans text-[14px] font-normal text-ink-2">{row.skipped}</span>
        )}
      </td>
      {twin !== undefined && (
        <td className="text-right font-mono whitespace-nowrap text-ink-2" title={twin?.words || undefined}>
          {twin ? (
            <span className="inline-flex items-center gap-1.5">
              {twin.value}
              {twin.kind && (
                <span className={`inline-flex items-center gap-1 font-sans text-[14px] ${markColour(twin.kind)}`}>
                  <Mark kind={twin.kind} /> {twin.kind === 'within' ? 'alike' : markWords(twin.kind)}
                </span>
              )}
            </span>
          ) : (
            <span className="font-sans text-[14px]">not read</span>
          )}
        </td>
      )}
    </tr>
  );
}
