import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { type BackupsKept, getBackups, makeBackup } from '../api/generated';
import { ask } from '../api/ledger';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';

export const useBackups = () =>
  useQuery({ queryKey: ['backups'], queryFn: () => ask(getBackups()), refetchInterval: 3_600_000 });

const megabytes = (bytes: number) =>
  bytes >= 1_048_576 ? `${(bytes / 1_048_576).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1024))} kB`;

/** When the newest was made, in words. */
export const newestWords = ({ newest, bytes }: BackupsKept) =>
  newest ? `The newest is of ${dayOf(newest)}, ${clockOf(newest)}, ${megabytes(bytes)}.` : 'None was made yet.';

/** The backups of the ledger: one is made a day while it runs, and one now where somebody wants it. */
export function Backups() {
  const queries = useQueryClient();
  const backups = useBackups();
  const make = useMutation({
    mutationFn: () => ask(makeBackup()),
    onSuccess: (now) => void queries.setQueryData(['backups'], now),
  });
  const { data } = backups;
  return (
    <section aria-label="Backups" className="mt-6">
      <h2 className="title">Backups</h2>
      <Problem error={backups.error} retry={() => void backups.refetch()} />
      {data && (
        <>
          <p className={`flex items-center gap-2 ${data.isOld ? 'text-marginal' : ''}`}>
            <Mark kind={data.isOld ? 'marginal' : data.newest ? 'within' : 'untouched'} />
            <span>
              {newestWords(data)} {data.isOld && 'What was written since is nowhere else.'}
            </span>
          </p>
          {data.failed && <p className="text-out">The last one was not made: {data.failed}</p>}
          <p className="text-[14px] break-words text-ink-2">
            {data.count} kept in <span className="font-mono">{data.folder}</span>. One is made each day while the ledger
            runs. Copy the newest to another machine: a backup beside the book burns with it. To put one back:{' '}
            <span className="font-mono">./ledger restore FILE</span>, never a copy by hand.
          </p>
        </>
      )}
      <Problem error={make.error} />
      <button type="button" className="quiet mt-2 min-h-[44px]" disabled={make.isPending} onClick={() => make.mutate()}>
        {make.isPending ? 'Making one…' : 'Make one now'}
      </button>
    </section>
  );
}

/** On the day page, only where something has to be done about it. */
export function BackupIsOld() {
  const { data } = useBackups();
  return data?.isOld || data?.failed ? (
    <p role="status" className="my-2 flex items-center gap-2 border-l-4 border-marginal pl-3">
      <Mark kind="marginal" />
      <span>
        <b>No backup for days.</b> {data.failed ? `The last one was not made: ${data.failed}` : newestWords(data)}{' '}
        <Link className="link" to="/shop">
          See the shop’s page
        </Link>
      </span>
    </p>
  ) : null;
}
