import { useQueryClient } from '@tanstack/react-query';
import { addSupportCall, editSupportCall, type SupportCallView, type VisitView } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { History } from '../history/History';
import { useAct } from '../outbox/useAct';
import { usePerson } from '../people/person';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useWritten } from '../ui/useDraft';
import { useKeeping } from '../ui/useKeeping';

const nothing = { caseNumber: '', said: '' };

export function Calls({ visit }: { visit: VisitView }) {
  const person = usePerson();
  const queries = useQueryClient();
  const [call, setCall] = useWritten(`new-call/${visit.id}`, nothing);
  const add = useAct({
    words: `a support call, ${call.caseNumber || 'no case number'}`,
    machineId: visit.machineId,
    send: (client) =>
      ask(
        addSupportCall({
          client,
          path: { id: visit.id },
          body: { ...call, id: newId(), personId: person?.id ?? '' },
        }),
      ),
    sent: () => setCall(nothing),
    back: () => {
      setCall(call);
      return true;
    },
    taken: async () => {
      await queries.invalidateQueries({ queryKey: ['visit', visit.id] });
      await queries.invalidateQueries({ queryKey: ['callCard', visit.id] });
    },
  });
  return (
    <section aria-label="Support calls">
      <h2 className="border-b border-rule-2 pb-1">Support calls</h2>
      {visit.calls.length === 0 && <p className="py-2 text-ink-2">None yet.</p>}
      <ul className="text-[14px]">
        {visit.calls.map((c) => (
          <Call key={`${c.id} ${c.version}`} call={c} />
        ))}
      </ul>
      <form
        className="mt-2 text-[14px]"
        onSubmit={(event) => {
          event.preventDefault();
          add.act();
        }}
      >
        <label className="block">
          Case number
          <input
            className="field mt-0.5 font-mono"
            value={call.caseNumber}
            onChange={(event) => setCall({ ...call, caseNumber: event.target.value })}
          />
        </label>
        <label className="mt-2 block">
          What support said
          <textarea
            className="field mt-0.5"
            rows={2}
            value={call.said}
            onChange={(event) => setCall({ ...call, said: event.target.value })}
          />
        </label>
        <Problem error={add.error} />
        <button type="submit" className="quiet mt-2" disabled={add.isPending}>
          Note the call
        </button>
      </form>
    </section>
  );
}

/** A call as it was noted; its texts can be mended, and its log stands below. */
export function Call({ call }: { call: SupportCallView }) {
  const queries = useQueryClient();
  const { edit, write, keep, keepOver, settle, kept, isChanged, isKeeping, error } = useKeeping(
    `call/${call.id}`,
    { version: call.version, caseNumber: call.caseNumber, said: call.said },
    async (next, client) => {
      await ask(editSupportCall({ client, path: { id: call.id }, body: next }));
      await queries.invalidateQueries({ queryKey: ['edits'] });
      return { version: next.version + 1 };
    },
  );
  return (
    <li className="border-b border-rule py-1">
      <span className="flex justify-between">
        <b className="font-mono">{kept.caseNumber || 'no case number'}</b>
        <span className="text-ink-2">
          {dayOf(call.at)} {clockOf(call.at)}, {call.person}
        </span>
      </span>
      {kept.said}
      <More title={<span className="text-ink-2">Change, history</span>}>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void keep(edit);
          }}
        >
          <label className="block">
            Number of the case
            <input
              className="field mt-0.5 font-mono"
              value={edit.caseNumber}
              onChange={(event) => write({ ...edit, caseNumber: event.target.value })}
            />
          </label>
          <label className="mt-1 block">
            They said
            <textarea
              className="field mt-0.5"
              rows={2}
              value={edit.said}
              onChange={(event) => write({ ...edit, said: event.target.value })}
            />
          </label>
          <KeptProblem
            error={error}
            edit={edit}
            keepMine={(version) => void keepOver(edit, version)}
            takeTheirs={settle}
          />
          <p className="mt-1 flex items-center gap-3">
            <button type="submit" className="quiet">
              Keep the change
            </button>
            <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
          </p>
        </form>
        <History kind="SupportCall" recordId={call.id} />
      </More>
    </li>
  );
}
