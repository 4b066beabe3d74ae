import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type CircuitReadingView, takeComputed } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useKeys } from '../ui/useKeys';

interface TakeComputedProps {
  tag: string;
  machineId: string;
  row: CircuitReadingView;
}

/** Where the typed limit and the circuit cannot both be right: one key lets the circuit's stand on this machine. */
export function TakeComputed({ tag, machineId, row }: TakeComputedProps) {
  const queries = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const [busy, setBusy] = useState(false);
  const isOffered = row.contradiction !== '' && row.computed !== '';
  const take = async () => {
    setBusy(true);
    try {
      await ask(takeComputed({ path: { id: machineId }, body: { id: newId(), checkKey: row.checkKey } }));
      setError(null);
      await queries.invalidateQueries({ queryKey: ['circuit', tag] });
      void queries.invalidateQueries({ queryKey: ['machineOverrides'] });
      void queries.invalidateQueries({ queryKey: ['machine', tag] });
    } catch (failure) {
      setError(failure instanceof Error ? failure : new Error(String(failure)));
    } finally {
      setBusy(false);
    }
  };
  useKeys((key) => {
    const takes = key === 'F8' && isOffered && !busy;
    if (takes) {
      void take();
    }
    return takes;
  });
  if (!isOffered) {
    return row.limit ? (
      <p className="text-[14px] text-ink-2">
        The sheet says <span className="font-mono">{row.limit}</span> ({row.limitFrom}).
      </p>
    ) : null;
  }
  return (
    <div className="mt-1 border-b border-rule pb-2">
      <p className="flex items-start gap-2">
        <Mark kind="differs" /> <span>Both cannot be right: {row.contradiction}.</span>
      </p>
      <button type="button" className="action mt-1" disabled={busy} onClick={() => void take()}>
        On {tag} it reads <span className="font-mono">{row.computed}</span> <Key>F8</Key>
      </button>
      <p className="mt-1 text-[14px] text-ink-2">
        What was typed stays with the model. Otherwise a number of the circuit is wrong: see Why?
      </p>
      <Problem error={error} />
    </div>
  );
}
