import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { addRound, beginVisit, type MachinePage as Page, type VisitView } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { usePerson } from '../people/person';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { EndVisit } from '../visits/EndVisit';

const steps = [
  ['/arrive', 'Arrive'],
  ['/safe', 'Make safe'],
  ['/look', 'Look'],
  ['', 'The visit'],
  ['/call', 'Call card'],
] as const;

export function VisitBar({ machine, open }: { machine: Page; open: VisitView | undefined }) {
  const person = usePerson();
  const go = useNavigate();
  const queries = useQueryClient();
  const [complaint, setComplaint] = useDraft(`complaint/${machine.id}`);
  const begin = useMutation({
    mutationFn: async () => {
      const [roundId, visitId] = [newId(), newId()];
      if (open) {
        await ask(addRound({ path: { id: open.id }, body: { id: roundId } }));
        return `/rounds/${roundId}`;
      } else {
        await ask(
          beginVisit({ body: { id: visitId, roundId, machineId: machine.id, complaint, personId: person?.id ?? '' } }),
        );
      }
      // What switching off will lose comes first.
      return `/visits/${visitId}/arrive`;
    },
    onSuccess: async (to) => {
      setComplaint('');
      await queries.invalidateQueries({ queryKey: ['machine', machine.tag] });
      await go(to);
    },
  });
  const last = open?.rounds.at(-1);
  const proceed = () => {
    if (last) {
      void go(`/rounds/${last.id}`);
    } else {
      begin.mutate();
    }
  };
  useKeys((key) => {
    if (key === 'F9') {
      proceed();
    }
    return key === 'F9';
  });
  return (
    <section aria-label="Visit" className="border-b border-rule-2 py-3">
      <div className="flex flex-wrap items-center gap-4 min-[900px]:flex-nowrap">
        {open ? (
          <div className="min-w-0 grow">
            <h2 className="title text-[19px]">
              Open since {dayOf(open.openedAt)}: {open.complaint || 'no complaint noted'}
            </h2>
            <p className="text-ink-2">
              Begun by {open.person}
              {last && `, ${last.taken} of ${last.of} checks measured`}
            </p>
          </div>
        ) : (
          <label className="min-w-[240px] grow">
            <span className="text-ink-2">What is the complaint?</span>
            <input className="field mt-1" value={complaint} onChange={(event) => setComplaint(event.target.value)} />
          </label>
        )}
        <button type="button" className="action shrink-0" disabled={begin.isPending} onClick={proceed}>
          {open ? (last ? 'Go on measuring' : 'New round') : 'Start visit'}{' '}
          <span className="ml-1 font-mono text-[12px] font-normal">F9</span>
        </button>
      </div>
      {open && (
        <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1">
          {steps.map(([to, words]) => (
            <Link
              key={to}
              to={`/visits/${open.id}${to}`}
              className="link inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]"
            >
              {words}
            </Link>
          ))}
          <button type="button" className="link min-h-[36px] max-[899px]:min-h-[44px]" onClick={() => begin.mutate()}>
            New round
          </button>
          <span className="ml-auto">
            <EndVisit visit={open} tag={machine.tag} />
          </span>
        </div>
      )}
      <Problem error={begin.error} />
    </section>
  );
}
