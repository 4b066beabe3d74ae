import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { importMachine, listMachines, type MachineRow } from '../api/generated';
import { ask } from '../api/ledger';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';

/** The register: every machine, found as one types. */
export function MachinesPage() {
  const [params, setParams] = useSearchParams();
  const find = params.get('find') ?? '';
  const go = useNavigate();
  const machines = useQuery({
    queryKey: ['machines', find],
    queryFn: () => ask(listMachines({ query: { find } })),
    placeholderData: keepPreviousData,
  });
  const rows = machines.data?.machines ?? [];
  const openFirst = () => {
    if (rows[0]) {
      void go(`/machines/${encodeURIComponent(rows[0].tag)}`);
    }
  };
  return (
    <Frame title="Machines">
      <div className="mx-auto max-w-[1080px] py-4">
        <div className="flex flex-wrap items-end gap-4">
          <form
            className="min-w-[260px] grow"
            onSubmit={(event) => {
              event.preventDefault();
              openFirst();
            }}
          >
            <label>
              <span className="text-ink-2">Tag, name, model, serial or site. Enter opens the first.</span>
              <input
                autoFocus
                className="field mt-1 font-mono text-[19px]"
                value={find}
                onChange={(event) =>
                  setParams(event.target.value ? { find: event.target.value } : {}, { replace: true })
                }
              />
            </label>
          </form>
          <Link to="/machines/new" className="quiet inline-flex items-center">
            New machine
          </Link>
          <TakeIn />
        </div>
        <Problem error={machines.error} retry={() => void machines.refetch()} />
        {machines.isPending ? (
          <p className="mt-6 h-[240px] text-ink-2">Opening the register…</p>
        ) : (
          <Register rows={rows} total={machines.data?.total ?? 0} find={find} />
        )}
      </div>
    </Frame>
  );
}

function Register({ rows, total, find }: { rows: MachineRow[]; total: number; find: string }) {
  if (rows.length === 0) {
    return (
      <p className="mt-6">
        {find
          ? `No machine answers to “${find}”.`
          : 'No machine is in the ledger yet. Begin one, or take in a machine file.'}
      </p>
    );
  }
  return (
    <div className="mt-5 overflow-x-auto" role="region" aria-label="Machines" tabIndex={0}>
      <table className="w-full min-w-[640px] border-collapse">
        <caption className="sr-only">Machines</caption>
        <thead>
          <tr className="border-b border-rule-2 text-left text-ink-2 [&>th]:py-1.5 [&>th]:pr-4 [&>th]:font-medium">
            <th scope="col">Tag</th>
            <th scope="col">Machine</th>
            <th scope="col">Model</th>
            <th scope="col">Serial</th>
            <th scope="col">Site</th>
            <th scope="col">Now</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((m) => (
            <tr key={m.id} className="border-b border-rule [&>td]:pr-4">
              <td>
                <Link
                  className="link inline-flex min-h-[44px] items-center font-mono text-[17px] font-bold"
                  to={`/machines/${encodeURIComponent(m.tag)}`}
                >
                  {m.tag}
                </Link>
              </td>
              <td>{m.name}</td>
              <td className="text-ink-2">{[m.maker, m.model].filter(Boolean).join(' ')}</td>
              <td className="font-mono">{m.serial}</td>
              <td className="text-ink-2">{m.site}</td>
              <td>
                {m.openVisitId && (
                  <span className="inline-flex items-center gap-1.5">
                    <Mark kind="here" /> visit open
                  </span>
                )}
                {m.openFaults > 0 && (
                  <span className="ml-3 inline-flex items-center gap-1.5 text-out">
                    <Mark kind="low" /> {m.openFaults === 1 ? '1 fault open' : `${m.openFaults} faults open`}
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > rows.length && (
        <p className="mt-2 text-ink-2">
          {rows.length} of {total} shown. Type more to narrow it down.
        </p>
      )}
    </div>
  );
}

function TakeIn() {
  const picker = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const go = useNavigate();
  const takeIn = useMutation({
    mutationFn: async (file: File) => {
      const body: unknown = await file
        .text()
        .then((text) => JSON.parse(text) as unknown)
        .catch(() => {
          throw new Error(`${file.name} is not a machine file: it is not JSON.`);
        });
      return ask(importMachine({ body: body }));
    },
    onSuccess: (page) => {
      void queries.invalidateQueries({ queryKey: ['machines'] });
      void go(`/machines/${encodeURIComponent(page.tag)}`);
    },
  });
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept="application/json,.json"
        className="hidden"
        aria-label="Machine file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) {
            takeIn.mutate(file);
          }
        }}
      />
      <button type="button" className="quiet" disabled={takeIn.isPending} onClick={() => picker.current?.click()}>
        {takeIn.isPending ? 'Taking in…' : 'Take in a machine file'}
      </button>
      {takeIn.error && (
        <div className="w-full">
          <Problem error={takeIn.error} />
        </div>
      )}
    </>
  );
}
