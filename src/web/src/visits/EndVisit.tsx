import { Dialog, DialogPanel, DialogTitle, Radio, RadioGroup } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editVisit, endVisit, type Ending, type VisitView } from '../api/generated';
import { ask } from '../api/ledger';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { editOf, minutesOf } from './edit';
import { endingMarks, endingWords } from './ending';

const endings = Object.keys(endingWords) as Ending[];

/** How the visit ended; every ending is an honest one. */
export function EndVisit({ visit, tag }: { visit: VisitView; tag: string }) {
  const [shown, setShown] = useState(false);
  return (
    <>
      <button type="button" className="quiet" onClick={() => setShown(true)}>
        End the visit
      </button>
      <Dialog open={shown} onClose={() => setShown(false)} className="relative z-10">
        <div className="fixed inset-0 flex items-center justify-center overflow-auto bg-iron/70 p-4">
          <DialogPanel className="max-h-full w-full max-w-[520px] overflow-auto border border-rule-2 bg-sheet p-5">
            <DialogTitle className="text-[18px] font-bold">How does it end?</DialogTitle>
            <Form visit={visit} tag={tag} close={() => setShown(false)} />
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}

function Form({ visit, tag, close }: { visit: VisitView; tag: string; close: () => void }) {
  const [ending, setEnding] = useState<Ending | null>(null);
  const [text, setText] = useState({
    left: visit.left.join('\n'),
    bring: visit.bring.join('\n'),
    note: visit.endingNote,
    travel: visit.travelMinutes?.toString() ?? '',
    labour: visit.labourMinutes?.toString() ?? '',
  });
  const [error, setError] = useState<Error | null>(null);
  const queries = useQueryClient();
  const end = async () => {
    if (!ending) {
      setError(new Error('Say how it ends first; nothing is chosen for you.'));
      return;
    }
    try {
      const kept = await ask(
        editVisit({
          path: { id: visit.id },
          body: {
            ...editOf(visit),
            left: text.left.split('\n'),
            bring: text.bring.split('\n'),
            endingNote: text.note,
            travelMinutes: minutesOf(text.travel),
            labourMinutes: minutesOf(text.labour),
          },
        }),
      );
      await ask(endVisit({ path: { id: visit.id }, body: { version: kept.version, ending } }));
      close();
      await queries.invalidateQueries({ queryKey: ['machine', tag] });
      await queries.invalidateQueries();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  const area = (name: 'left' | 'bring' | 'note', label: string, rows: number) => (
    <label className="mt-3 block">
      {label}
      <textarea
        className="field mt-0.5"
        rows={rows}
        value={text[name]}
        onChange={(event) => setText({ ...text, [name]: event.target.value })}
      />
    </label>
  );
  const minutes = (name: 'travel' | 'labour', label: string) => (
    <label>
      {label}
      <input
        inputMode="numeric"
        className="field mt-0.5 font-mono"
        value={text[name]}
        onChange={(event) => setText({ ...text, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <>
      <RadioGroup value={ending} onChange={setEnding} aria-label="Ending" className="mt-2 border-t border-rule-2">
        {endings.map((e) => (
          <Radio
            key={e}
            value={e}
            className="flex min-h-[44px] cursor-pointer items-center gap-3 border-b border-rule px-1 data-checked:bg-rust-wash data-checked:font-bold"
          >
            <Mark kind={endingMarks[e]} />
            {endingWords[e]}
          </Radio>
        ))}
      </RadioGroup>
      {area('left', 'Left unplugged or temporary, a line each', 2)}
      {area('bring', 'To bring next time, a line each', 2)}
      {area('note', 'In a word', 1)}
      <div className="mt-3 grid grid-cols-2 gap-3">
        {minutes('travel', 'Travel, minutes')}
        {minutes('labour', 'Labour, minutes')}
      </div>
      <Problem error={error} />
      <div className="mt-4 flex gap-3">
        <button type="button" className="action" onClick={() => void end()}>
          End the visit
        </button>
        <button type="button" className="quiet" onClick={close}>
          Not yet
        </button>
      </div>
    </>
  );
}
