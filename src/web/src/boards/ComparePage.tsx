import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { compareRevisions } from '../api/generated';
import { ask } from '../api/ledger';
import { Frame } from '../ui/Frame';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';

/** Two revisions of a board type, thing by thing. */
export function ComparePage() {
  const { boardTypeId = '', otherId = '' } = useParams();
  const compared = useQuery({
    queryKey: ['compare', boardTypeId, otherId],
    queryFn: () => ask(compareRevisions({ path: { boardTypeId, otherId } })),
  });
  const { data } = compared;
  const mark = (before: string, after: string): [MarkKind, string] =>
    before === '' ? ['here', 'new'] : after === '' ? ['skipped', 'gone'] : ['marginal', 'changed'];
  return (
    <Frame title={data ? `${data.before} against ${data.after}` : 'Revisions'}>
      <Problem error={compared.error} retry={() => void compared.refetch()} />
      {compared.isPending && <p className="py-4 text-ink-2">Comparing…</p>}
      {data && (
        <div className="max-w-[1000px]">
          <div className="flex flex-wrap items-baseline gap-4 border-b border-rule-2 pb-1">
            <h2 className="title grow">
              {data.differences.length === 0
                ? 'The two are alike'
                : data.differences.length === 1
                  ? '1 difference'
                  : `${data.differences.length} differences`}
            </h2>
            <Link className="link" to={`/board-types/${boardTypeId}`}>
              {data.before}
            </Link>
            <Link className="link" to={`/board-types/${otherId}`}>
              {data.after}
            </Link>
          </div>
          {data.differences.length > 0 && (
            <table className="w-full border-collapse">
              <caption className="sr-only">Differences</caption>
              <thead>
                <tr className="text-left text-[14px] text-ink-2 [&>th]:py-1 [&>th]:pr-4 [&>th]:font-medium">
                  <th scope="col">Where</th>
                  <th scope="col">What</th>
                  <th scope="col">{data.before}</th>
                  <th scope="col">{data.after}</th>
                </tr>
              </thead>
              <tbody>
                {data.differences.map((d) => {
                  const [kind, words] = mark(d.before, d.after);
                  return (
                    <tr
                      key={`${d.where}${d.what}${d.before}${d.after}`}
                      className="border-t border-rule [&>td]:py-1 [&>td]:pr-4"
                    >
                      <td className="font-mono font-bold whitespace-nowrap">
                        <span className="inline-flex items-center gap-2">
                          <Mark kind={kind} /> {d.where}
                        </span>
                      </td>
                      <td>
                        {d.what} <span className="text-ink-2">{words}</span>
                      </td>
                      <td className="font-mono">{d.before || '–'}</td>
                      <td className="font-mono">{d.after || '–'}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          )}
        </div>
      )}
    </Frame>
  );
}
