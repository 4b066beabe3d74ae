import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { listAlikeBoards, listRegisterChoices } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Preview } from '../outbox/WaitingPage';
import { leaveOut, post } from '../outbox/outbox';
import { usePerson } from '../people/person';
import { take } from '../photographs/take';
import { TakeButton } from '../photographs/TakeButton';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { SuggestBox } from '../ui/SuggestBox';
import { Tick } from '../ui/Tick';
import { useWritten } from '../ui/useDraft';
import { usedIn } from './FitBoard';

const later = [
  { name: 'name', label: 'What it is', hint: 'for example luggage belt controller' },
  { name: 'maker', label: 'Maker', hint: '' },
  { name: 'serial', label: 'Serial', hint: 'as on the plate; ? for a sign that cannot be read' },
  { name: 'boards', label: 'Boards', hint: 'part numbers, separated by commas' },
] as const;

const nothing = {
  tag: '',
  site: '',
  name: '',
  maker: '',
  serial: '',
  boards: '',
  modelId: '',
  which: {} as Record<string, string>,
};

/** Said of a board that bears the number of another. */
const another = ['', 'another one with the same number'] as const;

const numbersIn = (boards: string) =>
  boards
    .split(',')
    .map((b) => b.trim())
    .filter(Boolean);

/** A machine begun on site: plate photographed, tag, site. The rest can come later. */
export function NewMachinePage() {
  const person = usePerson();
  const go = useNavigate();
  const choices = useQuery({ queryKey: ['registerChoices'], queryFn: () => ask(listRegisterChoices()) });
  const [text, setText] = useWritten('new-machine', nothing);
  const numbers = numbersIn(text.boards);
  const alike = useQuery({
    queryKey: ['alike', ...numbers],
    queryFn: async () =>
      Promise.all(
        numbers.map(async (number) => ({
          number,
          boards: await ask(listAlikeBoards({ query: { partNumber: number } })),
        })),
      ),
    enabled: numbers.length > 0,
    placeholderData: (before) => before,
  });
  const known =
    text.modelId === '' ? (alike.data ?? []).filter((k) => k.boards.length > 0 && numbers.includes(k.number)) : [];
  const [pictures, setPictures] = useState<File[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const [isBusy, setIsBusy] = useState(false);

  const begin = async () => {
    if (!text.tag.trim()) {
      setProblem('Type the tag first: what your sticker says.');
      return;
    }
    const open = known.find(({ number }) => text.which[number] === undefined);
    if (open) {
      setProblem(`${open.number} is known: say below whether it is that board, or another with the same number.`);
      return;
    }
    setIsBusy(true);
    setProblem(null);
    const [machineId, tag] = [newId(), text.tag.trim()];
    const sent = post({
      id: machineId,
      machineId,
      path: '/api/machines',
      words: `new machine ${tag}`,
      json: {
        ...text,
        id: machineId,
        modelId: text.modelId || null,
        boards: text.modelId === '' ? numbersIn(text.boards) : [],
        which: Object.fromEntries(
          known.flatMap(({ number }) => {
            const which = text.which[number];
            return which ? [[number, which]] : [];
          }),
        ),
      },
    });
    const outcome = await sent;
    if (outcome.kind === 'refused') {
      await leaveOut(machineId);
      setProblem(outcome.why);
      setIsBusy(false);
      return;
    }
    setText(nothing);
    if (person) {
      take(pictures, { machineId, tag, kind: 'plate', personId: person.id });
    }
    // With the ledger out of reach the machine waits on this device, and so do its photographs.
    await go(outcome.kind === 'taken' ? `/machines/${encodeURIComponent(tag)}/photographs` : '/waiting');
  };

  return (
    <Frame title="New machine">
      <form
        className="mx-auto max-w-[560px] py-2"
        onSubmit={(event) => {
          event.preventDefault();
          void begin();
        }}
      >
        <h2 className="title">New machine</h2>
        <div className="mt-3 flex items-center gap-3">
          <TakeButton
            className="quiet min-h-[44px] grow font-bold"
            label="Plate"
            onTake={(files) => setPictures((was) => [...was, ...files])}
          >
            Photograph the plate
          </TakeButton>
          {pictures.map((picture) => (
            <Preview
              key={`${picture.name}${picture.lastModified}`}
              picture={picture}
              words="plate"
              className="h-[64px] border border-rule-2"
            />
          ))}
        </div>
        <label className="mt-4 block">
          Tag <span className="text-ink-2">as on your sticker</span>
          <input
            autoFocus
            autoCapitalize="characters"
            className="field mt-1 font-mono text-[24px]"
            aria-invalid={problem !== null}
            value={text.tag}
            onChange={(event) => setText({ ...text, tag: event.target.value })}
          />
        </label>
        <label className="mt-3 block">
          Site
          <SuggestBox
            className="field mt-1"
            usual={(choices.data?.sites ?? []).map((site) => ({ text: site }))}
            value={text.site}
            onChange={(site) => setText({ ...text, site })}
          />
        </label>
        <label className="mt-3 block">
          Another of
          <Choose
            className="mt-1"
            value={text.modelId}
            options={[
              { value: '', words: 'none that is here: a model of its own' },
              ...(choices.data?.models ?? []).map((m) => ({ value: m.id, words: m.words })),
            ]}
            onChange={(modelId) => setText({ ...text, modelId })}
          />
          {text.modelId !== '' && (
            <span className="text-[14px] text-ink-2">
              It has that model’s boards, wiring and checks; what is so on this machine only is said at it.
            </span>
          )}
        </label>
        {problem && (
          <div role="alert" className="my-3 border-l-4 border-out bg-out-wash px-4 py-2">
            {problem}
          </div>
        )}
        <button type="submit" className="action mt-4 w-full" disabled={isBusy}>
          Begin
        </button>
        <h3 className="mt-6 border-b border-rule-2 pb-1 text-ink-2">If there is time; otherwise later</h3>
        {later
          .filter((field) => text.modelId === '' || field.name !== 'boards')
          .map((field) => (
            <label key={field.name} className="mt-3 block">
              {field.label} {field.hint && <span className="text-ink-2">{field.hint}</span>}
              <input
                className="field mt-1 font-mono"
                value={text[field.name]}
                onChange={(event) => setText({ ...text, [field.name]: event.target.value })}
              />
            </label>
          ))}
        {known.map(({ number, boards }) => (
          <fieldset key={number} className="mt-2 border-l-4 border-rust bg-rust-wash px-3 py-1">
            <legend className="sr-only">Which {number} is it?</legend>
            <p className="font-bold">{number} is known. Is it that one?</p>
            <p className="text-ink-2">What is entered for a board holds for every machine that has it.</p>
            {[
              ...boards.map((k) => [k.id, `${k.printed}, ${k.name}, ${k.pins} pins, ${usedIn(k)}`] as const),
              another,
            ].map(([id, words]) => (
              <Tick
                key={id}
                on={text.which[number] === id}
                set={(on) => {
                  const { [number]: _, ...rest } = text.which;
                  setText({ ...text, which: on ? { ...rest, [number]: id } : rest });
                }}
              >
                {words}
              </Tick>
            ))}
          </fieldset>
        ))}
        <p className="mt-4 text-ink-2">
          Boards and places come next, from photographs.{' '}
          <Link to="/machines" className="link">
            All machines
          </Link>
        </p>
      </form>
    </Frame>
  );
}
