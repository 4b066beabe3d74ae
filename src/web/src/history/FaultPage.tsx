import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { type FaultCause, type FaultEdit, type FaultView, getFault, getMachine, listEdits } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { Clash } from '../ui/Clash';
import { Frame } from '../ui/Frame';
import { Mark, type MarkKind, markWords } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { causeWords } from './cause';
import { useKeeping } from './useKeeping';

/** A fault from what was noticed to its proof. Kept as it is written. */
export function FaultPage() {
  const { faultId = '' } = useParams();
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
      leaf={<Evidence fault={fault.data} />}
    >
      <Form fault={fault.data} tag={machine.data?.tag} />
    </Frame>
  );
}

const verdictKinds = ['within', 'marginal', 'low', 'high', 'dead', 'reversed', 'differs', 'notJudged'] as const;

const texts = [
  { name: 'noticed', label: 'Noticed', rows: 2, hint: 'what the machine does or does not do' },
  { name: 'found', label: 'Found', rows: 4, hint: 'where the readings put it' },
  { name: 'proof', label: 'How it was proved', rows: 3, hint: 'the test that convicted the part' },
  { name: 'done', label: 'What was done', rows: 3, hint: '' },
] as const;

function Form({ fault, tag }: { fault: FaultView; tag: string | undefined }) {
  const [edit, setEdit] = useState<FaultEdit>({ ...fault, close: fault.closedAt !== null });
  const { keep, keepOver, settle, kept, isKeeping, error } = useKeeping(fault, edit);
  const changed = (['noticed', 'found', 'proof', 'done', 'cause'] as const).some((n) => edit[n] !== kept[n]);
  const refusal = error instanceof Refusal ? error.problem : undefined;
  const clash = refusal?.theirs ? refusal : undefined;
  const wrong = refusal?.field;
  return (
    <form
      className="max-w-[680px] py-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep({ ...edit, close: true });
      }}
    >
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="title">{fault.closedAt ? 'Fault, closed with its proof' : 'Write up the fault'}</h2>
        <span className="text-[14px] text-ink-2" role="status">
          {isKeeping ? 'keeping…' : changed ? 'not kept yet' : 'kept'}
        </span>
      </div>
      <p className="text-[14px] text-ink-2">
        Opened {dayOf(fault.openedAt)} {clockOf(fault.openedAt)} by {fault.person}.
        {fault.closedAt && ` Closed ${dayOf(fault.closedAt)} ${clockOf(fault.closedAt)}.`}
      </p>
      {texts.map((field) => (
        <label key={field.name} className="mt-3 block">
          {field.label} {field.hint && <span className="text-ink-2">{field.hint}</span>}
          <textarea
            className="field mt-1"
            rows={field.rows}
            aria-invalid={wrong === field.name}
            value={edit[field.name]}
            onChange={(event) => setEdit({ ...edit, [field.name]: event.target.value })}
            onBlur={() => {
              if (changed && !clash) {
                keep(edit);
              }
            }}
          />
        </label>
      ))}
      <label className="mt-3 block">
        Cause
        <select
          className="field mt-1"
          aria-invalid={wrong === 'cause'}
          value={edit.cause ?? ''}
          onChange={(event) => {
            const next = { ...edit, cause: (event.target.value || null) as FaultCause | null };
            setEdit(next);
            keep(next);
          }}
        >
          <option value="">not known yet</option>
          {Object.entries(causeWords).map(([cause, words]) => (
            <option key={cause} value={cause}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {clash ? (
        <Clash
          problem={clash}
          keepMine={() => keepOver(edit, clash.version ?? edit.version)}
          takeTheirs={() => {
            const theirs = { ...edit, ...clash.theirs, version: clash.version ?? edit.version };
            setEdit(theirs);
            settle(theirs);
          }}
        />
      ) : (
        <Problem error={error} />
      )}
      <div className="mt-4 flex items-center gap-4">
        {fault.closedAt ? (
          <button type="button" className="quiet" onClick={() => keep({ ...edit, close: false })}>
            Open it again
          </button>
        ) : (
          <button type="submit" className="action">
            Close the fault
          </button>
        )}
        {tag && (
          <Link className="link" to={`/machines/${encodeURIComponent(tag)}`}>
            Back to {tag}
          </Link>
        )}
        {fault.roundId && (
          <Link className="link" to={`/rounds/${fault.roundId}`}>
            The round
          </Link>
        )}
      </div>
    </form>
  );
}

const verdicts: Record<string, MarkKind> = Object.fromEntries(verdictKinds.map((k) => [markWords(k), k]));

/** A line of evidence is kept as text; its mark goes by the word of the verdict in it. */
function verdictIn(line: string): MarkKind {
  const word = new RegExp(`, (${Object.keys(verdicts).join('|')})(?: of |$)`).exec(line)?.[1];
  return verdicts[word ?? ''] ?? 'notJudged';
}

function Evidence({ fault }: { fault: FaultView }) {
  const edits = useQuery({
    queryKey: ['edits', fault.id],
    queryFn: () => ask(listEdits({ path: { kind: 'Fault', recordId: fault.id } })),
  });
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
      <h2 className="mt-4 border-b border-rule-2 pb-1">Who wrote here</h2>
      <ul className="text-[14px]">
        {edits.data?.map((e) => (
          <li key={e.at} className="flex justify-between border-b border-rule py-1">
            <span>{e.person ? `${e.before ? 'changed' : 'opened'} by ${e.person}` : 'taken in from a file'}</span>
            <span className="font-mono text-ink-2">
              {dayOf(e.at)} {clockOf(e.at)}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
