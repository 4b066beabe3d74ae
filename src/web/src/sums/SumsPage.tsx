import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { listSums, type SumView, type VisitStart } from '../api/generated';
import { ask } from '../api/ledger';
import { SafeBand } from '../safety/SafeBand';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { useWide } from '../ui/useWide';
import { useStart } from '../visits/start';
import { VisitMargin } from '../visits/VisitMargin';
import { KeptSums } from './KeptSums';
import { Sum } from './Sum';

/** The sums of the bench: by themselves, or beside a visit with which they can be kept. */
export function SumsPage() {
  const { visitId, sumId } = useParams();
  const start = useStart(visitId);
  const sums = useQuery({ queryKey: ['sums'], queryFn: () => ask(listSums()), staleTime: Infinity });
  if (!sums.data || (visitId && !start.data)) {
    return <OpeningPage title="Bench sums" words="Opening the sums…" of={visitId ? [sums, start] : [sums]} />;
  }
  const sum = sums.data.find((s) => s.id === sumId) ?? sums.data[0];
  return (
    <Frame
      {...(start.data
        ? {
            tag: start.data.tag,
            place: start.data.site,
            band: visit(start.data) && <SafeBand start={start.data} />,
            margin: <VisitMargin start={start.data} here="sums" brief />,
            leafName: 'Kept with this visit',
            leaf: <KeptSums start={start.data} />,
          }
        : { margin: <Margin /> })}
      title={start.data ? start.data.machineName : 'Bench sums'}
      marginLast
    >
      <h2 className="title border-b border-rule-2 pb-1">Bench sums</h2>
      <div className="mt-2 flex flex-col gap-x-8 gap-y-3 min-[900px]:flex-row">
        <Contents sums={sums.data} here={sum?.id} below={visitId ? `/visits/${visitId}/sums` : '/sums'} />
        <div className="min-w-0 grow">{sum && <Sum key={sum.id} sum={sum} start={visit(start.data)} />}</div>
      </div>
      <Problem error={sums.error ?? start.error} />
    </Frame>
  );
}

const visit = (start: VisitStart | undefined): VisitStart | undefined => (start?.hasEnded ? undefined : start);

function Contents({ sums, here, below }: { sums: SumView[]; here: string | undefined; below: string }) {
  const wide = useWide();
  const go = useNavigate();
  if (!wide) {
    return (
      <Choose
        name="Sum"
        value={here ?? ''}
        options={sums.map((s) => ({ value: s.id, words: s.name }))}
        onChange={(id) => void go(`${below}/${id}`, { replace: true })}
      />
    );
  }
  const groups = [...new Set(sums.map((s) => s.group))];
  return (
    <nav aria-label="Sums" className="w-[232px] shrink-0">
      {groups.map((group) => (
        <div key={group} className="mb-2">
          <h3 className="text-[14px] text-ink-2">{group}</h3>
          <ul>
            {sums
              .filter((s) => s.group === group)
              .map((s) => (
                <li key={s.id} className="border-b border-rule">
                  <Link
                    to={`${below}/${s.id}`}
                    replace
                    aria-current={s.id === here ? 'page' : undefined}
                    className={`flex min-h-[34px] items-center ${s.id === here ? 'font-bold text-rust' : ''}`}
                  >
                    {s.name}
                  </Link>
                </li>
              ))}
          </ul>
        </div>
      ))}
    </nav>
  );
}

function Margin() {
  return (
    <>
      <p>
        <Link to="/" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
          The day
        </Link>
      </p>
      <p className="mt-3 text-[14px] text-ink-2">
        Opened from a visit, a sum can be kept with it. Live parts can hurt: your local code and the licensed person
        come first.
      </p>
    </>
  );
}
