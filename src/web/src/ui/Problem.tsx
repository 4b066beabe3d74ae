import { Refusal } from '../api/ledger';

/** An error where it happened, with what to do. */
export function Problem({ error, retry }: { error: Error | null; retry?: () => void }) {
  if (!error) {
    return null;
  }
  const title = error instanceof Refusal ? error.problem.title : undefined;
  return (
    <div role="alert" className="my-3 border-l-4 border-out bg-out-wash px-4 py-2">
      {title && <b>{title}. </b>}
      {error.message}
      {retry && (
        <button type="button" className="link ml-3" onClick={retry}>
          Try again
        </button>
      )}
    </div>
  );
}
