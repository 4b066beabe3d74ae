import type { ProblemDetails } from '../api/ledger';

interface ClashProps {
  problem: ProblemDetails;
  keepMine: () => void;
  takeTheirs: () => void;
}

/** In words: of a list or a sheet, only what the other side has not. */
function shown(value: unknown, other: unknown): string {
  if (Array.isArray(value)) {
    const others = new Set(Array.isArray(other) ? other.map((o) => JSON.stringify(o)) : []);
    const only = value.filter((v) => !others.has(JSON.stringify(v)));
    return only.length > 0 ? only.map((v) => shown(v, undefined)).join('; ') : 'nothing else';
  }
  if (typeof value === 'object' && value !== null) {
    const others = new Map(Object.entries(typeof other === 'object' && other !== null ? other : {}));
    return Object.entries(value)
      .filter(([name, v]) => name !== 'id' && v !== null && v !== '' && !(Array.isArray(v) && v.length === 0))
      .filter(([name, v]) => JSON.stringify(v) !== JSON.stringify(others.get(name)))
      .map(([name, v]) => `${name.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)} ${shown(v, others.get(name))}`)
      .join(', ');
  }
  return value === null || value === undefined || value === '' ? 'nothing' : `${value as string | number | boolean}`;
}

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
            <dd>yours: {shown(problem.yours?.[name], problem.theirs?.[name])}</dd>
            <dd>theirs: {shown(problem.theirs?.[name], problem.yours?.[name])}</dd>
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
