import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { addCause, listCauses } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useAct } from '../outbox/useAct';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';

interface CauseProps {
  cause: string | null;
  invalid: boolean;
  choose: (cause: string | null) => void;
}

const another = '+';

/** The shop's causes of faults. */
export const useCauses = () => useQuery({ queryKey: ['causes'], queryFn: () => ask(listCauses()) });

/** One of the shop's causes, or a new one for its list. */
export function Cause({ cause, invalid, choose }: CauseProps) {
  const queries = useQueryClient();
  const causes = useCauses();
  const [words, setWords] = useDraft('cause');
  const [writes, setWrites] = useState(words !== '');
  const write = (text: string | null) => {
    setWrites(text !== null);
    setWords(text ?? '');
  };
  const add = useAct({
    words: `a cause for the shop’s list: ${words}`,
    send: (client) => ask(addCause({ client, body: { id: newId(), words } })),
    away: () => write(null),
    taken: async (made) => {
      await queries.invalidateQueries({ queryKey: ['causes'] });
      choose(made.id);
    },
  });
  return (
    <div className="mt-3">
      <label className="block">
        Cause
        <Choose
          className="mt-1"
          invalid={invalid}
          value={writes ? another : (cause ?? '')}
          options={[
            { value: '', words: 'not known yet' },
            ...(causes.data ?? []).map((c) => ({ value: c.id, words: c.words })),
            { value: another, words: 'another cause…' },
          ]}
          onChange={(chosen) => {
            if (chosen === another) {
              write('');
            } else {
              write(null);
              choose(chosen || null);
            }
          }}
        />
      </label>
      {writes && (
        <div className="mt-2 flex items-end gap-3">
          <label className="grow">
            The other cause, for the shop’s list
            <input
              autoFocus
              className="field mt-0.5"
              value={words}
              onChange={(event) => write(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') {
                  event.preventDefault();
                  add.act();
                }
              }}
            />
          </label>
          <button type="button" className="quiet" onClick={add.act}>
            Add to the list
          </button>
        </div>
      )}
      {add.waits && <p className="mt-1">It waits on this device; choose it when the ledger has it.</p>}
      <Problem error={add.error} />
    </div>
  );
}
