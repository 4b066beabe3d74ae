import { Disclosure, DisclosurePanel } from '@headlessui/react';
import type { PathView, RoundView, RowView } from '../api/generated';
import { LastReading } from './LastReading';
import { Key } from '../ui/Key';
import { Normal, useNormal } from './Normal';
import { Sets } from './Sets';
import { Why } from './Why';

interface ToldProps {
  view: RoundView;
  row: RowView | undefined;
  path: PathView | undefined;
  why: React.RefObject<HTMLButtonElement | null>;
  moveTo: (key: string) => void;
  /** Opens the reading of the other leg. */
  readLeg: () => void;
}

/** What the reading just stored means: by itself, why, among its set, and that it may be right all the same. */
export function Told({ view, row, path, why, moveTo, readLeg }: ToldProps) {
  const normal = useNormal(view.last);
  return (
    <>
      <Disclosure>
        <LastReading view={view} why={why}>
          {normal.isOffered && (
            <button
              type="button"
              className="inline-flex min-h-[32px] shrink-0 cursor-pointer items-center gap-2 self-start text-[14px] max-[899px]:min-h-[44px]"
              aria-expanded={normal.isOpen}
              onClick={() => normal.open(!normal.isOpen)}
            >
              Right here <Key>F7</Key>
            </button>
          )}
        </LastReading>
        <DisclosurePanel>
          <Why view={view} row={row} path={path} />
        </DisclosurePanel>
      </Disclosure>
      {view.otherLeg && (
        <p data-testid="other-leg" className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
          <span>
            One leg tells half: now the {view.otherLeg.isReturn ? 'return' : 'supply'},{' '}
            <b className="font-mono">{view.otherLeg.red.printed}</b> to{' '}
            <b className="font-mono">{view.otherLeg.black.printed}</b>, as loaded.
          </span>
          <button
            type="button"
            className="inline-flex min-h-[32px] cursor-pointer items-center gap-2 max-[899px]:min-h-[44px]"
            onClick={readLeg}
          >
            Read it <Key>F9</Key>
          </button>
        </p>
      )}
      <Sets view={view} row={row} moveTo={moveTo} />
      {normal.isOpen && view.last && (
        <Normal key={view.last.id} view={view} reading={view.last} close={() => normal.open(false)} />
      )}
    </>
  );
}
