import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { getHome, type HomeMachine, type HomePage as Home } from '../api/generated';
import { ask } from '../api/ledger';
import { BackupIsOld } from '../keeping/Backups';
import { Until } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';

const machineAt = (tag: string) => `/machines/${encodeURIComponent(tag)}`;

/** The day at one look: what is open, what is awaited, what was left in need of care. */
export function HomePage() {
  const home = useQuery({ queryKey: ['home'], queryFn: () => ask(getHome()) });
  return (
    <Frame title="The day" margin={<Margin home={home.data} />}>
      <Problem error={home.error} retry={() => void home.refetch()} />
      {home.isPending && <p className="h-[240px] py-4 text-ink-2">Opening the ledger…</p>}
      <BackupIsOld />
      {home.data && <Day home={home.data} />}
    </Frame>
  );
}

function Margin({ home }: { home: Home | undefined }) {
  return (
    <>
      <ul className="space-y-1">
        <li>
          <Link to="/machines" className="flex min-h-[34px] items-center justify-between max-[899px]:min-h-[44px]">
            Machines <span className="font-mono font-bold">{home?.machines ?? ''}</span>
          </Link>
        </li>
        <li>
          <Link to="/machines/new" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
            New machine
          </Link>
        </li>
        <li>
          <Link to="/scan" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
            Scan a label
          </Link>
        </li>
        <li>
          <Link to="/labels?machines=all" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
            Labels
          </Link>
        </li>
        <li>
          <Link to="/sums" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
            Bench sums
          </Link>
        </li>
      </ul>
      <p className="mt-1">
        <Link to="/shop" className="flex min-h-[34px] items-center max-[899px]:min-h-[44px]">
          The shop, backups
        </Link>
      </p>
      <p className="mt-6 text-[14px] text-ink-2 max-[899px]:hidden">
        Live parts can hurt. Your local code and the licensed person come first.
      </p>
    </>
  );
}

function Day({ home }: { home: Home }) {
  if (home.machines === 0) {
    return (
      <p className="py-6 text-[19px]">
        No machine is in the ledger yet.{' '}
        <Link to="/machines/new" className="link">
          Begin the first
        </Link>
      </p>
    );
  }
  return (
    <div className="flex flex-col gap-x-10 min-[1100px]:flex-row [&>div]:min-w-0 [&>div]:flex-1">
      <div>
        <Section title="Visits open" empty="No visit is open." count={home.visits.length}>
          {home.visits.map((v) => (
            <Line key={v.id} tag={v.tag} mark="here" to={v.lastRoundId ? `/rounds/${v.lastRoundId}` : machineAt(v.tag)}>
              <b>{v.complaint || 'no complaint noted'}</b>
              <span className="block text-[14px] text-ink-2">
                {v.machineName}, {v.person}, since {dayOf(v.openedAt)}
              </span>
            </Line>
          ))}
        </Section>
        <Section title="Parts awaited" empty="No part is awaited." count={home.parts.length}>
          {home.parts.map((m) => (
            <Left key={m.tag} machine={m} mark="untouched" />
          ))}
        </Section>
        <Section title="Touched last" empty="Nothing was touched yet." count={home.touched.length}>
          {home.touched.map((m) => (
            <Line key={m.id} tag={m.tag} mark={null} to={machineAt(m.tag)}>
              <span className="flex gap-3">
                <span className="min-w-0 grow truncate">
                  {m.name || 'not named yet'} <span className="text-[14px] text-ink-2">{m.site}</span>
                </span>
                <span className="shrink-0 font-mono text-[14px] text-ink-2">{m.touchedAt && dayOf(m.touchedAt)}</span>
              </span>
            </Line>
          ))}
        </Section>
      </div>
      <div>
        {home.notices.length > 0 && (
          <Section title="Life safety, out of service" empty="" count={home.notices.length}>
            {home.notices.map((n) => (
              <Line key={n.id} tag={n.tag} mark="marginal" to={`/visits/${n.visitId}/safe`}>
                <b>Told: {n.told}</b>
                <b className="block">Watching: {n.watching}</b>
                <span className="block text-[14px] text-ink-2">
                  {n.person}, since {dayOf(n.at)} <Until time={n.until} />
                </span>
              </Line>
            ))}
          </Section>
        )}
        {home.links.length > 0 && (
          <Section title="Temporary links placed" empty="" count={home.links.length}>
            {home.links.map((l) => (
              <Line key={l.id} tag={l.tag} mark="differs" to={`/visits/${l.visitId}/safe`}>
                <b>
                  {l.kind}: {l.where}
                </b>
                <span className="block text-[14px] text-ink-2">
                  {l.why}. {l.person}, since {dayOf(l.placedAt)}, {l.attended ? 'attended' : 'not attended'}{' '}
                  <Until time={l.until} />
                </span>
              </Line>
            ))}
          </Section>
        )}
        <Section
          title="Unsafe, or something temporary on it"
          empty="Nothing was left unsafe or temporary."
          count={home.care.length}
        >
          {home.care.map((m) => (
            <Left key={m.tag} machine={m} mark="dead" />
          ))}
        </Section>
        <Section title="Faults open" empty="No fault is open." count={home.faults.length}>
          {home.faults.map((f) => (
            <Line key={f.id} tag={f.tag} mark="low" to={`/faults/${f.id}`}>
              <b>{f.noticed || 'fault without words yet'}</b>
              <span className="block text-[14px] text-ink-2">
                {f.machineName}, since {dayOf(f.openedAt)}
              </span>
            </Line>
          ))}
        </Section>
      </div>
    </div>
  );
}

function Left({ machine, mark }: { machine: HomeMachine; mark: 'dead' | 'untouched' }) {
  return (
    <Line tag={machine.tag} mark={mark} to={machineAt(machine.tag)}>
      {machine.words.length === 0
        ? 'not said which'
        : machine.words.map((w) => (
            <b key={w} className="block">
              {w}
            </b>
          ))}
      <span className="block text-[14px] text-ink-2">
        {machine.machineName}, since {dayOf(machine.since)}
      </span>
    </Line>
  );
}

function Section({
  title,
  empty,
  count,
  children,
}: {
  title: string;
  empty: string;
  count: number;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className="pt-3">
      <h2 className="flex justify-between border-b border-rule-2 pb-1">
        {title} <span className="font-mono">{count}</span>
      </h2>
      {count === 0 ? <p className="py-2 text-ink-2">{empty}</p> : <ul>{children}</ul>}
    </section>
  );
}

function Line({ tag, to, mark, children }: { tag: string; to: string; mark: MarkKind | null; children: ReactNode }) {
  return (
    <li className="border-b border-rule">
      <Link to={to} className="grid min-h-[44px] grid-cols-[84px_20px_1fr] py-1.5 hover:bg-rust-wash">
        <span className="font-mono font-bold">{tag}</span>
        <span className="pt-0.5">{mark && <Mark kind={mark} />}</span>
        <span className="min-w-0">{children}</span>
      </Link>
    </li>
  );
}
