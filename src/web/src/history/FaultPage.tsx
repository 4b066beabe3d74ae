import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  editFault,
  type FaultEdit,
  type FaultView,
  getFault,
  getMachine,
  type Held,
  type MachinePage,
} from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { VisitBand } from '../safety/VisitBand';
import { Choose, optionsOf } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { clockOf, dayOf } from '../ui/time';
import { useKeeping } from '../ui/useKeeping';
import { VisitMargin } from '../visits/VisitMargin';
import { minutesOf, warrantyWords } from '../visits/edit';
import { useStart } from '../visits/start';
import { Cause, useCauses } from './FaultCause';
import { Evidence } from './FaultEvidence';

/** A fault from what was noticed to its proof. Kept as it is written. */
export function FaultPage() {
  const { faultId = '' } = useParams();
  const [putBacks, setPutBacks] = useState(0);
  const fault = useQuery({
    queryKey: ['fault', faultId],
    queryFn: () => ask(getFault({ path: { id: faultId } })),
    staleTime: Infinity,
  });
  const machine = useQuery({
    queryKey: ['machine', fault.data?.machineId],
    queryFn: () => ask(getMachine({ path: { id: fault.data?.machineId ?? '' } })),
    enabled: fault.data !== undefined,
  });
  const causes = useCauses();
  const start = useStart(fault.data?.visitId ?? undefined);
  // The list of causes has to be there before anybody types the first letters of one.
  if (!fault.data || causes.isPending) {
    return <OpeningPage title="Fault" words="Opening the fault…" of={[fault]} />;
  }
  return (
    <Frame
      {...(machine.data ? { tag: machine.data.tag, place: machine.data.name } : {})}
      title="Fault"
      band={<VisitBand visitId={fault.data.visitId ?? undefined} />}
      margin={start.data ? <VisitMargin start={start.data} here="fault" /> : <PlaceMargin tag={machine.data?.tag} />}
      marginLast
      leafName="Evidence and history"
      leaf={<Evidence fault={fault.data} onPutBack={() => setPutBacks(putBacks + 1)} />}
    >
      <Form key={`${faultId} ${putBacks}`} fault={fault.data} machine={machine.data} />
    </Frame>
  );
}

const heldWords: Record<Held, string> = { notKnown: 'not known yet', held: 'it held', cameBack: 'it came back' };

/** What of a fault is written as it goes. */
const editOf = (fault: FaultView): FaultEdit => ({
  version: fault.version,
  noticed: fault.noticed,
  found: fault.found,
  cause: fault.cause,
  proof: fault.proof,
  done: fault.done,
  parts: fault.parts,
  deviation: fault.deviation,
  minutes: fault.minutes,
  warranty: fault.warranty,
  held: fault.held,
  previousId: fault.previousId,
  close: fault.closedAt !== null,
});

function Form({ fault, machine }: { fault: FaultView; machine: MachinePage | undefined }) {
  const queries = useQueryClient();
  const { edit, write, keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping(
    `fault/${fault.id}`,
    editOf(fault),
    async (next, client) => {
      const now = await ask(editFault({ client, path: { id: fault.id }, body: next }));
      queries.setQueryData(['fault', fault.id], now);
      for (const key of ['machine', 'timeline', 'home', 'edits']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      return now;
    },
    (next) => next.noticed.trim() !== '',
  );
  const isChanged = JSON.stringify(edit) !== JSON.stringify({ ...kept, version: edit.version, close: edit.close });
  const keepIfChanged = () => isChanged && !isClash && void keep(edit);
  const set = (what: Partial<FaultEdit>) => {
    const next = { ...edit, ...what };
    write(next);
    void keep(next);
  };
  const wrong = fieldInError(error);
  const area = (name: 'noticed' | 'found' | 'proof' | 'done', label: string, rows: number, hint = '') => (
    <label className="mt-3 block">
      {label} {hint && <span className="text-ink-2">{hint}</span>}
      <textarea
        className="field mt-1"
        rows={rows}
        aria-invalid={wrong === name}
        value={edit[name]}
        onChange={(event) => write({ ...edit, [name]: event.target.value })}
        onBlur={keepIfChanged}
      />
    </label>
  );
  const earlier = machine?.faults.filter((f) => f.openedAt < fault.openedAt) ?? [];
  return (
    <form
      className="max-w-[720px] py-2"
      onSubmit={(event) => {
        event.preventDefault();
        void keep({ ...edit, close: true });
      }}
    >
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="title">{fault.closedAt ? 'Fault, closed with its proof' : 'Write up the fault'}</h2>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </div>
      <p className="text-[14px] text-ink-2">
        Opened {dayOf(fault.openedAt)} {clockOf(fault.openedAt)} by {fault.person}.
        {fault.closedAt && ` Closed ${dayOf(fault.closedAt)} ${clockOf(fault.closedAt)}.`}
      </p>
      {fault.cameBackAs && (
        <p className="mt-2 flex items-center gap-2 text-out">
          <Mark kind="high" /> It came back:{' '}
          <Link className="link" to={`/faults/${fault.cameBackAs}`}>
            the later fault
          </Link>
        </p>
      )}
      {area('noticed', 'Noticed', 2, 'what the machine does or does not do')}
      {area('found', 'Found', 3, 'where the readings put it')}
      <Cause cause={edit.cause} invalid={wrong === 'cause'} choose={(cause) => set({ cause })} />
      {area('proof', 'How it was proved', 2, 'the test that convicted the part')}
      {area('done', 'What was done', 2)}
      <label className="mt-3 block">
        Parts touched <span className="text-ink-2">a line each</span>
        <textarea
          className="field mt-1"
          rows={2}
          value={edit.parts.join('\n')}
          onChange={(event) => write({ ...edit, parts: event.target.value.split('\n') })}
          onBlur={keepIfChanged}
        />
      </label>
      <label className="mt-3 block">
        Deviation left behind <span className="text-ink-2">with its reason; shown at the next visit</span>
        <input
          className="field mt-1"
          value={edit.deviation}
          onChange={(event) => write({ ...edit, deviation: event.target.value })}
          onBlur={keepIfChanged}
        />
      </label>
      <div className="mt-3 grid gap-3 min-[600px]:grid-cols-3">
        <label>
          Minutes
          <input
            inputMode="numeric"
            className="field mt-1 font-mono"
            aria-invalid={wrong === 'minutes'}
            defaultValue={edit.minutes ?? ''}
            onChange={(event) => write({ ...edit, minutes: minutesOf(event.target.value) })}
            onBlur={keepIfChanged}
          />
        </label>
        <label>
          Warranty
          <Choose
            className="mt-1"
            value={edit.warranty}
            options={optionsOf(warrantyWords)}
            onChange={(warranty) => set({ warranty })}
          />
        </label>
        <label>
          Did it hold?
          <Choose
            className="mt-1"
            value={edit.held}
            options={optionsOf(heldWords)}
            onChange={(held) => set({ held })}
          />
        </label>
      </div>
      {earlier.length > 0 && (
        <label className="mt-3 block">
          The return of an earlier fault?
          <Choose
            className="mt-1"
            value={edit.previousId ?? ''}
            options={[
              { value: '', words: 'no, a new one' },
              ...earlier.map((f) => ({ value: f.id, words: `${dayOf(f.openedAt)}: ${f.noticed}` })),
            ]}
            onChange={(id) => set({ previousId: id || null })}
          />
        </label>
      )}
      <KeptProblem error={error} edit={edit} keepMine={(version) => void keepOver(edit, version)} takeTheirs={settle} />
      <div className="mt-4 flex flex-wrap items-center gap-4">
        {fault.closedAt ? (
          <button type="button" className="quiet" onClick={() => set({ close: false })}>
            Open it again
          </button>
        ) : (
          <button type="submit" className="action">
            Close the fault
          </button>
        )}
        {machine && (
          <Link className="link" to={`/machines/${encodeURIComponent(machine.tag)}`}>
            Back to {machine.tag}
          </Link>
        )}
        {fault.roundId && (
          <Link className="link" to={`/rounds/${fault.roundId}`}>
            The round
          </Link>
        )}
        {fault.previousId && (
          <Link className="link" to={`/faults/${fault.previousId}`}>
            The fault before
          </Link>
        )}
      </div>
    </form>
  );
}
