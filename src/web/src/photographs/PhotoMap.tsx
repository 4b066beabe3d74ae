import { memo } from 'react';
import type { PhotographOverlay } from '../api/generated';
import { type OnBoard, Shares } from '../boards/BoardMap';
import { NoteFlag } from '../boards/NoteFlag';
import { PinShape } from '../boards/PinShape';
import { PanZoom } from '../ui/PanZoom';
import { pressed } from '../ui/pressed';

interface PhotoMapProps extends Omit<OnBoard, 'onPickCorner'> {
  overlay: PhotographOverlay;
  onTap?: ((x: number, y: number) => void) | undefined;
  /** A point about to be set: first and last pin of what is drawn. */
  pending?: { x: number; y: number }[];
  /** The points it was laid by. */
  showsPoints?: boolean;
  className?: string;
}

/** The photograph as faced, with the layout lying on it in perspective; marks and probes stand on it as on the map. */
export function PhotoMap({ overlay, onTap, className, ...on }: PhotoMapProps) {
  return (
    <PanZoom
      key={`${overlay.photographId}${overlay.turns}${overlay.mirrored}`}
      width={overlay.width}
      height={overlay.height}
      label={`Photograph of ${overlay.map?.boardName ?? 'a board'}${overlay.isLaid ? `, ${overlay.map?.facingWords ?? ''}` : ''}`}
      testId="photo-map"
      className={className ?? ''}
      onTap={onTap}
    >
      <Drawn overlay={overlay} {...on} />
    </PanZoom>
  );
}

/** How the picture is turned and mirrored about its own corner, so that it is seen as faced. */
function transformOf({ turns, mirrored, originalWidth: w, originalHeight: h }: PhotographOverlay): string {
  const turn = ['', `matrix(0 1 -1 0 ${h} 0)`, `matrix(-1 0 0 -1 ${w} ${h})`, `matrix(0 -1 1 0 0 ${w})`][turns];
  return `${turn ?? ''} ${mirrored ? `matrix(-1 0 0 1 ${w} 0)` : ''}`.trim();
}

const Drawn = memo(function Drawn({
  overlay,
  red,
  black,
  marks,
  suspected,
  chosen,
  onPick,
  onPickElement,
  onPickNote,
  pending,
  showsPoints,
}: Omit<PhotoMapProps, 'onTap' | 'className'>) {
  const line = overlay.width / 500;
  const outlines = new Map(overlay.elements.map((e) => [e.elementId, e.outline]));
  const places = new Map(overlay.pins.map((p) => [p.pinId, p]));
  const radiusAt = (at: { r: number }) => Math.max(at.r * 0.5, line * 3);
  const path = (points: { x: number; y: number }[]) => points.map((p) => `${p.x},${p.y}`).join(' ');
  return (
    <>
      <image
        href={`/api/pictures/${overlay.hash}`}
        width={overlay.originalWidth}
        height={overlay.originalHeight}
        preserveAspectRatio="none"
        transform={transformOf(overlay)}
      />
      {overlay.outline.length > 0 && (
        <polygon
          points={path(overlay.outline)}
          className="fill-none stroke-sheet"
          strokeWidth={line * 2}
          strokeDasharray={`${line * 8} ${line * 5}`}
        />
      )}
      {overlay.map?.elements.map((e) => {
        const outline = outlines.get(e.id);
        return (
          outline && (
            <g
              key={e.id}
              {...pressed(
                onPickElement && (() => onPickElement(e)),
                [e.designator, e.purpose].filter(Boolean).join(', '),
              )}
            >
              <polygon points={path(outline)} className="fill-transparent stroke-sheet" strokeWidth={line * 3.4} />
              <polygon
                points={path(outline)}
                className={`fill-none ${e.id === chosen ? 'stroke-rust' : 'stroke-ink'}`}
                strokeWidth={line * (e.id === chosen ? 3 : 1.4)}
              />
            </g>
          )
        );
      })}
      {overlay.map?.pins.map((pin) => {
        const at = places.get(pin.id);
        return (
          at && (
            <PinShape
              key={pin.id}
              pin={pin}
              x={at.x}
              y={at.y}
              radius={radiusAt(at)}
              role={pin.id === red ? 'red' : pin.id === black ? 'black' : undefined}
              mark={marks?.get(pin.id)}
              suspected={suspected?.get(pin.id)}
              onPick={onPick}
              clear
            />
          )
        );
      })}
      {suspected && overlay.map && (
        <Shares
          pins={overlay.map.pins}
          place={(pin) => {
            const at = places.get(pin.id);
            return at && { ...at, r: radiusAt(at) };
          }}
          suspected={suspected}
          size={line * 14}
        />
      )}
      {overlay.map?.notes.map((note) => {
        const at = overlay.notes[note.id];
        return (
          at && (
            <g key={note.id} {...pressed(onPickNote && (() => onPickNote(note)), `${note.words} at ${note.where}`)}>
              <NoteFlag note={note} x={at.x} y={at.y} size={line * 14} />
            </g>
          )
        );
      })}
      {showsPoints &&
        overlay.points.map((p) => (
          <g key={p.name} transform={`translate(${p.x} ${p.y})`} className={p.disagrees ? 'text-out' : 'text-rust'}>
            <path
              d={`M${-line * 9},0 H${line * 9} M0,${-line * 9} V${line * 9}`}
              stroke="currentColor"
              strokeWidth={line * 2}
            />
            {p.disagrees && <circle r={line * 14} className="fill-none" stroke="currentColor" strokeWidth={line * 2} />}
          </g>
        ))}
      {pending?.map((p, i) => (
        <circle key={i} cx={p.x} cy={p.y} r={line * 7} className="fill-none stroke-rust" strokeWidth={line * 2.5} />
      ))}
    </>
  );
});
