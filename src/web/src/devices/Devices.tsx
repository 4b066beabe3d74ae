import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { listDevices, lockOutDevice, makeLetInCode } from '../api/generated';
import { ask } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';

/** Who may come in from elsewhere than the machine that runs the ledger: each let in once, and locked out in one key. */
export function Devices() {
  const queries = useQueryClient();
  const devices = useQuery({
    queryKey: ['devices'],
    queryFn: () => ask(listDevices()),
    refetchInterval: 15_000,
  });
  const code = useMutation({ mutationFn: () => ask(makeLetInCode()) });
  const lockOut = useMutation({
    mutationFn: (id: string) => ask(lockOutDevice({ path: { id } })),
    onSuccess: (now) => void queries.setQueryData(['devices'], now),
  });
  return (
    <section aria-label="Devices" className="mt-6">
      <h2 className="title">Devices that may come in</h2>
      <p className="text-[14px] text-ink-2">
        The machine that runs the ledger needs none of this. Any other device is let in once, by a code that is good
        once.
      </p>
      <Problem error={devices.error ?? lockOut.error ?? code.error} />
      <ul className="text-[14px]">
        {devices.data?.length === 0 && <li className="py-1 text-ink-2">None was let in yet.</li>}
        {devices.data?.map((d) => (
          <li key={d.id} className="flex flex-wrap items-center gap-x-3 border-b border-rule">
            <b className="grow">
              {d.name}
              {d.isThis && <span className="font-normal text-ink-2">, this one</span>}
            </b>
            <span className="text-ink-2">
              in since {dayOf(d.letInAt)}, seen {dayOf(d.lastSeen)} {clockOf(d.lastSeen)}
            </span>
            <button
              type="button"
              className="link min-h-[38px] max-[899px]:min-h-[44px]"
              aria-label={`Lock out ${d.name}`}
              onClick={() => lockOut.mutate(d.id)}
            >
              Lock out
            </button>
          </li>
        ))}
      </ul>
      {code.data && (
        <div role="status" className="mt-2 flex flex-wrap items-center gap-5 border-l-4 border-rust pl-3">
          <img
            className="size-[148px] bg-white"
            src={`data:image/svg+xml;utf8,${encodeURIComponent(code.data.picture)}`}
            alt={`A code to scan: ${code.data.address}`}
          />
          <div>
            <p className="font-mono text-[34px] font-bold">{code.data.code}</p>
            <p className="text-[14px] text-ink-2">
              Scan it, or open <span className="font-mono break-all">{code.data.address}</span> and type it. Good for
              one device, until {clockOf(code.data.until)}.
            </p>
          </div>
        </div>
      )}
      <button type="button" className="quiet mt-2 min-h-[44px]" disabled={code.isPending} onClick={() => code.mutate()}>
        Let a device in
      </button>
    </section>
  );
}
