import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { listMachines } from '../api/generated';
import { ask } from '../api/ledger';
import { usePerson } from '../people/person';
import { Key } from './Key';

interface FrameProps {
  tag?: string;
  title: string;
  place?: string;
  margin?: ReactNode;
  leaf?: ReactNode;
  /** Leaves the iron bar at one line on a phone and the margin out of sight. */
  probing?: boolean;
  aside?: ReactNode;
  children: ReactNode;
}

/** Every view: iron bar, margin ruled off in rust, page, side leaf. */
export function Frame({ tag, title, place, margin, leaf, probing, aside, children }: FrameProps) {
  useEffect(() => {
    document.title = `${tag ? `${tag} ` : ''}${title} · Rusty Ledger`;
  }, [tag, title]);
  return (
    <div className="flex min-h-dvh flex-col">
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
      <div className="flex grow flex-col min-[900px]:flex-row">
        {margin && (
          <nav
            aria-label="This page"
            className={`shrink-0 bg-paper px-5 py-4 min-[900px]:w-[204px] ${probing ? 'max-[899px]:hidden' : ''}`}
          >
            {margin}
          </nav>
        )}
        <main
          className={`min-w-0 grow bg-sheet px-4 py-3 min-[900px]:px-7 ${margin ? 'min-[900px]:ledger-rule min-[900px]:ml-[5px]' : ''}`}
        >
          {children}
        </main>
        {leaf && (
          <aside
            aria-label="The board"
            className="shrink-0 border-rule-2 bg-paper px-4 py-3 max-[899px]:border-t min-[900px]:w-[372px] min-[900px]:border-l"
          >
            {leaf}
          </aside>
        )}
      </div>
    </div>
  );
}

function Find() {
  const box = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const go = useNavigate();
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
  const find = async () => {
    const found = await ask(listMachines({ query: { find: text } })).catch(() => null);
    const only = found?.machines.length === 1 ? found.machines[0] : undefined;
    setText('');
    await go(only ? `/machines/${encodeURIComponent(only.tag)}` : `/?find=${encodeURIComponent(text)}`);
  };
  return (
    <form
      role="search"
      className="flex grow items-center gap-2 border-b border-on-iron-2"
      onSubmit={(event) => {
        event.preventDefault();
        void find();
      }}
    >
      <input
        ref={box}
        value={text}
        onChange={(event) => setText(event.target.value)}
        aria-label="Find a machine"
        placeholder="Find a machine"
        className="min-h-[36px] w-full min-w-0 bg-transparent text-on-iron placeholder:text-on-iron-2 max-[899px]:min-h-[44px] min-[900px]:w-[180px]"
      />
      <span className="text-on-iron-2 max-[899px]:hidden">
        <Key>F2</Key>
      </span>
    </form>
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
