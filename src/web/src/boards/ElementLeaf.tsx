import type { BoardMap, ElementKind, ElementOnMap } from '../api/generated';
import { History } from '../history/History';

export const elementWords: Record<ElementKind, string> = {
  connector: 'connector',
  fuse: 'fuse',
  indicator: 'indicator',
  jumper: 'jumper',
  switchBank: 'switch bank',
  trimmer: 'trimmer',
  relay: 'relay',
  testPoint: 'test point',
  component: 'component',
  boardCable: 'board-to-board cable',
};

/** What an element tells, as one faces it, and what this build needs it to be. */
export function ElementLeaf({ element, board }: { element: ElementOnMap; board: BoardMap }) {
  return (
    <section aria-label={element.designator}>
      <h2 className="font-mono text-[24px]">{element.designator}</h2>
      <p>{[elementWords[element.kind], element.purpose].filter(Boolean).join(', ')}</p>
      {element.must && (
        <p className="mt-1 border-l-4 border-ink pl-2">
          This build needs <b className="font-mono">{element.must}</b>
        </p>
      )}
      <dl className="mt-2 text-[14px]">
        {element.lines.map((line) => (
          <div key={line.name} className="border-b border-rule py-1">
            <dt className="text-ink-2">{line.name}</dt>
            <dd>{line.text}</dd>
          </div>
        ))}
      </dl>
      <History kind="Element" recordId={`${board.boardTypeId}/${element.id}`} />
    </section>
  );
}
