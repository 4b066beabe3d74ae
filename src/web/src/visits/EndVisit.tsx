import { Dialog, DialogPanel, DialogTitle, Radio, RadioGroup } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  addSafetyEvent,
  editVisit,
  endVisit,
  getBeforeEnding,
  type BeforeEndingView,
  type Ending,
  type VisitView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { nextAct } from './start';
import { usePerson } from '../people/person';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { editOf, minutesOf } from './edit';
import { endingMarks, endingWords } from './ending';
import { useDraft, useWritten } from '../ui/useDraft';

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
  const before = useQuery({
    queryKey: ['before-ending', visit.id],
    queryFn: () => ask(getBeforeEnding({ path: { id: visit.id } })),
  });
  // What the visit did, until something of one's own is written.
  const [written, setOwnNote] = useDraft(`ending/${visit.id}`);
  const ownNote = written || visit.endingNote || null;
  const note = ownNote ?? before.data?.done ?? '';
  const [text, setText] = useWritten(`ending-lists/${visit.id}`, {
    left: visit.left.join('\n'),
    bring: visit.bring.join('\n'),
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
            endingNote: note,
            travelMinutes: minutesOf(text.travel),
            labourMinutes: minutesOf(text.labour),
          },
        }),
      );
      await ask(endVisit({ path: { id: visit.id }, body: { version: kept.version, ending } }));
      setOwnNote('');
      close();
      await queries.invalidateQueries({ queryKey: ['machine', tag] });
      await queries.invalidateQueries();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  const area = (name: 'left' | 'bring', label: string, rows: number) => (
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
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void end();
      }}
    >
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
      {ending === 'signed' && before.data && <Unfinished visit={visit} before={before.data} />}
      <label className="mt-3 block">
        What was done
        <textarea
          className="field mt-0.5"
          rows={Math.min(5, Math.max(2, Math.ceil(note.length / 58)))}
          value={note}
          onChange={(event) => setOwnNote(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && !event.shiftKey) {
              event.preventDefault();
              event.currentTarget.form?.requestSubmit();
            }
          }}
        />
      </label>
      {area('left', 'Left unplugged or temporary, a line each', 2)}
      {area('bring', 'To bring next time, a line each', 2)}
      <div className="mt-3 grid grid-cols-2 gap-3">
        {minutes('travel', 'Travel, minutes')}
        {minutes('labour', 'Labour, minutes')}
      </div>
      <Problem error={error} />
      <div className="mt-4 flex gap-3">
        <button type="submit" className="action">
          End the visit
        </button>
        <button type="button" className="quiet" onClick={close}>
          Not yet
        </button>
      </div>
    </form>
  );
}

/** What is to be looked at before one signs; it does not forbid it. */
function Unfinished({ visit, before }: { visit: VisitView; before: BeforeEndingView }) {
  const person = usePerson();
  const queries = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const operated = async (subject: string) => {
    try {
      await ask(
        addSafetyEvent({
          path: { id: visit.id },
          body: {
            id: newId(),
            order: nextAct(),
            kind: 'deviceOperated',
            subject,
            typed: '',
            words: '',
            target: null,
            deviceTime: new Date().toISOString(),
            personId: person?.id ?? '',
          },
        }),
      );
      setError(null);
      await queries.invalidateQueries({ queryKey: ['before-ending', visit.id] });
    } catch (failure) {
      setError(failure as Error);
    }
  };
  if (before.stillBad.length + before.notOperated.length === 0) {
    return null;
  }
  return (
    <section aria-label="Before you sign" className="mt-3 border-l-4 border-marginal pl-3 text-[14px]">
      <h3>Before you sign</h3>
      <ul>
        {before.stillBad.map((line) => (
          <li key={line} className="flex items-center gap-2 border-b border-rule py-1">
            <Mark kind="low" /> <span>{line}. Not taken again.</span>
          </li>
        ))}
        {before.notOperated.map((device) => (
          <li key={device.id} className="flex min-h-[44px] items-center gap-2 border-b border-rule py-1">
            <Mark kind="untouched" />
            <span className="min-w-0 grow">
              <b>{device.name}</b> not operated since the repair
              {device.equivalentTest && <span className="block text-ink-2">{device.equivalentTest}</span>}
            </span>
            <button type="button" className="quiet shrink-0" onClick={() => void operated(device.id)}>
              Operated, it acts
            </button>
          </li>
        ))}
      </ul>
      <Problem error={error} />
    </section>
  );
}
