import type { ElementOnMap } from '../api/generated';
import { lampFill } from '../ui/lamp';

interface ElementShapeProps {
  element: Pick<ElementOnMap, 'kind' | 'designator' | 'colour' | 'x' | 'y' | 'width' | 'height' | 'positions'>;
  /** Width of its lines. */
  line: number;
  chosen?: boolean;
}

/** What is drawn of an element besides its pins: each kind has a shape of its own, so that it is known without its colour. */
export function ElementShape({ element: e, line, chosen }: ElementShapeProps) {
  const [middleX, middleY] = [e.x + e.width / 2, e.y + e.height / 2];
  const radius = Math.min(e.width, e.height) / 2;
  const stroke = chosen ? 'stroke-rust' : 'stroke-ink';
  const width = chosen ? line * 2 : line;
  const box = (
    <rect
      x={e.x}
      y={e.y}
      width={e.width}
      height={e.height}
      className={`fill-transparent ${stroke}`}
      strokeWidth={width}
    />
  );
  switch (e.kind) {
    case 'indicator':
      return (
        <>
          <circle
            cx={middleX}
            cy={middleY}
            r={radius}
            fill={lampFill(e.colour)}
            className={stroke}
            strokeWidth={width}
          />
          <path
            d={`M${middleX - radius * 1.5},${middleY} h${radius * 0.35} M${middleX + radius * 1.15},${middleY} h${radius * 0.35} M${middleX},${middleY - radius * 1.5} v${radius * 0.35} M${middleX},${middleY + radius * 1.15} v${radius * 0.35}`}
            className={`fill-none ${stroke}`}
            strokeWidth={line}
          />
        </>
      );
    case 'trimmer':
      return (
        <>
          {box}
          <circle
            cx={middleX}
            cy={middleY}
            r={radius * 0.72}
            className={`fill-transparent ${stroke}`}
            strokeWidth={line}
          />
          <path
            d={`M${middleX - radius * 0.5},${middleY + radius * 0.5} L${middleX + radius * 0.5},${middleY - radius * 0.5}`}
            className={stroke}
            strokeWidth={line * 2}
          />
        </>
      );
    case 'relay':
      return (
        <>
          {box}
          <path d={`M${e.x},${e.y + e.height} L${e.x + e.width},${e.y}`} className={stroke} strokeWidth={line / 2} />
        </>
      );
    case 'testPoint':
      return (
        <circle
          cx={middleX}
          cy={middleY}
          r={radius}
          className={`fill-transparent ${stroke}`}
          strokeWidth={width}
          strokeDasharray={`${line * 2} ${line}`}
        />
      );
    case 'jumper':
    case 'switchBank':
      return (
        <>
          <rect
            x={e.x}
            y={e.y}
            width={e.width}
            height={e.height}
            className={`fill-rule ${stroke}`}
            strokeWidth={width}
          />
          {e.positions
            .filter((p) => p.isRequired && p.x !== null && p.y !== null)
            .map((p) => (
              <rect
                key={p.name}
                x={(p.x ?? 0) - (e.width > e.height ? e.height * 0.75 : radius * 0.8)}
                y={(p.y ?? 0) - (e.width > e.height ? radius * 0.8 : e.width * 0.75)}
                width={e.width > e.height ? e.height * 1.5 : radius * 1.6}
                height={e.width > e.height ? radius * 1.6 : e.width * 1.5}
                className="fill-ink-2 stroke-ink"
                strokeWidth={line}
              />
            ))}
        </>
      );
    case 'boardCable':
      return (
        <>
          {box}
          <rect
            x={e.x + line * 3}
            y={e.y + line * 3}
            width={Math.max(0, e.width - line * 6)}
            height={Math.max(0, e.height - line * 6)}
            className={`fill-none ${stroke}`}
            strokeWidth={line / 2}
          />
        </>
      );
    default:
      return box;
  }
}
