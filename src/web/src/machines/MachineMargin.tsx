import { useQuery } from '@tanstack/react-query';
import { Link, useLocation } from 'react-router';
import { getMachine, type MachinePage } from '../api/generated';
import { ask } from '../api/ledger';
import { useStart } from '../visits/start';
import { VisitMargin } from '../visits/VisitMargin';

interface PlaceMarginProps {
  tag: string | undefined;
  here?: 'look';
}

/** Beside a page of a machine: the steps of its open visit, or the machine's own margin where none is open. */
export function PlaceMargin({ tag, here }: PlaceMarginProps) {
  const page = useQuery({
    queryKey: ['machine', tag],
    queryFn: () => ask(getMachine({ path: { id: tag ?? '' } })),
    enabled: tag !== undefined && tag !== '',
  });
  const open = page.data?.visits.find((v) => v.endedAt === null);
  const start = useStart(open?.id);
  if (!page.data || (open && !start.data)) {
    return null;
  }
  return start.data && open ? (
    <VisitMargin start={start.data} alone {...(here ? { here } : {})} />
  ) : (
    <MachineMargin machine={page.data} />
  );
}

const line = 'flex min-h-[32px] items-center justify-between gap-2 max-[899px]:min-h-[44px]';

/** What else there is of a machine, on each of its pages in the same place. */
export function MachineMargin({ machine }: { machine: MachinePage }) {
  const at = `/machines/${encodeURIComponent(machine.tag)}`;
  const here = useLocation().pathname;
  const pages: [string, string, number | undefined][] = [
    [`Page of ${machine.tag}`, at, undefined],
    ['At its door', `${at}/door`, undefined],
    ['Settings', `${at}/settings`, machine.settings],
    ['Photographs', `${at}/photographs`, machine.photographs],
    ['Wiring', `${at}/wiring`, undefined],
    ['Circuit', `${at}/circuit`, undefined],
    ['What it does', `${at}/functions`, undefined],
  ];
  return (
    <>
      <ul className="space-y-1">
        {pages.map(([name, to, count]) => (
          <li key={name}>
            <Link to={to} className={line} aria-current={here === to ? 'page' : undefined}>
              <span className={here === to ? 'font-bold' : ''}>{name}</span>
              {count !== undefined && <span className="font-mono font-bold">{count}</span>}
            </Link>
          </li>
        ))}
        <li>
          <Link to={`/labels?machines=${encodeURIComponent(machine.tag)}`} className={line}>
            Labels
          </Link>
        </li>
        <li>
          <a href={`/api/machines/${encodeURIComponent(machine.tag)}/bundle`} download className={line}>
            As a bundle
          </a>
        </li>
        <li className="flex min-h-[32px] items-center justify-between">
          Checks <span className="font-mono font-bold">{machine.checks}</span>
        </li>
      </ul>
      <h2 className="mt-3 text-[15px] text-ink-2">Fitted boards</h2>
      <ul>
        {machine.boards.map((board) => {
          const to = `${at}/boards/${board.positionId}`;
          return (
            <li key={board.positionId}>
              <Link to={to} className={line} aria-current={here === to ? 'page' : undefined}>
                <span className={here.startsWith(to) ? 'font-bold' : ''}>{board.name}</span>{' '}
                {board.revision && <span className="font-mono text-[14px]">rev {board.revision}</span>}
              </Link>
            </li>
          );
        })}
      </ul>
      <a
        className="link mt-4 inline-flex min-h-[34px] items-center"
        href={`/api/machines/${encodeURIComponent(machine.id)}/file`}
        download
      >
        Machine file
      </a>
    </>
  );
}
