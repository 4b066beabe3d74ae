import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { retireBoardNote, type BoardMap, type BoardNoteKind } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { type Delivery, leaveOut, post } from '../outbox/outbox';
import { usePerson } from '../people/person';
import { Problem } from '../ui/Problem';
import type { Facing } from './facing';
import type { PlaceOnBoard } from './place';
import { useOpenVisit } from './useOpenVisit';
import { useWritten } from '../ui/useDraft';

const found: [BoardNoteKind, string][] = [
  ['burnt', 'Burnt'],
  ['corroded', 'Corroded'],
  ['lint', 'Lint'],
  ['loose', 'Loose'],
  ['cutTrack', 'Cut track'],
  ['foreignBody', 'Foreign body'],
  ['swollen', 'Swollen'],
  ['waterMark', 'Water mark'],
  ['earlierRepair', 'Earlier repair'],
  ['lostLeg', 'Lost leg'],
];

const worded = { oddity: 'Odd but normal', deviation: 'Made other on purpose' };

interface EyeFoundProps {
  board: BoardMap;
  facing: Facing;
  place: PlaceOnBoard;
  /** Means the whole board again. */
  whole: () => void;
}

/** What the eye found at the place chosen, one tap each; and what is odd but normal, or other on purpose, in a few words. */
export function EyeFound({ board, facing, place, whole }: EyeFoundProps) {
  const person = usePerson();
  const queries = useQueryClient();
  const visitId = useOpenVisit(board.machineId);
  const [last, setLast] = useState<{ id: string; words: string; sent: Promise<Delivery> } | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const pin = async (kind: BoardNoteKind, words: string, text = '', reason = ''): Promise<boolean> => {
    const id = newId();
    const { x = null, y = null, elementId = null, pinId = null } = place;
    setError(null);
    const sent = post({
      id,
      path: `/api/machines/${board.machineId}/boards/${board.positionId}/notes`,
      words: `${words} on ${board.positionName}`,
      machineId: board.machineId,
      json: {
        id,
        kind,
        elementId,
        pinId,
        x,
        y,
        ...facing,
        text,
        reason,
        photographId: null,
        visitId,
        at: new Date().toISOString(),
        personId: person?.id ?? '',
      },
    });
    setLast({ id, words: `${words} at ${place.words}`, sent });
    const delivery = await sent;
    if (delivery.kind === 'refused') {
      await leaveOut(id);
      setLast(null);
      setError(new Error(delivery.why));
      return false;
    }
    await fresh();
    return true;
  };
  const fresh = async () => {
    for (const key of ['map', 'overlay', 'start', 'timeline']) {
      await queries.invalidateQueries({ queryKey: [key] });
    }
  };
  const takeBack = async ({ id, sent }: { id: string; sent: Promise<Delivery> }) => {
    try {
      // It may still be on its way: what has not left the device is taken off it.
      if ((await sent).kind === 'waiting') {
        await leaveOut(id);
      } else {
        await ask(retireBoardNote({ path: { id } }));
      }
      setLast(null);
      await fresh();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  return (
    <section aria-label="What the eye finds" className="mt-3">
      <h3 className="flex items-baseline gap-3 border-b border-rule-2">
        <span className="grow">
          What the eye finds at <span className={place.elementId ? 'font-mono' : ''}>{place.words}</span>
        </span>
        {(place.elementId ?? place.x) !== undefined && (
          <button
            type="button"
            className="link min-h-[32px] text-[14px] font-normal max-[899px]:min-h-[44px]"
            onClick={whole}
          >
            the whole board
          </button>
        )}
      </h3>
      <p className="mt-2 flex flex-wrap gap-1.5">
        {found.map(([kind, words]) => (
          <button
            key={kind}
            type="button"
            className="quiet min-h-[44px] px-2 text-[14px]"
            onClick={() => void pin(kind, words)}
          >
            {words}
          </button>
        ))}
      </p>
      {(['oddity', 'deviation'] as const).map((kind) => (
        <Disclosure as="div" key={kind} className="text-[14px]">
          <DisclosureButton className="link min-h-[44px]">{worded[kind]}</DisclosureButton>
          <DisclosurePanel>
            {({ close }) => (
              <Said
                name={`${kind}/${board.machineId}/${board.positionId}`}
                why={kind === 'oddity' ? 'Why that is normal' : 'Why it was made so'}
                pin={(text, reason) => pin(kind, worded[kind], text, reason)}
                close={close}
              />
            )}
          </DisclosurePanel>
        </Disclosure>
      ))}
      <p role="status" className="min-h-[24px] text-[14px] text-ink-2">
        {last && (
          <>
            {last.words}, noted.{' '}
            <button
              type="button"
              className="link min-h-[32px] max-[899px]:min-h-[44px]"
              onClick={() => void takeBack(last)}
            >
              Take it back
            </button>
          </>
        )}
      </p>
      <Problem error={error} />
    </section>
  );
}

interface SaidProps {
  name: string;
  why: string;
  pin: (text: string, reason: string) => Promise<boolean>;
  close: () => void;
}

/** What is odd but normal, or other on purpose, in a few words. */
function Said({ name, why, pin, close }: SaidProps) {
  const [{ text, reason }, setSaid] = useWritten(`eye/${name}`, { text: '', reason: '' });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void pin(text, reason).then((isKept) => {
          if (isKept) {
            setSaid({ text: '', reason: '' });
            close();
          }
        });
      }}
    >
      <label className="block">
        What it is
        <input
          autoFocus
          className="field mt-0.5"
          value={text}
          onChange={(event) => setSaid({ text: event.target.value, reason })}
        />
      </label>
      <label className="mt-1 block">
        {why}
        <input
          className="field mt-0.5"
          value={reason}
          onChange={(event) => setSaid({ text, reason: event.target.value })}
        />
      </label>
      <button type="submit" className="quiet mt-2">
        Pin it here
      </button>
    </form>
  );
}
