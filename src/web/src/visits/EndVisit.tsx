import { Dialog, DialogPanel, DialogTitle, Radio, RadioGroup } from '@headlessui/react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { endVisit, type Ending, type VisitView } from '../api/generated';
import { ask } from '../api/ledger';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { endingWords } from './ending';

const endings = Object.keys(endingWords) as Ending[];

/** How the visit ended; every ending is an honest one. */
export function EndVisit({ visit, tag }: { visit: VisitView; tag: string }) {
  const [shown, setShown] = useState(false);
  const [ending, setEnding] = useState<Ending>('signed');
  const [note, setNote] = useState('');
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: () => ask(endVisit({ path: { id: visit.id }, body: { version: visit.version, ending, note } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['machine', tag] });
      setShown(false);
    },
  });
  return (
    <>
      <button type="button" className="quiet" onClick={() => setShown(true)}>
        End the visit
      </button>
      <Dialog open={shown} onClose={() => setShown(false)} className="relative z-10">
        <div className="fixed inset-0 flex items-center justify-center bg-iron/70 p-4">
          <DialogPanel className="w-full max-w-[460px] border border-rule-2 bg-sheet p-5">
            <DialogTitle className="text-[18px] font-bold">How does it end?</DialogTitle>
            <RadioGroup value={ending} onChange={setEnding} aria-label="Ending" className="mt-3 border-t border-rule-2">
              {endings.map((e) => (
                <Radio
                  key={e}
                  value={e}
                  className="flex min-h-[44px] cursor-pointer items-center gap-3 border-b border-rule px-1 data-checked:bg-rust-wash data-checked:font-bold"
                >
                  <Mark kind={e === ending ? 'here' : 'untouched'} />
                  {endingWords[e]}
                </Radio>
              ))}
            </RadioGroup>
            <label className="mt-4 block">
              What was left, what to bring
              <textarea
                className="field mt-1"
                rows={3}
                value={note}
                onChange={(event) => setNote(event.target.value)}
              />
            </label>
            <Problem error={end.error} />
            <div className="mt-4 flex gap-3">
              <button type="button" className="action" onClick={() => end.mutate()}>
                End the visit
              </button>
              <button type="button" className="quiet" onClick={() => setShown(false)}>
                Not yet
              </button>
            </div>
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}
