import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editBoardNote, retireBoardNote, type BoardMap, type BoardNoteView } from '../api/generated';
import { ask } from '../api/ledger';
import { usePerson } from '../people/person';
import { take } from '../photographs/take';
import { TakeButton } from '../photographs/TakeButton';
import { KeptProblem } from '../ui/Kept';
import { dayOf } from '../ui/time';
import { NoteFlag } from './NoteFlag';

interface NotesProps {
  board: BoardMap;
  pinId?: string | undefined;
  elementId?: string | undefined;
}

/** What is pinned near what is chosen; all of the board's notes where nothing is. */
export function Notes({ board, pinId, elementId }: NotesProps) {
  const near = board.notes.filter((n) =>
    pinId ? n.nearPins.includes(pinId) : elementId ? n.elementId === elementId : true,
  );
  if (near.length === 0) {
    return null;
  }
  return (
    <section aria-label="Pinned here" className="mt-3">
      <h3 className="border-b border-rule-2 text-[14px] text-ink-2">
        {pinId || elementId ? 'Pinned near here' : 'Pinned to this board'}
      </h3>
      <ul>
        {near.map((note) => (
          <Note key={note.id} note={note} board={board} />
        ))}
      </ul>
    </section>
  );
}

interface Change {
  text?: string;
  reason?: string;
  photographId?: string | null;
}

function Note({ note, board }: { note: BoardNoteView; board: BoardMap }) {
  const person = usePerson();
  const queries = useQueryClient();
  const [edit, setEdit] = useState<{ text: string; reason: string } | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const fresh = () => queries.invalidateQueries({ queryKey: ['map'] });
  const [wanted, setWanted] = useState<Change>({});
  const keep = async (change: Change, version = note.version) => {
    setWanted(change);
    try {
      setError(null);
      const { kind, text, reason, photographId } = note;
      await ask(
        editBoardNote({ path: { id: note.id }, body: { version, kind, text, reason, photographId, ...change } }),
      );
      setEdit(null);
      await fresh();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  const strike = async () => {
    try {
      await ask(retireBoardNote({ path: { id: note.id } }));
      await fresh();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  return (
    <li className="border-b border-rule py-1 text-[14px]">
      <p className="flex items-start gap-2">
        <svg viewBox="-4 -20 18 22" className="mt-0.5 h-[20px] w-[16px] shrink-0" aria-hidden="true">
          <NoteFlag note={note} x={0} y={0} size={10} />
        </svg>
        <span className="min-w-0 grow">
          <b>{note.words}</b> at <span className={note.elementId ? 'font-mono' : ''}>{note.where}</span>
          {note.text && <span className="block">{note.text}</span>}
          {note.reason && <span className="block text-ink-2">because {note.reason}</span>}
          <span className="block text-ink-2">
            {dayOf(note.at)}, {note.person}
          </span>
        </span>
        {note.picture && (
          <a href={`/api/pictures/${note.picture}`} aria-label={`Photograph: ${note.words} at ${note.where}`}>
            <img src={`/api/pictures/${note.picture}/small`} alt="" className="h-[56px] w-[72px] object-cover" />
          </a>
        )}
      </p>
      {edit ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void keep(edit);
          }}
        >
          <label className="block">
            What it is
            <input
              className="field"
              value={edit.text}
              onChange={(event) => setEdit({ ...edit, text: event.target.value })}
            />
          </label>
          <label className="block">
            Why
            <input
              className="field"
              value={edit.reason}
              onChange={(event) => setEdit({ ...edit, reason: event.target.value })}
            />
          </label>
          <button type="submit" className="quiet mt-1">
            Keep
          </button>
        </form>
      ) : (
        <p className="flex flex-wrap gap-x-4">
          <button
            type="button"
            className="link min-h-[32px] max-[899px]:min-h-[44px]"
            onClick={() => setEdit({ text: note.text, reason: note.reason })}
          >
            Say more
          </button>
          <TakeButton
            className="link min-h-[32px] max-[899px]:min-h-[44px]"
            label={`Photograph of ${note.words}`}
            onTake={(files) => {
              const [id] = take(files.slice(0, 1), {
                machineId: board.machineId,
                tag: board.positionName,
                kind: 'board',
                personId: person?.id ?? '',
                visitId: note.visitId ?? undefined,
                positionId: board.positionId,
              });
              if (id) {
                void keep({ photographId: id });
              }
            }}
          >
            Photograph
          </TakeButton>
          <button type="button" className="link min-h-[32px] max-[899px]:min-h-[44px]" onClick={() => void strike()}>
            Strike out
          </button>
        </p>
      )}
      <KeptProblem
        error={error}
        edit={{ version: note.version }}
        keepMine={(version) => void keep(wanted, version)}
        takeTheirs={() => {
          setEdit(null);
          setError(null);
          void fresh();
        }}
      />
    </li>
  );
}
