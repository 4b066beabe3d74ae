import type { RowView } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { Acts } from '../ui/Acts';
import { Key } from '../ui/Key';
import { Problem } from '../ui/Problem';
import { isOfWords, yesAndNo } from './modes';

const skipReasons = ['cannot reach', 'not fitted', 'guard in the way', 'not safe now'];

interface EntryProps {
  typed: string;
  setTyped: (text: string) => void;
  press: (key: string) => boolean;
  row: RowView;
  field: React.RefObject<HTMLInputElement | null>;
  invalid: boolean;
}

/** The number as it is typed, with its unit or what a sign stands for. */
export function Entry({ typed, setTyped, press, row, field, invalid }: EntryProps) {
  const said = yesAndNo[row.mode]?.[['+', '-'].indexOf(typed)];
  return (
    <div className={`flex items-stretch border-2 ${invalid ? 'border-out' : 'border-ink'}`}>
      <input
        ref={field}
        autoFocus
        autoComplete="off"
        autoCapitalize="off"
        spellCheck={false}
        inputMode={isOfWords(row.mode) ? 'text' : matchMedia('(max-width: 899px)').matches ? 'none' : 'decimal'}
        aria-label={`Reading at ${row.red?.printed ?? row.part}`}
        aria-invalid={invalid}
        className="h-[52px] w-full min-w-0 bg-sheet min-[900px]:h-[54px] px-4 font-mono text-[40px] font-bold caret-rust"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (!event.ctrlKey && !event.altKey && !event.metaKey && press(event.key)) {
            event.preventDefault();
          }
        }}
      />
      <span className="flex min-w-[58px] items-center justify-center border-l border-rule-2 px-3 text-[24px] text-ink-2">
        {said ?? row.unit}
      </span>
    </div>
  );
}

/** Asks which of two readings in one text counts. */
export function Choice({ error, choose }: { error: Refusal | null; choose: (choice: number) => void }) {
  const choices = error?.problem.choices;
  if (error?.problem.asksLive) {
    return null;
  }
  if (!choices) {
    return <Problem error={error} />;
  }
  return (
    <div role="alert" className="my-2 border-l-4 border-rust bg-rust-wash px-4 py-2">
      <b>Which one counts?</b>
      {choices.map((choice, i) => (
        <button
          key={choice}
          type="button"
          className="quiet ml-3 min-h-[44px] border-ink font-mono font-bold"
          autoFocus={i === 0}
          onClick={() => choose(i)}
        >
          {choice}
        </button>
      ))}
    </div>
  );
}

/** The keys where they act; under a thumb only the reasons for a skip, below the path. */
export function EntryKeys({
  row,
  skip,
  shows,
  thumb,
}: {
  row: RowView;
  skip: (reason: string) => void;
  /** Says whether the fault shows meanwhile, where that does not stand on the page yet. */
  shows: (() => void) | undefined;
  thumb?: boolean;
}) {
  const words = yesAndNo[row.mode];
  return (
    <p
      className={`flex flex-wrap items-center gap-x-4 gap-y-1 py-1 text-[14px] text-ink-2 ${thumb ? 'min-[900px]:hidden' : 'max-[899px]:hidden'}`}
    >
      <span className={thumb ? 'hidden' : 'contents'}>
        <span>
          <Key>Enter</Key> store
        </span>
        <span>
          <Key>*</Key> OL
        </span>
        {words && (
          <span>
            <Key>+</Key> {words[0]} <Key>-</Key> {words[1]}
          </span>
        )}
        <span>
          <Key>/</Key> later
        </span>
        <span>
          <Key>⌫</Key> take back
        </span>
        {shows && row.energised && (
          <span>
            <Key>F7</Key> it shows
          </span>
        )}
      </span>
      <Acts
        name="Skip"
        className="min-h-[28px] max-[899px]:min-h-[44px]"
        acts={skipReasons.map((reason) => ({ words: reason, act: () => skip(reason) }))}
      />
      {thumb && shows && row.energised && (
        <button type="button" className="min-h-[44px] border border-rule-2 px-2" onClick={shows}>
          Does it show?
        </button>
      )}
    </p>
  );
}
