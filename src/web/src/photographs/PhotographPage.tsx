import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { getPhotograph, type PhotographPage as Page } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { PlaceMargin } from '../machines/MachineMargin';
import { post, useOutbox } from '../outbox/outbox';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { OpeningPage } from '../ui/OpeningPage';
import { clockOf, dayOf } from '../ui/time';
import { Picture } from './PhotographPicture';
import { type Place, PlaceLeaf, Places } from './PlaceLeaf';
import { kindWords } from './take';

/** A photograph with the places tapped on it: named or not, read or not; later they are pins. */
export function PhotographPage() {
  const { photographId = '' } = useParams();
  const page = useQuery({
    queryKey: ['photograph', photographId],
    queryFn: () => ask(getPhotograph({ path: { id: photographId } })),
  });
  if (!page.data) {
    return <OpeningPage title="Photograph" words="Opening the photograph…" of={[page]} />;
  }
  return <Loaded key={photographId} page={page.data} />;
}

function Loaded({ page }: { page: Page }) {
  const { photograph, tag } = page;
  const waiting = useOutbox().filter((p) => p.photographId === photograph.id);
  const [chosen, setChosen] = useState<string | null>(null);
  // What was tapped here stays in sight between the ledger's taking it and its telling of it.
  const [tapped, setTapped] = useState<Place[]>([]);
  const unsent: Place[] = waiting
    .filter((p) => p.path.endsWith('/places'))
    .map((p, i) => {
      const { x, y } = p.json as { x: number; y: number };
      return { id: p.id, x, y, name: '', number: page.places.length + 1 + i, known: undefined };
    });
  const places = [...page.places.map((known): Place => ({ ...known, known })), ...unsent, ...tapped].filter(
    (place, i, all) => all.findIndex((p) => p.id === place.id) === i,
  );
  const tap = (x: number, y: number) => {
    const id = newId();
    setTapped([...tapped, { id, x, y, name: '', number: places.length + 1, known: undefined }]);
    setChosen(id);
    void post({
      id,
      path: `/api/photographs/${photograph.id}/places`,
      words: `place on a photograph of ${tag}`,
      machineId: photograph.machineId,
      photographId: photograph.id,
      json: { id, x, y, name: '', note: '' },
    });
  };
  const place = places.find((p) => p.id === chosen);
  return (
    <Frame
      tag={tag}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      title={`Photograph, ${kindWords[photograph.kind]}`}
      place={page.machineName}
      leafName="The places"
      leaf={
        place ? (
          <PlaceLeaf
            key={place.id}
            place={place}
            page={page}
            leave={() => setChosen(null)}
            gone={() => setTapped(tapped.filter((t) => t.id !== chosen))}
          />
        ) : (
          <Places places={places} choose={setChosen} page={page} />
        )
      }
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-2 text-[14px]">
        <span className="grow text-ink-2">
          {dayOf(photograph.takenAt)} {clockOf(photograph.takenAt)}, {photograph.person}. Tap what you measure, or move
          the cross with the arrow keys and press <Key>Enter</Key>.
        </span>
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/machines/${encodeURIComponent(tag)}/photographs`}
        >
          All photographs
        </Link>
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/machines/${encodeURIComponent(tag)}`}
        >
          Page of {tag}
        </Link>
      </div>
      <Picture page={page} places={places} chosen={chosen} choose={setChosen} tap={tap} />
    </Frame>
  );
}
