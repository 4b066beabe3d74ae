import { Refusal } from '../api/ledger';
import { Clash } from './Clash';
import { Problem } from './Problem';

/** Says whether what is written is kept. */
export function KeptWord({ isKeeping, isChanged }: { isKeeping: boolean; isChanged: boolean }) {
  return (
    <span className="text-[14px] font-normal text-ink-2" role="status">
      {isKeeping ? 'keeping…' : isChanged ? 'not kept yet' : 'kept'}
    </span>
  );
}

interface KeptProps<Edit extends { version: number }> {
  error: Error | null;
  edit: Edit;
  keepMine: (version: number) => void;
  takeTheirs: (theirs: Edit) => void;
}

/** What stands against keeping: a clash with both texts, or a problem. */
export function KeptProblem<Edit extends { version: number }>({ error, edit, keepMine, takeTheirs }: KeptProps<Edit>) {
  const clash = error instanceof Refusal && error.problem.theirs ? error.problem : undefined;
  return clash ? (
    <Clash
      problem={clash}
      keepMine={() => keepMine(clash.version ?? edit.version)}
      takeTheirs={() => takeTheirs({ ...edit, ...clash.theirs, version: clash.version ?? edit.version })}
    />
  ) : (
    <Problem error={error} />
  );
}

export const fieldInError = (error: Error | null): string | undefined =>
  error instanceof Refusal ? error.problem.field : undefined;
