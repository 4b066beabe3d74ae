import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  getMachine,
  listPhotographs,
  type MachinePage,
  type PhotographKind,
  type PhotographView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { useOutbox, whereabouts } from '../outbox/outbox';
import { Preview } from '../outbox/WaitingPage';
import { usePerson } from '../people/person';
import { PlaceMargin } from '../machines/MachineMargin';
import { Choose, optionsOf } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { kindWords, take } from './take';
import { TakeButton } from './TakeButton';

/** All photographs of a machine, newest first; a burst goes in with two taps. */
export function PhotographsPage() {
  const { tag = '' } = useParams();
  const machine = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  return (
    <Frame tag={tag} margin={<PlaceMargin tag={tag} />} marginLast title="Photographs" place={machine.data?.name ?? ''}>
      <Problem error={machine.error} retry={() => void machine.refetch()} />
      {machine.isPending && <p className="py-4 text-ink-2">Opening the photographs…</p>}
      {machine.data && <Sheet machine={machine.data} />}
    </Frame>
  );
}

function Sheet({ machine }: { machine: MachinePage }) {
  const person = usePerson();
  const [kind, setKind] = useState<PhotographKind>('board');
  const photographs = useQuery({
    queryKey: ['photographs', machine.id],
    queryFn: () => ask(listPhotographs({ path: { machineId: machine.id } })),
  });
  const waiting = useOutbox().filter((p) => p.machineId === machine.id && p.picture);
  const visit = machine.visits.find((v) => v.endedAt === null);
  const isEmpty = photographs.data?.length === 0 && waiting.length === 0;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 border-b border-rule-2 pb-3">
        <h2 className="title grow">Photographs of {machine.tag}</h2>
        <label className="flex items-center gap-2">
          of the
          <Choose className="w-auto" value={kind} options={optionsOf(kindWords)} onChange={setKind} />
        </label>
        <TakeButton
          className="action"
          label="Photographs"
          onTake={(files) =>
            void take(files, {
              machineId: machine.id,
              tag: machine.tag,
              kind,
              personId: person?.id ?? '',
              visitId: visit?.id,
            })
          }
        >
          Take photographs
        </TakeButton>
        <Link className="link" to={`/machines/${encodeURIComponent(machine.tag)}`}>
          Page of {machine.tag}
        </Link>
      </div>
      <Problem error={photographs.error} retry={() => void photographs.refetch()} />
      {isEmpty && <p className="py-4">No photograph yet. Take one of a board, then tap what you measure on it.</p>}
      <ul className="grid grid-cols-2 gap-x-4 min-[700px]:grid-cols-3 min-[1100px]:grid-cols-5">
        {waiting.map((parcel) => (
          <li key={parcel.id} className="border-b border-rule py-3">
            {parcel.picture && (
              <Preview
                picture={parcel.picture}
                words={parcel.words}
                className="aspect-[4/3] w-full bg-paper object-contain"
              />
            )}
            <p className="mt-1 flex items-center gap-1.5 text-[14px] text-ink-2">
              <Mark kind={parcel.refused ? 'dead' : 'untouched'} />
              {parcel.refused ? <Link to="/waiting">refused: see why</Link> : whereabouts(parcel)}
            </p>
          </li>
        ))}
        {photographs.data?.map((photograph) => (
          <Thumbnail key={photograph.id} photograph={photograph} />
        ))}
      </ul>
    </>
  );
}

function Thumbnail({ photograph }: { photograph: PhotographView }) {
  const title = photograph.caption || kindWords[photograph.kind];
  return (
    <li className="border-b border-rule py-3">
      <Link to={`/photographs/${photograph.id}`} className="block">
        <img
          src={`/api/pictures/${photograph.hash}/small`}
          alt=""
          loading="lazy"
          className="aspect-[4/3] w-full bg-paper object-contain"
        />
        <span className="link mt-1 inline-block font-semibold">{title}</span>
        <span className="block text-[14px] text-ink-2">
          {dayOf(photograph.takenAt)} {clockOf(photograph.takenAt)}, {photograph.person}
          {photograph.places > 0 && `, ${photograph.places === 1 ? '1 place' : `${photograph.places} places`}`}
        </span>
      </Link>
    </li>
  );
}
