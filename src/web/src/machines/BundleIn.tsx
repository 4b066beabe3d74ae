import { Radio, RadioGroup } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { BundleDifference, BundlePreview, MemberDifference } from '../api/generated';
import { type ProblemDetails, Refusal, Unreachable } from '../api/ledger';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Steps } from './Steps';
import { type Step, watched } from './watched';

/** Which of the two stands in a clash. */
type BundleSide = 'here' | 'there';

const shownAtFirst = 12;

async function look(file: File): Promise<BundlePreview> {
  const answer = await fetch('/api/bundles/preview', {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/zip', 'X-Person': localStorage.getItem('person-id') ?? '' },
  }).catch(() => {
    throw new Unreachable();
  });
  if (!answer.ok) {
    throw new Refusal(answer.status, (await answer.json()) as ProblemDetails);
  }
  return (await answer.json()) as BundlePreview;
}

const pages: Record<string, string> = { machine: 'machines', model: 'models', boardType: 'board-types' };

/** What a bundle would add, change and take away, and what both sides wrote; taken in only when that was seen. */
export function BundleIn({ file, done }: { file: File; done: () => void }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const stop = useRef<AbortController | null>(null);
  const [step, setStep] = useState<Step | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [choices, setChoices] = useState<Record<string, BundleSide>>({});
  const preview = useQuery({
    queryKey: ['bundle', file.name, file.size, file.lastModified],
    queryFn: () => look(file),
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
  const seen = preview.data;
  const open = seen?.clashes.filter((c) => !choices[c.key]).length ?? 0;
  const take = async () => {
    const control = new AbortController();
    stop.current = control;
    setError(null);
    setStep({ what: 'sending the bundle' });
    try {
      const form = new FormData();
      form.append('choices', JSON.stringify(choices));
      form.append('bundle', file);
      const taken = await watched('/api/bundles/watched', form, undefined, control.signal, setStep);
      await queries.invalidateQueries();
      await go(`/${pages[taken.kind ?? ''] ?? 'machines'}/${encodeURIComponent(taken.tag ?? '') || taken.id}`);
    } catch (failure) {
      if (!control.signal.aborted) {
        setError(failure as Error);
        // Somebody may have written in between.
        void preview.refetch();
      }
    } finally {
      setStep(null);
    }
  };
  return (
    <section aria-label="The bundle" className="mt-2 w-full border-l-4 border-rust bg-rust-wash px-4 py-2">
      <h2>{seen ? `Bundle of ${seen.words}` : file.name}</h2>
      {preview.isPending && <p role="status">Looking through the bundle…</p>}
      <Problem error={preview.error ?? error} />
      {seen && (
        <>
          <p className="text-ink-2">{summary(seen)}</p>
          <Lines name="Cannot be taken in" mark="dead" items={seen.refused.map((text) => [text, text])} />
          {seen.clashes.length > 0 && (
            <section aria-label="Written here and there" className="mt-3">
              <h3 className="flex flex-wrap items-center gap-3 text-[15px]">
                <span className="flex items-center gap-2">
                  <Mark kind="differs" /> Written here and there: which one stands?
                </span>
                {seen.clashes.length > 1 &&
                  (['here', 'there'] as const).map((side) => (
                    <button
                      key={side}
                      type="button"
                      className="quiet min-h-[44px]"
                      onClick={() => setChoices(Object.fromEntries(seen.clashes.map((c) => [c.key, side])))}
                    >
                      {side === 'here' ? 'All as here' : 'All as in the bundle'}
                    </button>
                  ))}
              </h3>
              {seen.clashes.map((clash) => (
                <Choice
                  key={clash.key}
                  clash={clash}
                  side={choices[clash.key]}
                  choose={(side) => setChoices({ ...choices, [clash.key]: side })}
                />
              ))}
            </section>
          )}
          <Lines name="New" mark="untouched" items={seen.adds.map((text) => [text, text])} />
          <Lines
            name="Changed there"
            mark="marginal"
            items={seen.changes.map((change) => [
              change.key,
              <>
                {change.words}
                <Members members={change.members} />
              </>,
            ])}
          />
          <Lines name="Taken away there" mark="skipped" items={seen.removes.map((text) => [text, text])} />
          <Lines name="Changed here since; it stays" mark="here" items={seen.newerHere.map((text) => [text, text])} />
          {seen.alsoOn.length > 0 && !seen.changesNothing && (
            <p className="mt-3">
              The same boards and wiring serve{' '}
              {seen.alsoOn.map((tag, i) => (
                <span key={tag}>
                  {i > 0 && ', '}
                  <Link className="link font-mono" to={`/machines/${encodeURIComponent(tag)}`}>
                    {tag}
                  </Link>
                </span>
              ))}
              ; what changes here changes there.
            </p>
          )}
        </>
      )}
      <p className="mt-3 flex flex-wrap items-center gap-3">
        {step ? (
          <Steps step={step} stop={() => stop.current?.abort()} />
        ) : (
          <>
            {seen && seen.refused.length === 0 && (
              <button type="button" className="action" disabled={open > 0} onClick={() => void take()}>
                {seen.changesNothing ? 'Open it' : 'Take it in'}
              </button>
            )}
            <button type="button" className="quiet min-h-[44px]" onClick={done}>
              Leave it
            </button>
            {open > 0 && <span>{open === 1 ? 'One choice is open.' : `${open} choices are open.`}</span>}
          </>
        )}
      </p>
    </section>
  );
}

function summary(seen: BundlePreview): string {
  if (seen.changesNothing) {
    return `It changes nothing: ${seen.same} things are here as they are in it${seen.newerHere.length > 0 ? ', and what differs is newer here' : ''}.`;
  }
  return seen.same > 0 ? `${seen.same} things are here already, the same.` : 'Nothing of it is here yet.';
}

function Lines({ name, mark, items }: { name: string; mark: MarkKind; items: [string, ReactNode][] }) {
  const [isWhole, setIsWhole] = useState(false);
  if (items.length === 0) {
    return null;
  }
  const shown = isWhole ? items : items.slice(0, shownAtFirst);
  return (
    <section aria-label={name} className="mt-3">
      <h3 className="flex items-center gap-2 text-[15px]">
        <Mark kind={mark} /> {name}
      </h3>
      <ul>
        {shown.map(([key, line]) => (
          <li key={key} className="border-b border-rule py-1 pl-6">
            {line}
          </li>
        ))}
      </ul>
      {shown.length < items.length && (
        <button type="button" className="quiet min-h-[44px]" onClick={() => setIsWhole(true)}>
          Show all {items.length}
        </button>
      )}
    </section>
  );
}

function Members({ members }: { members: MemberDifference[] }) {
  return (
    <ul className="text-[14px] text-ink-2">
      {members.map((m) => (
        <li key={m.name}>
          {m.name}: <span className="line-through">{m.here || 'nothing'}</span> <span aria-hidden>→</span>
          <span className="sr-only">becomes</span> <b className="text-ink">{m.there || 'nothing'}</b>
        </li>
      ))}
    </ul>
  );
}

function Choice({
  clash,
  side,
  choose,
}: {
  clash: BundleDifference;
  side: BundleSide | undefined;
  choose: (side: BundleSide) => void;
}) {
  return (
    <RadioGroup
      aria-label={clash.words}
      value={side ?? null}
      onChange={(chosen: BundleSide | null) => chosen && choose(chosen)}
      className="mt-2 border-b border-rule pb-2 pl-6"
    >
      <p className="font-semibold">{clash.words}</p>
      <div className="grid grid-cols-2 gap-x-4 max-[599px]:grid-cols-1">
        {(['here', 'there'] as const).map((each) => (
          <Radio
            key={each}
            value={each}
            className="group flex min-h-[44px] cursor-pointer items-start gap-2 py-2 data-checked:font-semibold"
          >
            <span className="mt-1 grid size-5 shrink-0 place-items-center rounded-full border-2 border-rule-2 group-data-checked:border-rust">
              <span className="size-2.5 rounded-full group-data-checked:bg-rust" />
            </span>
            <span>
              {each === 'here' ? 'As here' : 'As in the bundle'}
              <span className="block text-[14px] font-normal text-ink-2">{words(clash, each)}</span>
            </span>
          </Radio>
        ))}
      </div>
    </RadioGroup>
  );
}

function words(clash: BundleDifference, side: BundleSide): string {
  if (!(side === 'here' ? clash.isHere : clash.isThere)) {
    return 'taken away';
  }
  return clash.members.map((m) => `${m.name}: ${m[side] || 'nothing'}`).join('; ');
}
