import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { getBuild, getMachine, type MachinePage as Page } from '../api/generated';
import { ask } from '../api/ledger';
import { called } from '../boards/called';
import { Timeline } from '../history/Timeline';
import { NamesLater } from '../measuring/NamesLater';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { isBegun } from '../ui/useDraft';
import { dayOf } from '../ui/time';
import { endingWords } from '../visits/ending';
import { BuildFacts } from './BuildFacts';
import { FitBoard } from './FitBoard';
import { MachineMargin } from './MachineMargin';
import { PlateEditor } from './PlateEditor';
import { VisitBar } from './VisitBar';

/** One ledger page: plate, boards, faults newest first, visits. */
export function MachinePage() {
  const { tag = '' } = useParams();
  const page = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  if (!page.data) {
    return <OpeningPage tag={tag} title="Machine" words={`Opening the page of ${tag}…`} of={[page]} />;
  }
  return <Loaded machine={page.data} />;
}

function Loaded({ machine }: { machine: Page }) {
  const open = machine.visits.find((v) => v.endedAt === null);
  return (
    <Frame
      tag={machine.tag}
      title={machine.name || 'not named yet'}
      place={machine.site}
      margin={<MachineMargin machine={machine} />}
      marginLast
      leafName="Boards and wiring"
      leaf={<Leaf machine={machine} />}
    >
      <Plate machine={machine} />
      <Brief machine={machine} />
      <VisitBar machine={machine} open={open} />
      <Timeline machine={machine} visitId={open?.id} />
    </Frame>
  );
}

function Plate({ machine }: { machine: Page }) {
  // What was begun and not kept is open again.
  const [edited, setEdited] = useState(() => isBegun(`form/plate/${machine.id}`));
  if (edited) {
    return <PlateEditor machine={machine} close={() => setEdited(false)} />;
  }
  const plate = [
    ['Maker', machine.maker],
    ['Model', machine.model],
    ['Serial', machine.serial],
    ['Built', machine.built],
    ['Supply', machine.supply],
    ['Customer', machine.customer],
    ['Finish', machine.finish],
  ];
  return (
    <div className="border-b border-rule-2 pb-2">
      <div className="flex items-start gap-4">
        <dl className="flex grow flex-wrap gap-x-7 gap-y-1">
          {plate
            .filter(([name, value]) => value !== '' || name === 'Serial')
            .map(([name, value]) => (
              <div key={name}>
                <dt className="text-[14px] text-ink-2">{name}</dt>
                <dd className="font-mono text-[16px]">{value === '' ? 'not noted' : value}</dd>
              </div>
            ))}
        </dl>
        {machine.plateHash && (
          <Link to={`/machines/${encodeURIComponent(machine.tag)}/photographs`}>
            <img src={`/api/pictures/${machine.plateHash}/small`} alt="the plate" className="h-[52px]" />
          </Link>
        )}
        <button
          type="button"
          className="link min-h-[32px] shrink-0 text-[14px] max-[899px]:min-h-[44px]"
          onClick={() => setEdited(true)}
        >
          Change
        </button>
      </div>
      {machine.serialDoubt && (
        <Doubt words={machine.serialDoubt.doubt} may={machine.serialDoubt.mayMean} about="Serial kept as read" />
      )}
      {machine.builtMayMean.length > 0 && (
        <Doubt words={`${machine.built} may mean`} may={machine.builtMayMean} about="Built" />
      )}
    </div>
  );
}

function Doubt({ about, words, may }: { about: string; words: string; may: string[] }) {
  return (
    <p className="mt-1 flex items-start gap-2 text-[14px] text-marginal">
      <span className="pt-0.5">
        <Mark kind="marginal" />
      </span>
      <span>
        <b>{about}.</b> {words} {may.length > 0 && `${may.join('; or ')}.`}
      </span>
    </p>
  );
}

/** The first thing the next visit shows: what is still open from the last. */
function Brief({ machine: { brief } }: { machine: Page }) {
  if (!brief) {
    return null;
  }
  const lines: [string, string[]][] = [
    ['Left', brief.left],
    ['Bring', brief.bring],
    ['Last evidence', brief.evidence],
  ];
  return (
    <section aria-label="From the last visit" className="border-b border-rule-2 bg-rust-wash px-3 py-2">
      <h2 className="text-[17px]">
        Since {dayOf(brief.since)}: {endingWords[brief.ending]}
      </h2>
      {brief.note && <p>{brief.note}</p>}
      <ul className="mt-1 list-disc pl-5">
        {lines.flatMap(([name, texts]) =>
          texts.map((text) => (
            <li key={name + text}>
              <b>{name}:</b> {text}
            </li>
          )),
        )}
      </ul>
    </section>
  );
}

function Leaf({ machine }: { machine: Page }) {
  return (
    <>
      <Build machine={machine} />
      <h2 className="mt-4 border-b border-rule-2 pb-1">Boards</h2>
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
              <span className="font-mono text-ink">{called(board)}</span>, {board.boardName}
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
      {machine.boards.length === 0 && (
        <p className="py-2 text-ink-2">
          No board is named yet. Take them from a sheet, photograph one, or add it here.
        </p>
      )}
      <Link
        to={`/machines/${encodeURIComponent(machine.tag)}/sheet`}
        className="link mr-4 inline-flex min-h-[38px] items-center max-[899px]:min-h-[44px]"
      >
        From a sheet
      </Link>
      <FitBoard machine={machine} />
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
      <NamesLater machineId={machine.id} />
      <Deviations machine={machine} />
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

/** Which build it is and what follows, beside what is fitted. */
function Build({ machine }: { machine: Page }) {
  const build = useQuery({
    queryKey: ['build', machine.id, machine.version],
    queryFn: () => ask(getBuild({ path: { machineId: machine.id } })),
  });
  return (
    <section aria-label="Build">
      <h2 className="border-b border-rule-2 pb-1">Build</h2>
      {build.data ? (
        <BuildFacts build={build.data} modelId={machine.modelId} modelName={machine.model} tag={machine.tag} />
      ) : (
        <p className="min-h-[64px] py-1 text-ink-2">{build.isPending ? 'Looking at the plate…' : ''}</p>
      )}
      <Problem error={build.error} retry={() => void build.refetch()} />
    </section>
  );
}

/** What was left other than it should be, with its reason, so that nobody wonders at it. */
function Deviations({ machine }: { machine: Page }) {
  const deviations = machine.faults.filter((f) => f.deviation);
  if (deviations.length === 0) {
    return null;
  }
  return (
    <>
      <h2 className="mt-4 border-b border-rule-2 pb-1">Deviations</h2>
      <ul className="text-[14px]">
        {deviations.map((f) => (
          <li key={f.id} className="border-b border-rule py-1">
            {f.deviation}{' '}
            <Link to={`/faults/${f.id}`} className="link text-ink-2">
              {dayOf(f.openedAt)}, {f.person}
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}
