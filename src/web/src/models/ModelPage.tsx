import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import {
  editOutsideChecks,
  editSafety,
  editRoundRules,
  editSignatures,
  editVariants,
  getModel,
  lookAtVariants,
  type ModelPage as Page,
} from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Coverage } from './Coverage';
import { LinesLeaf } from './LinesLeaf';
import { OutsideEditor } from './OutsideEditor';
import { SafetyEditor } from './SafetyEditor';
import { useSheet } from './useSheet';
import { VariantEditor } from './VariantEditor';

/** A model: its builds and what follows from them, what can hurt at it, and its outside checks. */
export function ModelPage() {
  const { modelId = '' } = useParams();
  const [from] = useSearchParams();
  const tag = from.get('from');
  const [putBacks, setPutBacks] = useState(0);
  const model = useQuery({
    queryKey: ['model', modelId],
    queryFn: () => ask(getModel({ path: { id: modelId } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  const title = model.data ? `${model.data.maker} ${model.data.name}` : 'Model';
  return (
    <Frame
      {...(tag ? { tag } : {})}
      title={title}
      margin={
        <>
          <ul className="space-y-1">
            {[
              ['#builds', 'Builds'],
              ['#safety', 'What can hurt'],
              ['#outside', 'Outside checks'],
              ['#timings', 'What times mean'],
              ['#round-rules', 'Order of a round'],
            ].map(([to, words]) => (
              <li key={to}>
                <a href={to} className="flex min-h-[32px] items-center max-[899px]:min-h-[44px]">
                  {words}
                </a>
              </li>
            ))}
            <li>
              <a
                href={`/api/models/${encodeURIComponent(modelId)}/bundle`}
                download
                className="flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
              >
                As a bundle
              </a>
            </li>
            {tag && (
              <li>
                <Link
                  className="link flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
                  to={`/machines/${encodeURIComponent(tag)}`}
                >
                  Page of {tag}
                </Link>
              </li>
            )}
          </ul>
          {model.data && <Machines model={model.data} />}
        </>
      }
    >
      {model.data ? (
        <div key={putBacks} className="pb-6">
          <Builds model={model.data} />
          <Safety model={model.data} />
          <Outside model={model.data} />
          <Timings model={model.data} />
          <OrderOfRound model={model.data} />
          <History
            kind="Model"
            recordId={modelId}
            within
            onPutBack={() => {
              void model.refetch().then(() => setPutBacks(putBacks + 1));
            }}
          />
        </div>
      ) : model.isPending ? (
        <p className="py-6 text-ink-2">Opening the model…</p>
      ) : (
        <Problem error={model.error} retry={() => void model.refetch()} />
      )}
    </Frame>
  );
}

function Machines({ model }: { model: Page }) {
  return (
    <>
      <h2 className="mt-4 text-[15px] text-ink-2">Machines of it</h2>
      <ul className="text-[14px]">
        {model.machines.map((m) => (
          <li key={m.tag} className="border-b border-rule py-1">
            <Link className="link font-mono" to={`/machines/${encodeURIComponent(m.tag)}`}>
              {m.tag}
            </Link>
            <span className="flex items-start gap-2">
              <Mark kind={m.kind === 'decided' ? 'within' : m.kind === 'noVariants' ? 'untouched' : 'marginal'} />
              {m.kind === 'noVariants' ? 'no build written yet' : m.build || m.why}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Builds({ model }: { model: Page }) {
  const { sheet, change, settle, kept } = useSheet(
    `model-builds/${model.id}`,
    model.versionOfVariants,
    model.variants,
    async (version, next, client) => ({
      version: (await ask(editVariants({ client, path: { id: model.id }, body: { version, sheet: next } })))
        .versionOfVariants,
    }),
  );
  const coverage = useQuery({
    queryKey: ['coverage', sheet],
    queryFn: () => ask(lookAtVariants({ body: sheet })),
    placeholderData: (before) => before,
    initialData: JSON.stringify(sheet) === JSON.stringify(model.variants) ? model.coverage : undefined,
  });
  return (
    <section aria-labelledby="builds">
      <h2 id="builds" className="title">
        Builds
      </h2>
      <p className="text-[14px] text-ink-2">
        Chosen by build date, serial number, supply or finish; both ends of a range are in it.
      </p>
      {coverage.data && <Coverage spans={coverage.data} />}
      <VariantEditor model={model} sheet={sheet} change={change} settle={settle} />
      {kept}
    </section>
  );
}

function Safety({ model }: { model: Page }) {
  const { sheet, change, settle, kept } = useSheet(
    `model-safety/${model.id}`,
    model.versionOfSafety,
    model.safety,
    async (version, next, client) => ({
      version: (await ask(editSafety({ client, path: { id: model.id }, body: { version, sheet: next } })))
        .versionOfSafety,
    }),
  );
  return (
    <section aria-labelledby="safety" className="mt-6">
      <h2 id="safety" className="title">
        What can hurt
      </h2>
      <SafetyEditor model={model} sheet={sheet} change={change} settle={settle} />
      {kept}
    </section>
  );
}

function Timings({ model }: { model: Page }) {
  return (
    <LinesLeaf
      name="timings"
      title="What times mean"
      hint={
        <>
          A line each: what happens after how many seconds, then what that means. The stopwatch of a visit names the
          likeliest. Such as{' '}
          <span className="font-mono">fan 0, spark 15 ±3 x3 every 25, trip 80 ±8: no flame seen</span>
        </>
      }
      kept={useSheet(
        `model-signatures/${model.id}`,
        model.versionOfSignatures,
        model.signatures,
        async (version, next, client) => ({
          version: (await ask(editSignatures({ client, path: { id: model.id }, body: { version, sheet: next } })))
            .versionOfSignatures,
        }),
      )}
    />
  );
}

function OrderOfRound({ model }: { model: Page }) {
  return (
    <LinesLeaf
      name="round-rules"
      title="Order of a round"
      hint={
        <>
          A line each: what must be opened for which places, what that takes, and what is read before what. Such as{' '}
          <span className="font-mono">cover off: Z1, Z2-J2</span>,{' '}
          <span className="font-mono">cover off takes 4 min</span> or <span className="font-mono">PS·+ before Z1</span>
        </>
      }
      kept={useSheet(
        `model-round-rules/${model.id}`,
        model.versionOfRoundRules,
        model.roundRules,
        async (version, next, client) => ({
          version: (await ask(editRoundRules({ client, path: { id: model.id }, body: { version, sheet: next } })))
            .versionOfRoundRules,
        }),
      )}
    />
  );
}

function Outside({ model }: { model: Page }) {
  const { sheet, change, settle, kept } = useSheet(
    `model-outside/${model.id}`,
    model.versionOfOutside,
    model.outside,
    async (version, next, client) => ({
      version: (await ask(editOutsideChecks({ client, path: { id: model.id }, body: { version, sheet: next } })))
        .versionOfOutside,
    }),
  );
  return (
    <section aria-labelledby="outside" className="mt-6">
      <h2 id="outside" className="title">
        Outside checks
      </h2>
      <OutsideEditor
        usual={model.usualChecks}
        parts={model.wiring.parts}
        sheet={sheet}
        change={change}
        settle={settle}
      />
      {kept}
    </section>
  );
}
