import { called } from '../boards/called';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { getCallCard, type CallCard } from '../api/generated';
import { ask } from '../api/ledger';
import { VisitBand } from '../safety/VisitBand';
import { VisitMargin } from './VisitMargin';
import { useStart } from './start';
import { Frame } from '../ui/Frame';
import { Mark, markWords } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { warrantyWords } from './edit';

/** What support asks for, on one screen, to be read out. */
export function CallCardPage() {
  const { visitId = '' } = useParams();
  const card = useQuery({
    queryKey: ['callCard', visitId],
    queryFn: () => ask(getCallCard({ path: { id: visitId } })),
  });
  const start = useStart(visitId);
  return (
    <Frame
      {...(card.data ? { tag: card.data.tag } : {})}
      title="Call card"
      place={card.data?.machineName ?? ''}
      band={<VisitBand visitId={visitId} />}
      margin={start.data && <VisitMargin start={start.data} here="visit" />}
      marginLast
    >
      <Problem error={card.error} retry={() => void card.refetch()} />
      {card.isPending && <p className="py-4 text-ink-2">Putting the card together…</p>}
      {card.data && <Card card={card.data} visitId={visitId} />}
    </Frame>
  );
}

function Card({ card, visitId }: { card: CallCard; visitId: string }) {
  const plate = [
    ['Maker', card.maker],
    ['Model', card.model],
    ['Serial', card.serial],
    ['Built', card.built],
    ['Supply', card.supply],
  ];
  return (
    <>
      <dl className="flex flex-wrap gap-x-10 gap-y-1 border-b border-rule-2 pb-2">
        {plate.map(([name, value]) => (
          <div key={name}>
            <dt className="text-[14px] text-ink-2">{name}</dt>
            <dd className="font-mono text-[24px] font-bold">{value || 'not noted'}</dd>
          </div>
        ))}
      </dl>
      <p className="border-b border-rule py-2 text-[18px]">
        <b>{card.visit.complaint || 'No complaint noted'}</b>
        <span className="ml-3 text-[15px] text-ink-2">
          {warrantyWords[card.visit.warranty]}
          {card.visit.calls.at(-1)?.caseNumber && `, case ${card.visit.calls.at(-1)?.caseNumber}`}
        </span>
        {card.stretch && <span className="block text-[16px]">{card.stretch}</span>}
      </p>
      <div className="grid gap-x-10 min-[900px]:grid-cols-2">
        <section aria-label="Boards" className="pt-3">
          <h2 className="border-b border-rule-2 pb-1">Boards</h2>
          <table className="w-full border-collapse text-[16px]">
            <caption className="sr-only">Boards</caption>
            <thead>
              <tr className="text-left text-[14px] text-ink-2 [&>th]:pr-3 [&>th]:font-medium">
                <th scope="col">Position</th>
                <th scope="col">Part number</th>
                <th scope="col">Serial</th>
                <th scope="col">Firmware</th>
              </tr>
            </thead>
            <tbody>
              {card.boards.map((b) => (
                <tr key={b.position} className="border-t border-rule [&>td]:py-1 [&>td]:pr-3">
                  <td>{b.position}</td>
                  <td className="font-mono">{called(b)}</td>
                  <td className="font-mono">{b.serial || '–'}</td>
                  <td className="font-mono">{b.firmware || '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {card.settings.length > 0 && (
            <>
              <h2 className="mt-4 border-b border-rule-2 pb-1">Settings, newest</h2>
              <ul>
                {card.settings.map((s) => (
                  <li
                    key={`${s.board}${s.code}`}
                    className="flex justify-between gap-3 border-b border-rule py-0.5 text-[16px]"
                  >
                    <span>
                      <b className="font-mono">{s.code}</b> {s.name} <span className="text-ink-2">{s.board}</span>
                    </span>
                    <b className="font-mono">{s.value}</b>
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
        <section aria-label="Last readings" className="pt-3">
          <h2 className="border-b border-rule-2 pb-1">Last readings, those out of limit first</h2>
          {card.readings.length === 0 && <p className="py-2 text-ink-2">Nothing was measured in this visit.</p>}
          <ul>
            {card.readings.map((r) => (
              <li
                key={r.id}
                className="grid grid-cols-[20px_1fr_auto] items-baseline gap-x-2 border-b border-rule py-1 text-[16px]"
              >
                <span className="self-center">
                  <Mark kind={r.verdict} />
                </span>
                <span>
                  <b className="font-mono">{r.redPrinted}</b>
                  {r.blackPrinted && <span className="font-mono"> to {r.blackPrinted}</span>}
                  <span className="ml-2 text-[14px] text-ink-2">
                    {[r.state, r.limit ? `should read ${r.limit}` : '', markWords(r.verdict)]
                      .filter(Boolean)
                      .join(', ')}
                  </span>
                </span>
                <b className="font-mono text-[20px]">{r.value}</b>
              </li>
            ))}
          </ul>
        </section>
      </div>
      <p className="mt-4 flex gap-4">
        <Link className="link" to={`/visits/${visitId}`}>
          The visit of {dayOf(card.visit.openedAt)}
        </Link>
        <Link className="link" to={`/machines/${encodeURIComponent(card.tag)}`}>
          Page of {card.tag}
        </Link>
      </p>
    </>
  );
}
