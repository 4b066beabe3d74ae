import { useQuery } from '@tanstack/react-query';
import { getTwin, listTwins, type TwinReading } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { useDraft } from '../ui/useDraft';

/** The same machine next to it, as a second column: which one, and what it read last at each check. */
export function useTwin(roundId: string, taken: number) {
  const [tag, setTag] = useDraft(`twin/${roundId}`);
  const twins = useQuery({
    queryKey: ['twins', roundId],
    queryFn: () => ask(listTwins({ path: { id: roundId } })),
    staleTime: 60_000,
  });
  const beside = useQuery({
    queryKey: ['twin', roundId, tag, taken],
    queryFn: () => ask(getTwin({ path: { id: roundId, tag } })),
    enabled: tag !== '',
    placeholderData: (before) => before,
  });
  return {
    tag,
    setTag,
    twins: twins.data ?? [],
    readings: tag === '' ? undefined : new Map((beside.data ?? []).map((r): [string, TwinReading] => [r.checkKey, r])),
  };
}

/** Which like machine stands beside; nothing where there is none that was ever measured. */
export function TwinChoice({ tag, setTag, twins }: Pick<ReturnType<typeof useTwin>, 'tag' | 'setTag' | 'twins'>) {
  if (twins.length === 0) {
    return null;
  }
  return (
    <label className="block">
      Twin beside it
      <Choose
        className="mt-0.5"
        value={tag}
        options={[
          { value: '', words: 'none' },
          ...twins.map((t) => ({
            value: t.tag,
            words: [t.tag, t.name, t.site, `${t.readings} read`].filter(Boolean).join(', '),
          })),
        ]}
        onChange={setTag}
      />
    </label>
  );
}
