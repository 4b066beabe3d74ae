import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  addCause,
  editFault,
  type FaultEdit,
  type FaultView,
  getFault,
  getMachine,
  type Held,
  listCauses,
  type MachinePage,
  type Warranty,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { VisitBand } from '../safety/VisitBand';
import { PlaceMargin } from '../machines/MachineMargin';
import { VisitMargin } from '../visits/VisitMargin';
import { useStart } from '../visits/start';
import { Frame } from '../ui/Frame';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { Mark, type MarkKind, markWords } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useKeeping } from '../ui/useKeeping';
import { minutesOf, warrantyWords } from '../visits/edit';
import { History } from './History';

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
  const start = useStart(fault.data?.visitId ?? undefined);
  if (!fault.data) {
    return (
      <Frame title="Fault">
        {fault.isPending ? (
          <p className="py-6 text-ink-2">Opening the fault…</p>
        ) : (
          <Problem error={fault.error} retry={() => void fault.refetch()} />
        )}
      </Frame>
    );
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

const verdictKinds = ['within', 'marginal', 'low', 'high', 'dead', 'reversed', 'differs', 'notJudged'] as const;

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
  const [edit, setEdit] = useState(editOf(fault));
  const { keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping(
    edit,
    async (next) => {
      const now = await ask(editFault({ path: { id: fault.id }, body: next }));
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
    setEdit(next);
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
        onChange={(event) => setEdit({ ...edit, [name]: event.target.value })}
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
          onChange={(event) => setEdit({ ...edit, parts: event.target.value.split('\n') })}
          onBlur={keepIfChanged}
        />
      </label>
      <label className="mt-3 block">
        Deviation left behind <span className="text-ink-2">with its reason; shown at the next visit</span>
        <input
          className="field mt-1"
          value={edit.deviation}
          onChange={(event) => setEdit({ ...edit, deviation: event.target.value })}
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
            onChange={(event) => setEdit({ ...edit, minutes: minutesOf(event.target.value) })}
            onBlur={keepIfChanged}
          />
        </label>
        <label>
          Warranty
          <select
            className="field mt-1"
            value={edit.warranty}
            onChange={(event) => set({ warranty: event.target.value as Warranty })}
          >
            {Object.entries(warrantyWords).map(([w, words]) => (
              <option key={w} value={w}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label>
          Did it hold?
          <select
            className="field mt-1"
            value={edit.held}
            onChange={(event) => set({ held: event.target.value as Held })}
          >
            {Object.entries(heldWords).map(([h, words]) => (
              <option key={h} value={h}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      {earlier.length > 0 && (
        <label className="mt-3 block">
          The return of an earlier fault?
          <select
            className="field mt-1"
            value={edit.previousId ?? ''}
            onChange={(event) => set({ previousId: event.target.value || null })}
          >
            <option value="">no, a new one</option>
            {earlier.map((f) => (
              <option key={f.id} value={f.id}>
                {dayOf(f.openedAt)}: {f.noticed}
              </option>
            ))}
          </select>
        </label>
      )}
      <KeptProblem
        error={error}
        edit={edit}
        keepMine={(version) => void keepOver(edit, version)}
        takeTheirs={(theirs) => {
          setEdit(theirs);
          settle(theirs);
        }}
      />
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

interface CauseProps {
  cause: string | null;
  invalid: boolean;
  choose: (cause: string | null) => void;
}

const another = '+';

/** One of the shop's causes, or a new one for its list. */
function Cause({ cause, invalid, choose }: CauseProps) {
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
        <select
          className="field mt-1"
          aria-invalid={invalid}
          value={words === null ? (cause ?? '') : another}
          onChange={(event) => {
            if (event.target.value === another) {
              setWords('');
            } else {
              setWords(null);
              choose(event.target.value || null);
            }
          }}
        >
          <option value="">not known yet</option>
          {causes.data?.map((c) => (
            <option key={c.id} value={c.id}>
              {c.words}
            </option>
          ))}
          <option value={another}>another cause…</option>
        </select>
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

const verdicts: Record<string, MarkKind> = Object.fromEntries(verdictKinds.map((k) => [markWords(k), k]));

/** A line of evidence is kept as text; its mark goes by the word of the verdict in it. */
function verdictIn(line: string): MarkKind {
  const word = new RegExp(`, (${Object.keys(verdicts).join('|')})(?: of |$)`).exec(line)?.[1];
  return verdicts[word ?? ''] ?? 'notJudged';
}

function Evidence({ fault, onPutBack }: { fault: FaultView; onPutBack: () => void }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">Readings it rests on</h2>
      {fault.evidence.length === 0 && <p className="py-2 text-ink-2">None: it was written down by hand.</p>}
      <ul className="text-[14px]">
        {fault.evidence.map((line) => (
          <li key={line} className="flex gap-2 border-b border-rule py-1.5">
            <span className="pt-0.5">
              <Mark kind={verdictIn(line)} />
            </span>
            <span>{line}</span>
          </li>
        ))}
      </ul>
      <History kind="Fault" recordId={fault.id} onPutBack={onPutBack} />
    </>
  );
}
