import { useQuery } from '@tanstack/react-query';
import { type FusedFeed, listFuses } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';

interface WhichFuseProps {
  machineId: string;
  value: string;
  onChange: (printed: string) => void;
}

/** Which fuse of the machine it is, and what goes dead with it. */
export function WhichFuse({ machineId, value, onChange }: WhichFuseProps) {
  const fuses = useQuery({
    queryKey: ['machine', machineId, 'fuses'],
    queryFn: () => ask(listFuses({ path: { machineId } })),
  });
  const fuse = fuses.data?.find((f) => f.printed === value);
  if (fuses.data?.length === 0) {
    return <p className="mt-1 text-[14px] text-ink-2">No fuse of this machine is written yet.</p>;
  }
  return (
    <div className="mt-2">
      <span className="text-[14px]">Which fuse</span>
      <Choose
        name="Which fuse"
        value={fuse ? value : ''}
        options={[
          { value: '', words: 'not said' },
          ...(fuses.data ?? []).map((f) => ({
            value: f.printed,
            words: [f.printed, f.rating].filter(Boolean).join(', '),
          })),
        ]}
        onChange={onChange}
      />
      <Problem error={fuses.error} retry={() => void fuses.refetch()} />
      {fuse && <p className="mt-1 text-[14px]">{feedWords(fuse)}</p>}
    </div>
  );
}

function feedWords(fuse: FusedFeed): string {
  if (fuse.near == null) {
    return `What ${fuse.printed} feeds is not written yet: its path has no direction.`;
  }
  const feeds = fuse.feeds.length > 0 ? `feeds ${fuse.feeds.join('; ')}` : 'what it feeds is not written yet';
  const through = fuse.through.length > 0 ? `, through ${fuse.through.join(', ')}` : '';
  return `Fed at ${fuse.near}, far end ${fuse.far ?? ''}; ${feeds}${through}.`;
}
