import type { BoardNoteView } from '../api/generated';

interface NoteFlagProps {
  note: Pick<BoardNoteView, 'isFound'>;
  x: number;
  y: number;
  size: number;
}

/** A flag where something is pinned: filled for what the eye found, open for what is odd but normal or other on purpose. */
export function NoteFlag({ note, x, y, size }: NoteFlagProps) {
  return (
    <g transform={`translate(${x} ${y}) scale(${size})`} className={note.isFound ? 'text-out' : 'text-ink'}>
      <path d="M0,0 V-1.7" stroke="currentColor" strokeWidth={0.16} />
      <path
        d="M0,-1.7 L1.1,-1.3 L0,-0.9 Z"
        stroke="currentColor"
        strokeWidth={0.14}
        fill={note.isFound ? 'currentColor' : 'var(--sheet)'}
      />
      <circle r={0.18} fill="currentColor" />
      <rect x={-0.6} y={-1.9} width={2} height={2.4} fill="transparent" />
    </g>
  );
}
