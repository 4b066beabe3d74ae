import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useIsFetching, useQuery } from '@tanstack/react-query';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { listMachines } from '../api/generated';
import { ask } from '../api/ledger';
import { Waiting } from '../outbox/Waiting';
import { usePerson } from '../people/person';
import { PhotoAnswer } from '../photographs/PhotoAnswer';
import { Key } from './Key';
import { useWide } from './useWide';

const mostFound = 7;

interface FrameProps {
  tag?: string;
  title: string;
  place?: string;
  margin?: ReactNode;
  /** On a phone the margin stands below the page instead of above it. */
  marginLast?: boolean;
  leaf?: ReactNode;
  /** Stands under the iron bar on a phone; else its place is at the head of the margin. */
  band?: ReactNode;
  /** What the side leaf holds, for those who hear the page. */
  leafName?: string;
  /** Fits the window without scrolling; on a phone leaves the iron bar at one line and the margin out of sight. */
  probing?: boolean;
  aside?: ReactNode;
  children: ReactNode;
}

/** Every view: iron bar, margin ruled off in rust, page, side leaf. */
export function Frame({
  tag,
  title,
  place,
  margin,
  marginLast,
  leaf,
  leafName = 'The board',
  band,
  probing,
  aside,
  children,
}: FrameProps) {
  useEffect(() => {
    document.title = `${tag ? `${tag} ` : ''}${title} · Rusty Ledger`;
  }, [tag, title]);
  useMarkOfAsking();
  const wide = useWide();
  return (
    <div className={`flex min-h-dvh flex-col ${probing ? 'min-[900px]:h-dvh' : ''}`}>
      <header className="flex flex-wrap items-center gap-x-6 gap-y-1 bg-iron px-5 py-2 text-on-iron max-[899px]:py-0.5 min-[900px]:h-[52px] min-[900px]:flex-nowrap min-[900px]:py-0">
        <Link to="/" className="min-w-[180px] font-mono text-[22px] font-bold tracking-wider max-[899px]:min-w-0">
          {tag ?? 'Rusty Ledger'}
        </Link>
        <div className={`min-w-0 grow truncate ${probing ? 'max-[899px]:sr-only' : ''}`}>
          <h1 className="inline text-[15px]">{title}</h1>
          {place && <span className="ml-3 text-on-iron-2">{place}</span>}
        </div>
        {aside}
        <div className={`flex items-center gap-5 ${probing ? 'max-[899px]:hidden' : 'max-[899px]:w-full'}`}>
          <Find />
          <PersonName />
        </div>
      </header>
      <Waiting />
      {!wide && band}
      <div className={`flex grow flex-col min-[900px]:flex-row ${probing ? 'min-[900px]:min-h-0' : ''}`}>
        {margin && (
          <nav
            aria-label="This page"
            className={`shrink-0 bg-paper px-5 py-4 min-[900px]:w-[212px] ${probing ? 'max-[899px]:hidden min-[900px]:overflow-y-auto' : marginLast ? 'max-[899px]:order-last' : ''}`}
          >
            {margin}
          </nav>
        )}
        <main
          className={`min-w-0 grow bg-sheet px-4 py-3 min-[900px]:px-7 ${margin ? 'min-[900px]:ledger-rule min-[900px]:ml-[5px]' : ''} ${probing ? 'min-[900px]:flex min-[900px]:flex-col min-[900px]:overflow-y-auto min-[900px]:pt-2 min-[900px]:pb-0' : ''}`}
        >
          {children}
        </main>
        {leaf && (
          <aside
            aria-label={leafName}
            className={`shrink-0 border-rule-2 bg-paper px-4 py-3 max-[899px]:border-t min-[900px]:w-[376px] min-[900px]:border-l ${probing ? 'min-[900px]:flex min-[900px]:flex-col min-[900px]:overflow-y-auto' : ''}`}
          >
            {leaf}
          </aside>
        )}
      </div>
      {!wide && tag && <PhotoAnswer tag={tag} />}
    </div>
  );
}

/** Finds a machine as one types; Enter opens the one pointed at, or the register with what was typed. */
function Find() {
  const box = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const go = useNavigate();
  const found = useQuery({
    queryKey: ['find', text],
    queryFn: () => ask(listMachines({ query: { find: text, take: mostFound } })),
    enabled: text.trim() !== '',
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'F2' || (event.key.toLowerCase() === 'k' && event.ctrlKey)) {
        event.preventDefault();
        box.current?.focus();
        box.current?.select();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  const open = (to: string) => {
    setText('');
    box.current?.blur();
    void go(to);
  };
  // Only what answers to the whole of the text, so that a quick Enter cannot open what an earlier letter found.
  const rows = text.trim() ? (found.data?.machines ?? []) : [];
  const openFound = async () => {
    const { data } = await found.refetch();
    const only = data?.total === 1 ? data.machines[0] : undefined;
    open(only ? `/machines/${encodeURIComponent(only.tag)}` : `/machines?find=${encodeURIComponent(text)}`);
  };
  return (
    <search className="relative grow">
      <Combobox<string | null>
        value={null}
        onChange={(tag) => {
          if (tag) {
            open(`/machines/${encodeURIComponent(tag)}`);
          }
        }}
      >
        <div className="flex items-center gap-2 border-b border-on-iron-2">
          <ComboboxInput
            ref={box}
            autoComplete="off"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && rows.length === 0) {
                void openFound();
              }
            }}
            aria-label="Find a machine"
            placeholder="Find a machine"
            className="min-h-[36px] w-full min-w-0 bg-transparent text-on-iron placeholder:text-on-iron-2 max-[899px]:min-h-[44px] min-[900px]:w-[180px]"
          />
          <span className="text-on-iron-2 max-[899px]:hidden">
            <Key>F2</Key>
          </span>
        </div>
        <ComboboxOptions
          modal={false}
          className="absolute top-full right-0 z-30 w-[min(420px,calc(100vw-24px))] border border-rule-2 bg-sheet text-ink"
        >
          {rows.map((m) => (
            <ComboboxOption
              key={m.id}
              value={m.tag}
              className="flex min-h-[38px] cursor-pointer items-center gap-3 px-3 data-focus:bg-rust-wash max-[899px]:min-h-[44px]"
            >
              <b className="font-mono whitespace-nowrap">{m.tag}</b>
              <span className="min-w-0 truncate">{[m.name, m.site].filter(Boolean).join(', ')}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
    </search>
  );
}

function PersonName() {
  const person = usePerson();
  return (
    <Link
      to="/person"
      className="inline-flex min-h-[44px] items-center"
      aria-label={person ? `You are ${person.name}` : 'Who is it?'}
    >
      {person?.name ?? 'Who is it?'}
    </Link>
  );
}

/** The document says whether something is still being asked for, so that a page is looked at when all of it is there. */
function useMarkOfAsking() {
  const asking = useIsFetching() > 0;
  useEffect(() => {
    document.documentElement.toggleAttribute('data-asking', asking);
  }, [asking]);
}
