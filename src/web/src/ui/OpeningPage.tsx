import type { UseQueryResult } from '@tanstack/react-query';
import { Link } from 'react-router';
import { Frame } from './Frame';
import { Problem } from './Problem';

interface OpeningPageProps {
  tag?: string;
  title: string;
  /** What is being done, such as “Opening the visit…”. */
  words: string;
  /** What the page waits for; the first that fails is said. */
  of: readonly Pick<UseQueryResult, 'isPending' | 'error' | 'refetch'>[];
  probing?: boolean;
}

/** A page while what it shows is still coming, or will not come: it says which, and leaves the ways on and back. */
export function OpeningPage({ tag, title, words, of, probing = false }: OpeningPageProps) {
  const failed = of.find((asked) => asked.error);
  return (
    <Frame {...(tag ? { tag } : {})} title={title} probing={probing}>
      {failed ? (
        <>
          <Problem error={failed.error} retry={() => of.forEach((asked) => void asked.refetch())} />
          <p className="mt-3 flex flex-wrap gap-x-6">
            {tag && (
              <Link className="link inline-flex min-h-[44px] items-center" to={`/machines/${encodeURIComponent(tag)}`}>
                Page of {tag}
              </Link>
            )}
            <Link className="link inline-flex min-h-[44px] items-center" to="/">
              Today
            </Link>
            <Link className="link inline-flex min-h-[44px] items-center" to="/machines">
              All machines
            </Link>
          </p>
        </>
      ) : (
        <p className="py-6 text-ink-2">{words}</p>
      )}
    </Frame>
  );
}
