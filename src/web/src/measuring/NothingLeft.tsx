import { Link } from 'react-router';
import { type RoundView } from '../api/generated';
import { Key } from '../ui/Key';

/** No check comes next: what is left, or how there would be any. */
export function NothingLeft({ view, isRoundOn }: { view: RoundView; isRoundOn: boolean }) {
  return (
    <p className="border-y border-rule-2 py-6 text-[19px] font-semibold">
      {isRoundOn ? (
        <>
          {view.rows.some((r) => r.deadOnly && !r.reading && r.skipped === null)
            ? 'What is left of this round is measured dead. '
            : 'This round is read. '}
          <Link className="link" to={`/visits/${view.visitId}/reason`}>
            What it tells
          </Link>
        </>
      ) : view.waitingForDead > 0 ? (
        <>
          {view.waitingForDead} checks are left that are measured dead.{' '}
          <Link className="link" to={`/visits/${view.visitId}/safe`}>
            Prove it dead
          </Link>
          , or choose one on the sheet.
        </>
      ) : view.rows.length === 0 ? (
        <>
          Nothing is written on the sheet yet. Take an extra reading (<Key>F4</Key>), or write down what should be read
          on{' '}
          <Link className="link" to={`/machines/${encodeURIComponent(view.tag)}`}>
            the machine’s boards
          </Link>
          .
        </>
      ) : (
        'Everything on the sheet is measured. Write up the fault, or end the visit on the machine’s page.'
      )}
    </p>
  );
}
