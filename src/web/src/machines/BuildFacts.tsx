import { Link } from 'react-router';
import type { BuildFactKind, BuildView, DecisionKind } from '../api/generated';
import { Mark, type MarkKind } from '../ui/Mark';
import { More } from '../ui/More';

const marks: Record<DecisionKind, MarkKind> = {
  noVariants: 'untouched',
  decided: 'within',
  doubtful: 'marginal',
  contradicts: 'differs',
  none: 'differs',
  overlap: 'differs',
};
const words: Record<DecisionKind, string> = {
  noVariants: 'no build written yet',
  decided: 'decided',
  doubtful: 'doubtful',
  contradicts: 'the plate contradicts itself',
  none: 'no build answers',
  overlap: 'two builds answer',
};
const kinds: Record<BuildFactKind, string> = {
  supply: 'Supply',
  board: 'Board',
  fuse: 'Fuse',
  switch: 'Set to',
  setting: 'Setting',
  protective: 'Protective',
  replacement: 'Order',
};

/** Which build a machine is, why, and what must be so on it; what is otherwise is marked. */
export function BuildFacts({
  build,
  modelId,
  modelName,
  tag,
}: {
  build: BuildView;
  modelId: string;
  modelName: string;
  tag: string;
}) {
  return (
    <div data-testid="build">
      <p className="flex items-start gap-2 py-1">
        <span className="pt-0.5">
          <Mark kind={marks[build.kind]} />
        </span>
        <span>
          <b>{build.kind === 'decided' ? build.name : words[build.kind]}</b>
          <span className="block text-[14px] text-ink-2">{build.why}</span>
        </span>
      </p>
      {build.kind !== 'decided' && build.candidates.length > 0 && (
        <ul className="text-[14px]">
          {build.candidates.map((c) => (
            <li key={c.id} className="border-b border-rule py-1">
              <b>{c.name}</b> <span className="text-ink-2">{c.because}</span>
            </li>
          ))}
        </ul>
      )}
      {build.settle.length > 0 && (
        <p className="py-1 text-[14px]">
          <b>Settled by:</b> {build.settle.join('; ')}.
        </p>
      )}
      {build.facts.length > 0 && (
        <table className="w-full text-[14px]">
          <caption className="sr-only">What this build must have</caption>
          <thead className="sr-only">
            <tr>
              <th scope="col">What</th>
              <th scope="col">Must be</th>
            </tr>
          </thead>
          <tbody>
            {build.facts.map((f) => (
              <tr key={f.kind + f.where} className={`border-b border-rule align-top ${f.differs ? 'text-out' : ''}`}>
                <th scope="row" className="py-1 pr-2 text-left font-normal text-ink-2">
                  {kinds[f.kind]} {f.where !== 'supply' && f.where}
                </th>
                <td className="py-1">
                  <span className="font-mono">{f.must}</span>
                  {f.differs && (
                    <span className="flex items-center gap-2 font-bold">
                      <Mark kind="differs" /> differs: here it is {f.is}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {build.renamed.length > 0 && (
        <More title={<>{build.renamed.length} terminals are printed otherwise on this build</>} className="text-[14px]">
          <ul className="font-mono">
            {build.renamed.map((r) => (
              <li key={r.printed}>
                {r.printed} <span className="text-ink-2">elsewhere {r.elsewhere}</span>
              </li>
            ))}
          </ul>
        </More>
      )}
      <p className="text-[14px]">
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/models/${modelId}?from=${encodeURIComponent(tag)}`}
        >
          Builds and safety of {modelName || 'this model'}
        </Link>
      </p>
    </div>
  );
}
