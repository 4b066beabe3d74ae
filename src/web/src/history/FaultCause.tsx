import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { addCause, listCauses } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';

interface CauseProps {
  cause: string | null;
  invalid: boolean;
  choose: (cause: string | null) => void;
}

const another = '+';

/** One of the shop's causes, or a new one for its list. */
export function Cause({ cause, invalid, choose }: CauseProps) {
  const queries = useQueryClient();
  const causes = useQuery({ queryKey: ['causes'], queryFn: () => ask(listCauses()) });
  const [words, setWords] = useState<string | null>(null);
  const add = useMutation({
    mutationFn: () => ask(addCause({ body: { id: newId(), words: words ?? '' } })),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['causes'] });
      setWords(null);
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
          value={words === null ? (cause ?? '') : another}
          options={[
            { value: '', words: 'not known yet' },
            ...(causes.data ?? []).map((c) => ({ value: c.id, words: c.words })),
            { value: another, words: 'another cause…' },
          ]}
          onChange={(chosen) => {
            if (chosen === another) {
              setWords('');
            } else {
              setWords(null);
              choose(chosen || null);
            }
          }}
        />
      </label>
      {words !== null && (
        <div className="mt-2 flex items-end gap-3">
          <label className="grow">
            The other cause, for the shop’s list
            <input
              autoFocus
              className="field mt-0.5"
              value={words}
              onChange={(event) => setWords(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') {
                  event.preventDefault();
                  add.mutate();
                }
              }}
            />
          </label>
          <button type="button" className="quiet" onClick={() => add.mutate()}>
            Add to the list
          </button>
        </div>
      )}
      <Problem error={add.error} />
    </div>
  );
}
