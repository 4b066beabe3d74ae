import type { RoundView, RowView, WatchedWhile } from '../api/generated';
import { Key } from '../ui/Key';
import { useDraft } from '../ui/useDraft';

/** The remarks that say whether the fault showed while something was read; nothing where nobody looked. */
const showing = ['', 'showing', 'not showing'] as const;

/** The next of what can be said, by its key. */
export const nextShowing = (shows: string): string =>
  showing[(showing.findIndex((s) => s === shows) + 1) % showing.length] ?? '';

/** A reading with what was said of the fault meanwhile; a doubt stays at the end. */
export const withShowing = (typed: string, shows: string): string =>
  shows === '' ? typed : typed.trim().replace(/\s*(\??)$/, ` ${shows}$1`);

interface MeanwhileProps {
  watch: WatchedWhile;
  sign: string;
  shows: string;
  setShows: (shows: string) => void;
}

/** What fails, as it was just then: a reading taken while a fault is away tells nothing of it. */
export function Meanwhile({ watch, sign, shows, setShows }: MeanwhileProps) {
  const words = ['nobody looked', watch.shows, watch.away];
  return (
    <fieldset className="mt-1 flex flex-wrap items-center gap-x-4">
      <legend className="float-left mr-4 leading-[44px] text-ink-2 max-[899px]:-mb-2 max-[899px]:w-full">
        Meanwhile {watch.words}{' '}
        <span className="max-[899px]:hidden">
          <Key>{sign}</Key>
        </span>
      </legend>
      {showing.map((remark, i) => (
        <label key={remark} className="flex min-h-[44px] cursor-pointer items-center gap-2">
          <input
            type="radio"
            name="meanwhile"
            className="size-[18px] accent-rust"
            checked={shows === remark}
            onChange={() => setShows(remark)}
          />
          {words[i]}
        </label>
      ))}
    </fieldset>
  );
}

/** What may be away while something of a round is read: the complaint that stands above it says what it is. */
const theFault = { words: 'the fault', shows: 'shows', away: 'is away' };

/** Whether the fault shows, as it is said of the reading that is being typed. */
export function useMeanwhile(view: RoundView, row: RowView | undefined) {
  const [is, say] = useDraft(`shows/${view.id}`);
  return {
    is,
    say,
    isAsked: row?.energised === true && (is !== '' || view.mayComeAndGo),
    next: () => say(nextShowing(is)),
    line: <Meanwhile watch={theFault} sign="F7" shows={is} setShows={say} />,
  };
}
