import type { RoundView, RowView, SetView } from '../api/generated';
import { Key } from '../ui/Key';
import { Mark, markColour, markWords } from '../ui/Mark';
import { useKeys } from '../ui/useKeys';

/** The set that a check belongs to, else that of the last reading. */
const setOf = (view: RoundView, row: RowView | undefined): SetView | undefined =>
  view.sets.find((s) => view.last?.checkKey && s.members.includes(view.last.checkKey)) ??
  view.sets.find((s) => row && s.members.includes(row.key));

/** What should read alike, as it stands together; with one bad, the rest is one key away. */
export function Sets({
  view,
  row,
  moveTo,
}: {
  view: RoundView;
  row: RowView | undefined;
  moveTo: (key: string) => void;
}) {
  const set = setOf(view, row);
  const next = set?.bad.length ? set.left[0] : undefined;
  useKeys((key) => {
    if (key === 'F3' && next) {
      moveTo(next);
      return true;
    }
    return false;
  });
  if (!set || set.left.length === set.members.length) {
    return null;
  }
  return (
    <p className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1" data-testid="set">
      {set.kind === 'notJudged' ? (
        <Mark kind={set.bad.length > 0 ? 'high' : 'untouched'} />
      ) : (
        <>
          <Mark kind={set.kind} />
          <b className={markColour(set.kind)}>{set.kind === 'within' ? 'alike' : markWords(set.kind)}</b>
        </>
      )}
      <span title={set.why.join('; ')}>{set.words}</span>
      {next && (
        <button
          type="button"
          className="quiet inline-flex min-h-[32px] items-center gap-2 max-[899px]:min-h-[44px]"
          onClick={() => moveTo(next)}
        >
          Measure the rest <Key>F3</Key>
        </button>
      )}
    </p>
  );
}
