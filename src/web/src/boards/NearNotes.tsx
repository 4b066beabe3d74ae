import type { BoardNoteView } from '../api/generated';

/** What is pinned near the pin that is probed, so that nobody chases it twice. */
export function NearNotes({ notes, pinId }: { notes: BoardNoteView[]; pinId: string | undefined }) {
  const near = notes.filter((n) => pinId !== undefined && n.nearPins.includes(pinId));
  return (
    <ul className="mt-1 text-[14px]" aria-label="Pinned near here">
      {near.map((n) => (
        <li key={n.id} className={`border-l-4 py-0.5 pl-2 ${n.isFound ? 'border-out' : 'border-ink'}`}>
          <b>{n.words}</b> at <span className="font-mono">{n.where}</span>
          {n.text && `: ${n.text}`}
          {n.reason && <span className="text-ink-2">, because {n.reason}</span>}
        </li>
      ))}
    </ul>
  );
}
