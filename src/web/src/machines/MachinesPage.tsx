import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { listMachines, listRegisterChoices, type MachineRow } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose, type Option, optionsOf } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Tick } from '../ui/Tick';
import { TakeIn } from './TakeIn';

const pageSize = 100;
const rowHeight = 45;

const orders: [string, string][] = [
  ['best', 'best answer, then tag'],
  ['tag', 'tag'],
  ['name', 'machine'],
  ['site', 'site'],
  ['model', 'model'],
  ['touched', 'touched last'],
];

interface Wanted {
  find: string;
  site: string;
  model: string;
  openFault: boolean;
  waitsForPart: boolean;
  order: string;
}

/** The register: every machine, found as one types. */
export function MachinesPage() {
  const [params, setParams] = useSearchParams();
  const go = useNavigate();
  const wanted: Wanted = {
    find: params.get('find') ?? '',
    site: params.get('site') ?? '',
    model: params.get('model') ?? '',
    openFault: params.has('openFault'),
    waitsForPart: params.has('waitsForPart'),
    order: params.get('order') ?? 'best',
  };
  const choices = useQuery({ queryKey: ['registerChoices'], queryFn: () => ask(listRegisterChoices()) });
  const first = useQuery({ ...pageOf(wanted, 0), placeholderData: keepPreviousData });
  const set = (name: keyof Wanted, value: string) => {
    setParams(
      (was) => {
        if (value) {
          was.set(name, value);
        } else {
          was.delete(name);
        }
        return was;
      },
      { replace: true },
    );
  };
  const top = first.data?.machines[0];
  const open = top ? () => void go(`/machines/${encodeURIComponent(top.tag)}`) : undefined;
  return (
    <Frame title="Machines">
      <div className="mx-auto max-w-[1180px] py-2">
        <div className="flex flex-wrap items-end gap-3">
          <form
            className="min-w-[260px] grow basis-[520px]"
            onSubmit={(event) => {
              event.preventDefault();
              open?.();
            }}
          >
            <label>
              <span className="text-ink-2">
                Anything on it or said of it: tag, serial, site, part number, complaint. Enter opens the first.
              </span>
              <input
                autoFocus
                className="field mt-1 font-mono text-[19px]"
                value={wanted.find}
                onChange={(event) => set('find', event.target.value)}
              />
            </label>
          </form>
          <Link to="/machines/new" className="action inline-flex items-center">
            New machine
          </Link>
          <TakeIn />
        </div>
        <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2 border-b border-rule-2 pb-3 text-[14px]">
          <Chooser
            label="Site"
            value={wanted.site}
            onChange={(v) => set('site', v)}
            options={[
              { value: '', words: 'all sites' },
              ...(choices.data?.sites ?? []).map((site) => ({ value: site, words: site })),
            ]}
          />
          <Chooser
            label="Model"
            value={wanted.model}
            onChange={(v) => set('model', v)}
            options={[
              { value: '', words: 'all models' },
              ...(choices.data?.models ?? []).map((m) => ({ value: m.id, words: m.words })),
            ]}
          />
          <Chooser
            label="Sorted by"
            value={wanted.order}
            onChange={(v) => set('order', v === 'best' ? '' : v)}
            options={optionsOf(orders)}
          />
          <Tick on={wanted.openFault} set={(on) => set('openFault', on ? 'yes' : '')}>
            a fault open
          </Tick>
          <Tick on={wanted.waitsForPart} set={(on) => set('waitsForPart', on ? 'yes' : '')}>
            waiting for a part
          </Tick>
          <span className="ml-auto font-mono" role="status">
            {first.data ? `${first.data.total} ${first.data.total === 1 ? 'machine' : 'machines'}` : ''}
          </span>
        </div>
        <Problem error={first.error} retry={() => void first.refetch()} />
        {first.isPending && <p className="mt-4 h-[240px] text-ink-2">Opening the register…</p>}
        {first.data?.total === 0 && <Nothing wanted={wanted} clear={() => setParams({}, { replace: true })} />}
        {first.data && first.data.total > 0 && (
          <Register key={JSON.stringify(wanted)} wanted={wanted} total={first.data.total} />
        )}
      </div>
    </Frame>
  );
}

const pageOf = (wanted: Wanted, page: number) => ({
  queryKey: ['machines', wanted, page],
  queryFn: () => ask(listMachines({ query: { ...wanted, from: page * pageSize, take: pageSize } })),
});

function Nothing({ wanted, clear }: { wanted: Wanted; clear: () => void }) {
  const isNarrowed = wanted.find || wanted.site || wanted.model || wanted.openFault || wanted.waitsForPart;
  return isNarrowed ? (
    <p className="mt-4">
      {wanted.find ? `No machine answers to “${wanted.find}” here.` : 'No machine is left with these.'}{' '}
      <button type="button" className="link min-h-[44px]" onClick={clear}>
        Show all
      </button>
    </p>
  ) : (
    <p className="mt-4">No machine is in the ledger yet. Begin one, or take in a machine file.</p>
  );
}

/** As long as the register is, only what is in sight is fetched and drawn; the bar beside it never jumps. */
function Register({ wanted, total }: { wanted: Wanted; total: number }) {
  const box = useRef<HTMLDivElement>(null);
  // oxlint-disable-next-line react-hooks/incompatible-library -- the list is not memoised, so nothing goes stale
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const pages = [...new Set(items.map((i) => Math.floor(i.index / pageSize)))];
  const answers = useQueries({ queries: pages.map((page) => pageOf(wanted, page)) });
  const rowAt = (index: number): MachineRow | undefined =>
    answers[pages.indexOf(Math.floor(index / pageSize))]?.data?.machines[index % pageSize];
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <div
      ref={box}
      className="h-[calc(100dvh-236px)] min-h-[320px] overflow-auto"
      role="region"
      aria-label="Machines"
      tabIndex={0}
    >
      <table className="w-full min-w-[760px] table-fixed border-collapse" aria-rowcount={total + 1}>
        <caption className="sr-only">Machines</caption>
        <thead className="sticky top-0 bg-sheet">
          <tr className="border-b border-rule-2 text-left text-ink-2 [&>th]:py-1.5 [&>th]:pr-4 [&>th]:font-medium">
            <th scope="col" className="w-[96px]">
              Tag
            </th>
            <th scope="col">Machine</th>
            <th scope="col">Model</th>
            <th scope="col" className="w-[132px]">
              Serial
            </th>
            <th scope="col">Site</th>
            <th scope="col" className="w-[300px]">
              Now
            </th>
          </tr>
        </thead>
        <tbody>
          {above > 0 && <Gap height={above} />}
          {items.map((item) => (
            <Row key={item.key} row={rowAt(item.index)} index={item.index} />
          ))}
          {below > 0 && <Gap height={below} />}
        </tbody>
      </table>
    </div>
  );
}

function Gap({ height }: { height: number }) {
  return (
    <tr aria-hidden="true">
      <td colSpan={6} style={{ height }} />
    </tr>
  );
}

function Row({ row, index }: { row: MachineRow | undefined; index: number }) {
  return (
    <tr className="h-[45px] border-b border-rule [&>td]:truncate [&>td]:pr-4" aria-rowindex={index + 2}>
      {row ? (
        <>
          <td>
            <Link
              className="link inline-flex min-h-[44px] items-center font-mono text-[17px] font-bold"
              to={`/machines/${encodeURIComponent(row.tag)}`}
            >
              {row.tag}
            </Link>
          </td>
          <td>{row.name || <span className="text-ink-2">not named yet</span>}</td>
          <td className="text-ink-2">{[row.maker, row.model].filter(Boolean).join(' ')}</td>
          <td className="font-mono">{row.serial}</td>
          <td className="text-ink-2">{row.site}</td>
          <td className="text-[14px]">
            <Now row={row} />
          </td>
        </>
      ) : (
        <td colSpan={6} className="text-ink-2">
          …
        </td>
      )}
    </tr>
  );
}

function Now({ row }: { row: MachineRow }) {
  const said: [boolean, 'here' | 'low' | 'dead' | 'untouched', string, string][] = [
    [row.openVisitId !== null, 'here', 'visit open', ''],
    [row.openFaults > 0, 'low', row.openFaults === 1 ? 'fault open' : `${row.openFaults} faults open`, 'text-out'],
    [row.needsCare, 'dead', 'needs care', 'text-out'],
    [row.waitsForPart, 'untouched', 'waits for part', ''],
  ];
  return (
    <>
      {said
        .filter(([is]) => is)
        .map(([, mark, words, colour]) => (
          <span key={words} className={`mr-3 inline-flex items-center gap-1.5 ${colour}`}>
            <Mark kind={mark} /> {words}
          </span>
        ))}
    </>
  );
}

function Chooser<T extends string>({
  label,
  ...choice
}: {
  label: string;
  value: T;
  options: Option<T>[];
  onChange: (value: T) => void;
}) {
  return (
    <label>
      <span className="block text-ink-2">{label}</span>
      <Choose className="mt-0.5 w-auto max-w-[210px] min-w-[120px]" {...choice} />
    </label>
  );
}
