import { useQuery } from '@tanstack/react-query';
import { type BeforeView, listBefore, type RowView } from '../api/generated';
import { ask } from '../api/ledger';
import { dayOf } from '../ui/time';

/** What each check read before this round, on the machine and on its twins, by the key of the check. */
export function useBefore(roundId: string, taken: number): ReadonlyMap<string, BeforeView> {
  const before = useQuery({
    queryKey: ['before', roundId, taken],
    queryFn: () => ask(listBefore({ path: { id: roundId } })),
    staleTime: 60_000,
    placeholderData: (known) => known,
  });
  return new Map((before.data ?? []).map((b) => [b.checkKey, b]));
}

/** The last number in a text as it is written, such as 24.3 of “24.3 V”. */
const numberIn = (text: string | undefined): number | undefined => {
  const found = text === undefined ? NaN : parseFloat(text.replace(/^~/, ''));
  return Number.isFinite(found) ? found : undefined;
};

interface PlotProps {
  before: BeforeView;
  /** What it reads now; undefined before it is read. */
  now?: number | undefined;
  width: number;
  height: number;
}

/** Readings in their order in time, over the band that is allowed; hollow for a twin, a square for now. */
export function Plot({ before, now, width, height }: PlotProps) {
  const own = before.own.flatMap((p) => p.number ?? []);
  const twins = before.twins.flatMap((p) => p.number ?? []);
  const all = [...own, ...twins, ...(now === undefined ? [] : [now])];
  if (all.length === 0) {
    return null;
  }
  const edges = [before.low, before.high].flatMap((e) => e ?? []);
  const [least, most] = [Math.min(...all, ...edges), Math.max(...all, ...edges)];
  const room = (most - least || Math.abs(most) || 1) * 0.12;
  const y = (value: number) => 3 + (height - 6) * (1 - (value - (least - room)) / (most - least + 2 * room));
  const count = twins.length + own.length + (now === undefined ? 0 : 1);
  const x = (at: number) => (count === 1 ? width / 2 : 4 + ((width - 8) * at) / (count - 1));
  const top = before.high === null ? 0 : y(before.high);
  const bottom = before.low === null ? height : y(before.low);
  const at = (i: number) => `${x(twins.length + i).toFixed(1)},${y(own[i] ?? 0).toFixed(1)}`;
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width, height }}
      className="shrink-0"
      role="img"
      aria-label={wordsOf(before)}
    >
      {edges.length > 0 && (
        <rect x={0} width={width} y={top} height={Math.max(1, bottom - top)} className="fill-rule" />
      )}
      {own.length > 1 && (
        <polyline points={own.map((_, i) => at(i)).join(' ')} className="fill-none stroke-ink-2" strokeWidth={1} />
      )}
      {twins.map((value, i) => (
        <circle key={i} cx={x(i)} cy={y(value)} r={2} className="fill-sheet stroke-ink-2" strokeWidth={1} />
      ))}
      {own.map((value, i) => (
        <circle key={i} cx={x(twins.length + i)} cy={y(value)} r={2} className="fill-ink-2" />
      ))}
      {now !== undefined && <rect x={x(count - 1) - 3} y={y(now) - 3} width={6} height={6} className="fill-rust" />}
    </svg>
  );
}

const wordsOf = (before: BeforeView): string =>
  [
    ...before.twins.map((p) => `${p.tag}: ${p.written}`),
    ...before.own.map((p) => `${dayOf(p.at)}: ${p.written}`),
    ...(before.total > before.own.length ? [`${before.total - before.own.length} older ones left out`] : []),
  ].join('; ');

/** What the check read before, beside what it should read: a plot, and the plain change. */
export function BeforeLine({ before, row }: { before: BeforeView | undefined; row: RowView }) {
  return before ? (
    <span
      className="inline-flex min-w-0 items-center gap-x-1.5 text-[14px] text-ink-2 min-[900px]:ml-auto"
      data-testid="before"
      title={wordsOf(before)}
    >
      <Plot before={before} now={numberIn(row.reading?.value)} width={44} height={20} />
      <span className="leading-tight">
        <span className="sr-only">Before: </span>
        {before.words}
      </span>
    </span>
  ) : null;
}

/** The same in a row of the sheet. */
export function BeforePlot({ before, row }: { before: BeforeView | undefined; row: RowView }) {
  return before ? (
    <span className="mr-2 inline-block align-middle max-[899px]:hidden" title={`${before.words}. ${wordsOf(before)}`}>
      <Plot before={before} now={numberIn(row.reading?.value)} width={34} height={14} />
    </span>
  ) : null;
}
