import type { ProblemDetails } from '../api/ledger';

interface ClashProps {
  problem: ProblemDetails;
  keepMine: () => void;
  takeTheirs: () => void;
}

const shown = (value: unknown): string =>
  typeof value === 'string' && value !== '' ? value : value == null || value === '' ? 'nothing' : JSON.stringify(value);

/** Two people changed the same record: both texts, and the second chooses. */
export function Clash({ problem, keepMine, takeTheirs }: ClashProps) {
  const names = Object.keys(problem.theirs ?? {}).filter(
    (n) => n !== 'version' && problem.yours?.[n] !== problem.theirs?.[n],
  );
  return (
    <div role="alert" className="my-3 border-l-4 border-out bg-out-wash px-4 py-2 text-[14px]">
      <b>Changed by somebody else in between.</b>
      <dl>
        {names.map((name) => (
          <div key={name} className="mt-1">
            <dt className="font-semibold">{name}</dt>
            <dd>yours: {shown(problem.yours?.[name])}</dd>
            <dd>theirs: {shown(problem.theirs?.[name])}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 flex gap-3">
        <button type="button" className="quiet" onClick={keepMine}>
          Keep mine
        </button>
        <button type="button" className="quiet" onClick={takeTheirs}>
          Take theirs
        </button>
      </p>
    </div>
  );
}
