import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { planLabels } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose, optionsOf } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';

const kinds = [
  ['machine', 'Machines'],
  ['board', 'Boards'],
  ['plug', 'Both halves of plugs'],
] as const;

const grids = [
  ['3', '8', '3 × 8'],
  ['5', '13', '5 × 13'],
] as const;

const papers = { a4: 'A4', letter: 'Letter' };

/** Labels on sheets of paper: machines with their code, boards, and both halves of every plug. */
export function LabelsPage() {
  const [params, setParams] = useSearchParams();
  const [machines, setMachines] = useState(params.get('machines') ?? '');
  const asked = {
    machines: params.get('machines') ?? '',
    kind: params.get('kind') ?? 'machine',
    paper: params.get('paper') ?? 'a4',
    columns: Number(params.get('columns') ?? 3),
    rows: Number(params.get('rows') ?? 8),
    margin: Number(params.get('margin') ?? 7),
    gap: Number(params.get('gap') ?? 2),
  };
  const start = Number(params.get('start') ?? 1);
  const plan = useQuery({
    queryKey: ['labels', asked],
    queryFn: () => ask(planLabels({ query: asked })),
    enabled: asked.machines !== '',
    retry: false,
  });
  const put = (what: Record<string, string>) => {
    const next = new URLSearchParams(params);
    for (const [name, value] of Object.entries(what)) {
      next.set(name, value);
    }
    setParams(next, { replace: true });
  };
  const query = new URLSearchParams({
    ...Object.fromEntries(Object.entries(asked).map(([name, value]) => [name, `${value}`])),
    start: `${start}`,
  }).toString();
  const count = plan.data?.titles.length ?? 0;
  const sheets = plan.data?.perSheet ? Math.ceil((count + start - 1) / plan.data.perSheet) : 0;
  const isReady = plan.data !== undefined && plan.data.problem === '' && count > 0;
  const number = (name: 'columns' | 'rows' | 'margin' | 'gap', label: string) => (
    <label key={name}>
      {label}
      <input
        key={asked[name]}
        className="field mt-0.5 font-mono"
        inputMode="decimal"
        defaultValue={asked[name]}
        onBlur={(event) => put({ [name]: event.target.value.replace(',', '.') || '0', start: '1' })}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.currentTarget.blur();
          }
        }}
      />
    </label>
  );
  return (
    <Frame title="Labels" place={asked.machines === 'all' ? 'for all machines' : asked.machines}>
      <div className="flex flex-col gap-7 min-[900px]:flex-row">
        <form
          className="min-w-0 text-[14px] min-[900px]:w-[360px]"
          aria-label="What is printed"
          onSubmit={(event) => {
            event.preventDefault();
            put({ machines: machines.trim(), start: '1' });
          }}
        >
          <h2 className="title">Labels</h2>
          <label className="mt-2 block">
            Machines, by tag, or all
            <input
              className="field mt-0.5 font-mono"
              placeholder="LY-03, LY-08"
              value={machines}
              onChange={(event) => setMachines(event.target.value)}
              onBlur={() => put({ machines: machines.trim(), start: '1' })}
            />
          </label>
          <div role="group" aria-label="Labels for" className="mt-3 flex flex-wrap gap-2">
            {kinds.map(([kind, words]) => (
              <button
                key={kind}
                type="button"
                aria-pressed={kind === asked.kind}
                className={`quiet ${kind === asked.kind ? 'border-ink font-bold' : ''}`}
                onClick={() => put({ kind, start: '1', ...(kind === 'machine' ? {} : { columns: '5', rows: '13' }) })}
              >
                {words}
              </button>
            ))}
          </div>
          <div className="mt-3 flex flex-wrap items-end gap-2">
            <label>
              <span className="block">Paper</span>
              <Choose
                className="mt-0.5 w-auto"
                value={asked.paper}
                options={optionsOf(papers)}
                onChange={(paper) => put({ paper })}
              />
            </label>
            {grids.map(([columns, rows, words]) => (
              <button
                key={words}
                type="button"
                aria-pressed={columns === `${asked.columns}` && rows === `${asked.rows}`}
                className={`quiet ${columns === `${asked.columns}` && rows === `${asked.rows}` ? 'border-ink font-bold' : ''}`}
                onClick={() => put({ columns, rows, start: '1' })}
              >
                {words}
              </button>
            ))}
          </div>
          <div className="mt-2 grid grid-cols-4 gap-2">
            {number('columns', 'Columns')}
            {number('rows', 'Rows')}
            {number('margin', 'Margin, mm')}
            {number('gap', 'Gap, mm')}
          </div>
          <Problem error={plan.error} />
          {plan.data?.problem && (
            <p role="alert" className="mt-2 border-l-4 border-out bg-out-wash px-3 py-1">
              {plan.data.problem}
            </p>
          )}
          {isReady && (
            <>
              <p className="mt-3" role="status">
                <b>{count === 1 ? '1 label' : `${count} labels`}</b>,{' '}
                <span className="font-mono">
                  {plan.data.labelWidth.toFixed(1)} × {plan.data.labelHeight.toFixed(1)} mm
                </span>
                , {sheets === 1 ? 'one sheet' : `${sheets} sheets`}
                {start > 1 && `, from place ${start}`}
              </p>
              <p className="text-ink-2">
                {asked.kind === 'plug'
                  ? 'A goes on the half that stays, B on the half that is pulled.'
                  : plan.data.leads
                    ? `The code opens ${plan.data.leads}`
                    : 'No code yet: nobody said under which address a phone finds this ledger. The label says how to find the machine by its tag.'}
              </p>
              <a
                className="action mt-3 inline-flex items-center"
                href={`/api/labels.pdf?${query}`}
                download="labels.pdf"
              >
                Labels as PDF
              </a>
            </>
          )}
          {asked.machines === '' && <p className="mt-3 text-ink-2">Write the tags of the machines above.</p>}
          <p className="mt-3">
            <Link className="link inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]" to="/scan">
              Scan a label
            </Link>
          </p>
        </form>
        {isReady && (
          <Sheet
            source={`/api/labels.svg?${query}`}
            columns={asked.columns}
            rows={asked.rows}
            start={start}
            margin={asked.margin}
            gap={asked.gap}
            paper={asked.paper}
            choose={(place) => put({ start: `${place}` })}
          />
        )}
      </div>
    </Frame>
  );
}

interface SheetProps {
  source: string;
  columns: number;
  rows: number;
  start: number;
  margin: number;
  gap: number;
  paper: string;
  choose: (place: number) => void;
}

/** The first sheet as it will be printed; a place that is still there is chosen to begin with. */
function Sheet({ source, columns, rows, start, margin, gap, paper, choose }: SheetProps) {
  const [width, height] = paper === 'a4' ? [210, 297] : [215.9, 279.4];
  return (
    <figure className="min-w-0 grow">
      <div
        className="relative max-w-[560px] border border-rule-2"
        // Paper is white, whatever the page around it is.
        style={{ aspectRatio: `${width} / ${height}`, background: '#fff' }}
      >
        <img src={source} alt="The first sheet of labels" className="block size-full" data-testid="sheet" />
        <div
          role="group"
          aria-label="First place to print on"
          className="absolute grid"
          style={{
            gridTemplateColumns: `repeat(${columns}, 1fr)`,
            gridTemplateRows: `repeat(${rows}, 1fr)`,
            inset: `${(margin / height) * 100}% ${(margin / width) * 100}%`,
            columnGap: `${(gap / (width - 2 * margin)) * 100}%`,
            rowGap: `${(gap / (height - 2 * margin)) * 100}%`,
          }}
        >
          {Array.from({ length: columns * rows }, (_, i) => (
            <button
              key={i}
              type="button"
              aria-label={`Place ${i + 1}`}
              aria-pressed={i + 1 === start}
              className={`cursor-pointer ${i + 1 < start ? 'bg-[#00000022]' : ''} hover:bg-rust-wash/40`}
              onClick={() => choose(i + 1)}
            />
          ))}
        </div>
      </div>
      <figcaption className="mt-1 text-[14px] text-ink-2">Tap the first place that is still on your sheet.</figcaption>
    </figure>
  );
}
