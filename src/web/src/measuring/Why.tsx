import { originWords } from '../ui/origins';
import type { PathView, RoundView, RowView } from '../api/generated';

/** The working behind the last verdict, the stretch and the next check. */
export function Why({ view, row, path }: { view: RoundView; row: RowView | undefined; path: PathView | undefined }) {
  const last = view.last;
  return (
    <div role="region" aria-label="Why" className="settle border-b border-rule bg-paper px-3 py-2 text-[14px]">
      {last && (
        <p>
          <b className="font-mono">{last.redPrinted}</b> typed “{last.typed}”, understood as{' '}
          <b className="font-mono">{last.value}</b>
          {last.remark && ` with “${last.remark}”`}
          {last.limit && (
            <>
              , held against <b className="font-mono">{last.limit}</b>
            </>
          )}
          : {last.reason}. Rule: {last.rule}.{last.working && ` ${last.working}.`}
          {last.meter && !last.working && ` Read with ${last.meter}.`}
          {last.allTheSame && ` Not proved dead, measured all the same: ${last.allTheSame}.`}
        </p>
      )}
      {view.sets
        .filter((s) => last?.checkKey && s.members.includes(last.checkKey) && s.why.length > 0)
        .map((s) => (
          <p key={s.name}>
            <b>{s.words}</b>: {s.why.join('; ')}.
          </p>
        ))}
      {path?.stretches.map((stretch) => (
        <div key={stretch.sentence}>
          <b>{stretch.bad ? `The stretch to ${stretch.bad}` : stretch.sentence}</b>
          <ul className="list-disc pl-5">
            {stretch.why.map((line) => (
              <li key={line}>{line}</li>
            ))}
            {stretch.suspects.length > 0 && (
              <li>Under suspicion: {stretch.suspects.map((s) => s.words).join('; ')}.</li>
            )}
          </ul>
        </div>
      ))}
      {path?.explained.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {row && (
        <p>
          <b className="font-mono">{row.red?.printed ?? row.part}</b> should read {row.limit}
          {row.toleranceWords && ` (${row.toleranceWords})`}: from {row.limitOrigin}
          {row.red?.elsewherePrinted && `; other builds print ${row.red.elsewherePrinted}`}.
          {row.red && ` The pin: ${originWords(row.red.origins)}`}
        </p>
      )}
    </div>
  );
}
