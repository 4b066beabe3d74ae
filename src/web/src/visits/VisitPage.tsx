import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { editVisit, endVisit, getMachine, getVisit, type VisitView } from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { SafeBand } from '../safety/SafeBand';
import { Choose, optionsOf } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { fieldInError, KeptProblem, KeptWord } from '../ui/Kept';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useKeeping } from '../ui/useKeeping';
import { EndVisit } from './EndVisit';
import { Calls } from './SupportCalls';
import { VisitMargin } from './VisitMargin';
import { editOf, minutesOf, warrantyWords } from './edit';
import { endingWords } from './ending';
import { useStart } from './start';

/** One job on one machine, from what was asked before anything is opened to how it ended. Kept as it is written. */
export function VisitPage() {
  const { visitId = '' } = useParams();
  const [putBacks, setPutBacks] = useState(0);
  const visit = useQuery({
    queryKey: ['visit', visitId],
    queryFn: () => ask(getVisit({ path: { id: visitId } })),
  });
  const machine = useQuery({
    queryKey: ['machine', visit.data?.machineId],
    queryFn: () => ask(getMachine({ path: { id: visit.data?.machineId ?? '' } })),
    enabled: visit.data !== undefined,
  });
  const start = useStart(visitId);
  if (!visit.data || !machine.data) {
    return <OpeningPage title="Visit" words="Opening the visit…" of={[visit, machine]} />;
  }
  return (
    <Frame
      tag={machine.data.tag}
      title="Visit"
      place={machine.data.name}
      band={start.data && <SafeBand start={start.data} />}
      margin={start.data && <VisitMargin start={start.data} here="visit" />}
      marginLast
      leafName="Support and history"
      leaf={
        <>
          <Calls visit={visit.data} />
          <History kind="Visit" recordId={visitId} within onPutBack={() => setPutBacks(putBacks + 1)} />
        </>
      }
    >
      <Form key={`${visitId} ${visit.data.endedAt} ${putBacks}`} visit={visit.data} tag={machine.data.tag} />
    </Frame>
  );
}

function Form({ visit, tag }: { visit: VisitView; tag: string }) {
  const queries = useQueryClient();
  const { edit, write, keep, keepOver, settle, kept, isChanged, isKeeping, isClash, error } = useKeeping(
    `visit/${visit.id}`,
    editOf(visit),
    async (next, client) => {
      const now = await ask(editVisit({ client, path: { id: visit.id }, body: next }));
      for (const key of ['machine', 'timeline', 'home', 'edits']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      return now;
    },
  );
  const reopen = useMutation({
    mutationFn: () => ask(endVisit({ path: { id: visit.id }, body: { version: visit.version, ending: null } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  const keepIfChanged = () => isChanged && !isClash && void keep(edit);
  const wrong = fieldInError(error);
  const lines = (name: 'left' | 'bring', label: string) => (
    <label className="mt-3 block">
      {label}
      <textarea
        className="field mt-0.5"
        rows={2}
        value={edit[name].join('\n')}
        onChange={(event) => write({ ...edit, [name]: event.target.value.split('\n') })}
        onBlur={keepIfChanged}
      />
    </label>
  );
  const minutes = (name: 'travelMinutes' | 'labourMinutes', label: string) => (
    <label>
      {label}
      <input
        inputMode="numeric"
        className="field mt-0.5 font-mono"
        aria-invalid={wrong === name}
        defaultValue={edit[name] ?? ''}
        onChange={(event) => write({ ...edit, [name]: minutesOf(event.target.value) })}
        onBlur={keepIfChanged}
      />
    </label>
  );
  return (
    <div className="max-w-[760px] pb-4">
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="title grow">
          {visit.ending ? `Visit, ${endingWords[visit.ending]}` : 'Visit, open'}{' '}
          <span className="sr-only">of {tag}</span>
        </h2>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </div>
      <p className="text-[14px] text-ink-2">
        Begun {dayOf(visit.openedAt)} {clockOf(visit.openedAt)} by {visit.person}.
        {visit.endedAt && ` Ended ${dayOf(visit.endedAt)} ${clockOf(visit.endedAt)}.`}{' '}
        {visit.rounds.map((round, i) => (
          <Link key={round.id} to={`/rounds/${round.id}`} className="link mr-3">
            round {i + 1}, {round.taken} measured
          </Link>
        ))}
      </p>
      <fieldset className="mt-3 grid gap-3 border-y border-rule-2 py-3 min-[700px]:grid-cols-2">
        <legend className="sr-only">Before anything is opened</legend>
        <label>
          Warranty, asked before anything is opened
          <Choose
            className="mt-0.5"
            value={edit.warranty}
            options={optionsOf(warrantyWords)}
            onChange={(warranty) => {
              const next = { ...edit, warranty };
              write(next);
              void keep(next);
            }}
          />
        </label>
        <label>
          The customer agreed to spend{' '}
          <span className="text-ink-2">{visit.agreedAt && `on ${dayOf(visit.agreedAt)}`}</span>
          <input
            className="field mt-0.5 font-mono"
            value={edit.agreed}
            onChange={(event) => write({ ...edit, agreed: event.target.value })}
            onBlur={keepIfChanged}
          />
        </label>
      </fieldset>
      <label className="mt-3 block">
        Complaint
        <textarea
          className="field mt-0.5"
          rows={2}
          value={edit.complaint}
          onChange={(event) => write({ ...edit, complaint: event.target.value })}
          onBlur={keepIfChanged}
        />
      </label>
      {lines('left', 'Left unplugged or temporary, a line each')}
      {lines('bring', 'To bring next time, a line each')}
      <label className="mt-3 block">
        In a word
        <textarea
          className="field mt-0.5"
          rows={2}
          value={edit.endingNote}
          onChange={(event) => write({ ...edit, endingNote: event.target.value })}
          onBlur={keepIfChanged}
        />
      </label>
      <div className="mt-3 grid grid-cols-2 gap-3">
        {minutes('travelMinutes', 'Travel, minutes')}
        {minutes('labourMinutes', 'Labour, minutes')}
      </div>
      <KeptProblem error={error} edit={edit} keepMine={(version) => void keepOver(edit, version)} takeTheirs={settle} />
      <Problem error={reopen.error} />
      <div className="mt-4 flex flex-wrap items-center gap-3">
        {visit.endedAt ? (
          <button type="button" className="quiet" onClick={() => reopen.mutate()}>
            Open it again
          </button>
        ) : (
          <EndVisit visit={{ ...visit, ...edit, version: kept.version }} tag={tag} />
        )}
        <Link className="quiet inline-flex items-center" to={`/visits/${visit.id}/call`}>
          Call card
        </Link>
        <Link className="link" to={`/machines/${encodeURIComponent(tag)}`}>
          Page of {tag}
        </Link>
      </div>
    </div>
  );
}
