import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import {
  addRound,
  beginVisit,
  getMachine,
  openFault,
  type FaultView,
  type MachinePage as Page,
  type VisitView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { usePerson } from '../people/person';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { causeWords } from '../history/cause';
import { EndVisit } from '../visits/EndVisit';
import { endingWords } from '../visits/ending';

/** One ledger page: plate, boards, faults newest first, visits. */
export function MachinePage() {
  const { tag = '' } = useParams();
  const page = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  if (!page.data) {
    return (
      <Frame tag={tag} title="Machine">
        {page.isPending ? (
          <p className="py-6 text-ink-2">Opening the page of {tag}…</p>
        ) : (
          <Problem error={page.error} retry={() => void page.refetch()} />
        )}
      </Frame>
    );
  }
  return <Loaded machine={page.data} />;
}

function Loaded({ machine }: { machine: Page }) {
  const open = machine.visits.find((v) => v.endedAt === null);
  return (
    <Frame
      tag={machine.tag}
      title={machine.name}
      place={machine.site}
      margin={<Margin machine={machine} />}
      leaf={<Leaf machine={machine} />}
    >
      <Plate machine={machine} />
      <VisitBar machine={machine} open={open} />
      <Faults machine={machine} />
      <Visits machine={machine} />
    </Frame>
  );
}

function Plate({ machine }: { machine: Page }) {
  const plate = [
    ['Maker', machine.maker],
    ['Model', machine.model],
    ['Serial', machine.serial],
    ['Built', machine.built],
    ['Supply', machine.supply],
  ];
  return (
    <dl className="flex flex-wrap gap-x-8 gap-y-2 border-b border-rule-2 pb-3">
      {plate.map(([name, value]) => (
        <div key={name}>
          <dt className="text-[14px] text-ink-2">{name}</dt>
          <dd className="font-mono text-[17px]">{value === '' ? 'not noted' : value}</dd>
        </div>
      ))}
    </dl>
  );
}

function VisitBar({ machine, open }: { machine: Page; open: VisitView | undefined }) {
  const person = usePerson();
  const go = useNavigate();
  const queries = useQueryClient();
  const [complaint, setComplaint] = useState('');
  const begin = useMutation({
    mutationFn: async () => {
      const roundId = newId();
      if (open) {
        await ask(addRound({ path: { id: open.id }, body: { id: roundId } }));
      } else {
        await ask(
          beginVisit({ body: { id: newId(), roundId, machineId: machine.id, complaint, personId: person?.id ?? '' } }),
        );
      }
      return roundId;
    },
    onSuccess: async (roundId) => {
      await queries.invalidateQueries({ queryKey: ['machine', machine.tag] });
      await go(`/rounds/${roundId}`);
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
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'F9') {
        event.preventDefault();
        proceed();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
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
        <div className="mt-2 flex gap-3">
          <button type="button" className="quiet" onClick={() => begin.mutate()}>
            New round
          </button>
          <EndVisit visit={open} tag={machine.tag} />
        </div>
      )}
      <Problem error={begin.error} />
    </section>
  );
}

function Faults({ machine }: { machine: Page }) {
  const person = usePerson();
  const go = useNavigate();
  const write = useMutation({
    mutationFn: () =>
      ask(
        openFault({
          body: { id: newId(), machineId: machine.id, roundId: null, noticed: '', personId: person?.id ?? '' },
        }),
      ),
    onSuccess: (fault) => void go(`/faults/${fault.id}`),
  });
  return (
    <section id="faults" aria-label="Faults" className="pt-4">
      <div className="flex items-baseline justify-between border-b border-rule-2 pb-1">
        <h2>Faults</h2>
        <button type="button" className="link min-h-[32px]" onClick={() => write.mutate()}>
          Write down a fault
        </button>
      </div>
      <Problem error={write.error} />
      {machine.faults.length === 0 && <p className="py-3 text-ink-2">No fault has been written down yet.</p>}
      <ul>
        {machine.faults.map((fault) => (
          <FaultLine key={fault.id} fault={fault} />
        ))}
      </ul>
    </section>
  );
}

function FaultLine({ fault }: { fault: FaultView }) {
  return (
    <li className="grid grid-cols-[108px_1fr] border-b border-rule py-2">
      <span className="pt-0.5 font-mono text-[14px] text-ink-2">{dayOf(fault.openedAt)}</span>
      <div className="border-l border-ink-2 pl-3">
        <Link to={`/faults/${fault.id}`} className="link font-bold">
          {fault.noticed || 'Fault without words yet'}
        </Link>
        <span
          className={`ml-3 inline-flex items-center gap-1.5 text-[14px] ${fault.closedAt ? 'text-within' : 'text-out'}`}
        >
          <Mark kind={fault.closedAt ? 'within' : 'low'} />
          {fault.closedAt ? `closed${fault.cause ? `, ${causeWords[fault.cause]}` : ''}` : 'open'}
        </span>
        <p className="text-[14px] text-ink-2">{fault.closedAt ? `Proved: ${fault.proof}` : fault.found}</p>
      </div>
    </li>
  );
}

function Visits({ machine }: { machine: Page }) {
  return (
    <section id="visits" aria-label="Visits" className="pt-4">
      <h2 className="border-b border-rule-2 pb-1">Visits</h2>
      {machine.visits.length === 0 && <p className="py-3 text-ink-2">Nobody has been here yet.</p>}
      <ul>
        {machine.visits.map((visit) => (
          <li key={visit.id} className="grid grid-cols-[108px_1fr] border-b border-rule py-2">
            <span className="pt-0.5 font-mono text-[14px] text-ink-2">{dayOf(visit.openedAt)}</span>
            <div className="border-l border-ink-2 pl-3">
              <b className="font-semibold">{visit.complaint || 'no complaint noted'}</b>
              <span className="ml-3 text-[14px] text-ink-2">
                {visit.person}, {visit.ending ? endingWords[visit.ending] : 'open'}
              </span>
              <p className="text-[14px] text-ink-2">
                {visit.endingNote}{' '}
                {visit.rounds.map((round, i) => (
                  <Link key={round.id} to={`/rounds/${round.id}`} className="link mr-3">
                    round {i + 1}, {round.taken} measured
                  </Link>
                ))}
              </p>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Margin({ machine }: { machine: Page }) {
  return (
    <>
      <ul className="space-y-2">
        <li>
          <a href="#faults" className="flex min-h-[30px] justify-between">
            Faults <span className="font-mono font-bold">{machine.faults.length}</span>
          </a>
        </li>
        <li>
          <a href="#visits" className="flex min-h-[30px] justify-between">
            Visits <span className="font-mono font-bold">{machine.visits.length}</span>
          </a>
        </li>
        <li className="flex min-h-[30px] justify-between">
          Checks <span className="font-mono font-bold">{machine.checks}</span>
        </li>
      </ul>
      <h2 className="mt-4 text-[15px] text-ink-2">Fitted boards</h2>
      <ul>
        {machine.boards.map((board) => (
          <li key={board.positionId}>
            <Link
              to={`/machines/${encodeURIComponent(machine.tag)}/boards/${board.positionId}`}
              className="link flex min-h-[34px] items-center justify-between"
            >
              {board.name} <span className="font-mono text-[14px]">rev {board.revision}</span>
            </Link>
          </li>
        ))}
      </ul>
      <a
        className="link mt-6 inline-flex min-h-[34px] items-center"
        href={`/api/machines/${encodeURIComponent(machine.id)}/file`}
        download
      >
        Machine file
      </a>
    </>
  );
}

function Leaf({ machine }: { machine: Page }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">Boards</h2>
      <ul>
        {machine.boards.map((board) => (
          <li key={board.positionId} className="border-b border-rule py-2">
            <Link
              to={`/machines/${encodeURIComponent(machine.tag)}/boards/${board.positionId}`}
              className="link font-bold"
            >
              {board.prefix} {board.name}
            </Link>
            <p className="text-[14px] text-ink-2">
              <span className="font-mono text-ink">{board.partNumber}</span> rev {board.revision}, {board.boardName}
              {board.serial && (
                <>
                  , no. <span className="font-mono">{board.serial}</span>
                </>
              )}
              {board.firmware && `, firmware ${board.firmware}`}
              {board.pins === 0 && ', no terminals yet'}
            </p>
          </li>
        ))}
      </ul>
      {machine.parts.length > 0 && (
        <>
          <h2 className="mt-4 border-b border-rule-2 pb-1">Off the boards</h2>
          <ul className="text-[14px]">
            {machine.parts.map((part) => (
              <li key={part.id} className="flex justify-between border-b border-rule py-1">
                {part.name} <span className="font-mono">{part.designator}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {machine.toMend.length > 0 && (
        <>
          <h2 className="mt-4 border-b border-rule-2 pb-1">To mend in the record</h2>
          <ul className="text-[14px]">
            {machine.toMend.map((mend) => (
              <li key={mend} className="flex gap-2 border-b border-rule py-1">
                <span className="pt-0.5">
                  <Mark kind="untouched" />
                </span>
                {mend}
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-4 text-[14px] text-ink-2">
        <Key>F9</Key> start or go on, <Key>F2</Key> find
      </p>
    </>
  );
}
