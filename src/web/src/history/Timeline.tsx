import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import {
  addNote,
  editNote,
  getNote,
  getTimeline,
  openFault,
  type MachinePage,
  type NoteView,
  type TimelineEntry,
  type TimelineKind,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { usePerson } from '../people/person';
import { useAct } from '../outbox/useAct';
import { KeptProblem } from '../ui/Kept';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { dayOf } from '../ui/time';
import { History } from './History';
import { useLine } from '../ui/useDraft';
import { useKeeping } from '../ui/useKeeping';

const kinds: [TimelineKind, string][] = [
  ['visit', 'Visits'],
  ['fault', 'Faults'],
  ['board', 'Boards in and out'],
  ['snapshot', 'Settings'],
  ['reading', 'Readings off the book'],
  ['seen', 'Seen'],
  ['safety', 'Safety'],
  ['note', 'Notes'],
  ['photograph', 'Photographs'],
];

const kindWords: Record<TimelineKind, string> = {
  visit: 'visit',
  fault: 'fault',
  board: 'board',
  snapshot: 'settings',
  reading: 'reading',
  note: 'note',
  photograph: 'photograph',
  seen: 'seen',
  safety: 'safety',
};

/** A machine's record in one line of time; everything leads to where it came from. */
const everything = 'everything';

export function Timeline({ machine, visitId }: { machine: MachinePage; visitId: string | undefined }) {
  const [kind, setKind] = useState<TimelineKind | null>(null);
  const pages = useInfiniteQuery({
    queryKey: ['timeline', machine.id, kind],
    queryFn: ({ pageParam }) =>
      ask(
        getTimeline({
          path: { machineId: machine.id },
          query: { ...(kind ? { kind } : {}), ...(pageParam ? { before: pageParam } : {}) },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => (last.more ? last.entries.at(-1)?.at : undefined),
    placeholderData: keepPreviousData,
  });
  const counts = pages.data?.pages[0]?.counts ?? {};
  const entries = pages.data?.pages.flatMap((p) => p.entries) ?? [];
  return (
    <section aria-label="Time line" className="pt-2">
      <Write machine={machine} visitId={visitId} />
      <Tabs
        className="border-b border-rule-2"
        name="Show"
        value={kind ?? everything}
        tabs={[[everything, 'Everything'], ...kinds.filter(([k]) => (counts[k] ?? 0) > 0)]}
        onChange={(k) => setKind(k === everything ? null : k)}
      />
      <Problem error={pages.error} retry={() => void pages.refetch()} />
      {pages.data && entries.length === 0 && <p className="py-3 text-ink-2">Nothing is written here yet.</p>}
      <ul>
        {entries.map((entry) => (
          <Entry key={`${entry.kind}${entry.id}${entry.at}${entry.title}`} entry={entry} machine={machine} />
        ))}
      </ul>
      {pages.hasNextPage && (
        <button
          type="button"
          className="quiet mt-3"
          disabled={pages.isFetchingNextPage}
          onClick={() => void pages.fetchNextPage()}
        >
          Older
        </button>
      )}
    </section>
  );
}

function leadsTo({ kind, id }: TimelineEntry, tag: string): string | null {
  const machine = `/machines/${encodeURIComponent(tag)}`;
  switch (kind) {
    case 'visit':
      return `/visits/${id}`;
    case 'fault':
      return `/faults/${id}`;
    case 'board':
      return `${machine}/boards/${id}`;
    case 'snapshot':
      return `${machine}/settings?snapshot=${id}`;
    case 'reading':
      return id.startsWith('photograph/') ? `/photographs/${id.slice('photograph/'.length)}` : `/rounds/${id}`;
    case 'seen':
      // What is pinned to a board leads to the board.
      return id.startsWith('board/') ? `${machine}/boards/${id.slice('board/'.length)}` : `/visits/${id}/arrive`;
    case 'safety':
      return `/visits/${id}/safe`;
    case 'photograph':
      return `/photographs/${id}`;
    default:
      return null;
  }
}

function markOf({ kind, open }: TimelineEntry): MarkKind {
  if (kind === 'fault') {
    return open ? 'low' : 'within';
  }
  if ((kind === 'safety' || kind === 'seen') && open) {
    return 'differs';
  }
  return kind === 'visit' && open ? 'here' : kind === 'visit' ? 'cleared' : 'skipped';
}

function Entry({ entry, machine }: { entry: TimelineEntry; machine: MachinePage }) {
  const to = leadsTo(entry, machine.tag);
  const isWeighty = entry.kind === 'fault' || entry.open;
  return (
    <li className="grid grid-cols-[112px_1fr_auto] border-b border-rule">
      <span className="pt-1.5 font-mono text-[14px] text-ink-2">{dayOf(entry.at)}</span>
      <div className="flex min-w-0 gap-2 border-l border-ink-2 py-1.5 pl-2">
        <span className="pt-0.5">
          <Mark kind={markOf(entry)} />
        </span>
        <div className="min-w-0">
          <span className="sr-only">{kindWords[entry.kind]}: </span>
          {entry.kind === 'note' ? (
            <Note entry={entry} />
          ) : to ? (
            <Link to={to} className={`link break-words ${isWeighty ? 'font-bold' : ''}`}>
              {entry.title}
            </Link>
          ) : (
            <span className="break-words">{entry.title}</span>
          )}
          {entry.kind === 'fault' && (
            <span className={`ml-2 text-[14px] ${entry.open ? 'text-out' : 'text-within'}`}>
              {entry.open ? 'open' : 'closed'}
            </span>
          )}
          <p className="text-[14px] text-ink-2">{[entry.detail, entry.person].filter(Boolean).join(' · ')}</p>
        </div>
        {entry.hash && <img src={`/api/pictures/${entry.hash}/small`} alt="" className="ml-auto h-[44px]" />}
      </div>
      <span className="pt-1.5 pl-3 text-right font-mono text-[14px] text-ink-2">{entry.tail}</span>
    </li>
  );
}

/** A note in one line, and a fault written down by hand. */
function Write({ machine, visitId }: { machine: MachinePage; visitId: string | undefined }) {
  const person = usePerson();
  const go = useNavigate();
  const queries = useQueryClient();
  const { text, setText, takeBack } = useLine(`note/${machine.id}`);
  const note = useAct({
    words: `a note on ${machine.tag}: ${text}`,
    machineId: machine.id,
    send: (client) =>
      ask(
        addNote({
          client,
          body: { id: newId(), machineId: machine.id, visitId: visitId ?? null, text, personId: person?.id ?? '' },
        }),
      ),
    sent: () => setText(''),
    back: () => takeBack(text),
    taken: () => queries.invalidateQueries({ queryKey: ['timeline', machine.id] }),
  });
  const fault = useMutation({
    mutationFn: () =>
      ask(
        openFault({
          body: { id: newId(), machineId: machine.id, roundId: null, noticed: '', personId: person?.id ?? '' },
        }),
      ),
    onSuccess: (opened) => void go(`/faults/${opened.id}`),
  });
  return (
    <form
      className="flex items-end gap-3 pb-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) {
          note.act();
        }
      }}
    >
      <label className="grow text-[14px]">
        <span className="sr-only">Note</span>
        <input
          className="field"
          placeholder="A note on this machine"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="submit" className="quiet shrink-0">
        Note it
      </button>
      <button type="button" className="quiet shrink-0" onClick={() => fault.mutate()}>
        Write down a fault
      </button>
      <Problem error={note.error ?? fault.error} />
    </form>
  );
}

/** A note, changed where it stands. */
function Note({ entry }: { entry: TimelineEntry }) {
  const [isOpen, setIsOpen] = useState(false);
  return isOpen ? (
    <NoteEditor id={entry.id} close={() => setIsOpen(false)} />
  ) : (
    <button type="button" className="link min-h-[24px] text-left break-words" onClick={() => setIsOpen(true)}>
      {entry.title}
    </button>
  );
}

function NoteEditor({ id, close }: { id: string; close: () => void }) {
  const note = useQuery({ queryKey: ['note', id], queryFn: () => ask(getNote({ path: { id } })) });
  return note.data ? <NoteText note={note.data} close={close} /> : <Problem error={note.error} />;
}

function NoteText({ note: { id, version, text }, close }: { note: NoteView; close: () => void }) {
  const queries = useQueryClient();
  const { edit, write, keep, keepOver, settle, isChanged, error } = useKeeping(
    `note-text/${id}`,
    { version, text },
    async (next, client) => {
      const now = await ask(editNote({ client, path: { id }, body: next }));
      await queries.invalidateQueries();
      return now;
    },
  );
  const keepAndClose = async (kept: Promise<boolean>) => {
    if (await kept) {
      close();
    }
  };
  return (
    <form
      aria-label="Change the note"
      onSubmit={(event) => {
        event.preventDefault();
        void keepAndClose(keep(edit));
      }}
    >
      <label>
        <span className="sr-only">The note</span>
        <textarea
          autoFocus
          className="field"
          rows={2}
          value={edit.text}
          onChange={(event) => write({ ...edit, text: event.target.value })}
        />
      </label>
      <KeptProblem
        error={error}
        edit={edit}
        keepMine={(over) => void keepAndClose(keepOver(edit, over))}
        takeTheirs={(theirs) => {
          settle(theirs);
          close();
        }}
      />
      <p className="mt-1 flex gap-3">
        <button type="submit" className="quiet" disabled={!isChanged}>
          Keep the change
        </button>
        <button type="button" className="quiet" onClick={close}>
          Leave it
        </button>
      </p>
      <History kind="Note" recordId={id} onPutBack={close} />
    </form>
  );
}
