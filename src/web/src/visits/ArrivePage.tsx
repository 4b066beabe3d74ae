import { type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { type VisitStart, type VisitStep } from '../api/generated';
import { BuildFacts } from '../machines/BuildFacts';
import { SafeBand } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { useKeys } from '../ui/useKeys';
import { Catch } from './Catch';
import { OutsideChecks } from './OutsideChecks';
import { SkipStep, VisitMargin } from './VisitMargin';
import { statusMarks, statusWords, stepWords, useStart } from './start';

/** The first thing of a visit: what switching off will lose, which build it is, and the checks that open nothing. */
export function ArrivePage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return <OpeningPage title="Arrive" words="Opening the visit…" of={[start]} />;
  }
  return <Arriving start={start.data} />;
}

function Arriving({ start }: { start: VisitStart }) {
  const isCaught = start.steps.some((s) => s.step === 'catch' && s.status !== 'open');
  const go = useNavigate();
  useKeys((key) => {
    const to = { F9: start.lastRoundId && `/rounds/${start.lastRoundId}`, F7: `/visits/${start.visitId}/safe` }[key];
    if (to) {
      void go(to);
    }
    return Boolean(to);
  });
  return (
    <Frame
      tag={start.tag}
      title={start.machineName}
      place={start.site}
      band={<SafeBand start={start} />}
      margin={<VisitMargin start={start} here="arrive" />}
      marginLast
      leafName="Build and boards"
      leaf={<Build start={start} />}
    >
      <Step
        start={start}
        step="catch"
        hint="Ten seconds if that is all there is: one burst of the lamps and the display."
      >
        <Catch start={start} />
      </Step>
      <Step start={start} step="outsideChecks" hint="Before a cover comes off.">
        <OutsideChecks start={start} />
      </Step>
      <p className="mt-4 flex flex-wrap gap-3">
        <Link
          to={`/visits/${start.visitId}/safe`}
          className={`${isCaught ? 'action' : 'quiet'} inline-flex items-center`}
        >
          Make safe <span className="ml-2 font-mono text-[12px] font-normal">F7</span>
        </Link>
        {start.lastRoundId && (
          <Link to={`/rounds/${start.lastRoundId}`} className="quiet inline-flex items-center gap-2">
            Measure <Key>F9</Key>
          </Link>
        )}
      </p>
    </Frame>
  );
}

function Step({
  start,
  step,
  hint,
  children,
}: {
  start: VisitStart;
  step: VisitStep;
  hint?: string;
  children: ReactNode;
}) {
  const state = start.steps.find((s) => s.step === step);
  return (
    <section aria-label={stepWords[step]} className="border-b border-rule-2 py-2">
      <h2 className="flex flex-wrap items-baseline gap-x-3">
        {state && <Mark kind={statusMarks[state.status]} />}
        {stepWords[step]}
        {state && <span className="text-[14px] font-normal text-ink-2">{statusWords[state.status]}</span>}
        {hint && <span className="text-[14px] font-normal text-ink-2">{hint}</span>}
      </h2>
      {children}
      <SkipStep start={start} step={step} />
    </section>
  );
}

function Build({ start }: { start: VisitStart }) {
  return (
    <>
      <Step start={start} step="build">
        <BuildFacts build={start.build} modelId={start.modelId} modelName={start.modelName} tag={start.tag} />
      </Step>
      <Step start={start} step="boards">
        {start.boards.length === 0 && (
          <p className="text-[14px] text-ink-2">This model has no board written down yet.</p>
        )}
        <ul>
          {start.boards.map((p) => (
            <li key={p.positionId} className="flex flex-wrap items-center gap-x-2 border-b border-rule py-0.5">
              <Mark kind={p.isKnown ? 'within' : 'marginal'} />
              <span className="min-w-0 grow">
                {p.name} <span className="font-mono text-[14px]">{p.fitted || 'not written down'}</span>
                {!p.isKnown && (
                  <span className="block text-[14px] text-ink-2">
                    {p.fitted ? 'does not belong in this build' : 'more than one belongs here'}
                  </span>
                )}
              </span>
              {!start.hasEnded && (
                <Link
                  className="link inline-flex min-h-[36px] items-center text-[14px] max-[899px]:min-h-[44px]"
                  to={`/visits/${start.visitId}/boards/${p.positionId}`}
                  aria-label={`Which board is the ${p.name}?`}
                >
                  Which board is it?
                </Link>
              )}
            </li>
          ))}
        </ul>
      </Step>
    </>
  );
}
