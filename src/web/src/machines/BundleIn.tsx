import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { BundlePreview, MachineTaken } from '../api/generated';
import { type ProblemDetails, Refusal, Unreachable } from '../api/ledger';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';

async function send<Answer>(path: string, file: File): Promise<Answer> {
  const answer = await fetch(path, {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/zip', 'X-Person': localStorage.getItem('person-id') ?? '' },
  }).catch(() => {
    throw new Unreachable();
  });
  if (!answer.ok) {
    throw new Refusal(answer.status, (await answer.json()) as ProblemDetails);
  }
  return (await answer.json()) as Answer;
}

/** What a bundle would add, what is here already and what clashes; taken in only when that was seen. */
export function BundleIn({ file, done }: { file: File; done: () => void }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [isTaking, setIsTaking] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const preview = useQuery({
    queryKey: ['bundle', file.name, file.size, file.lastModified],
    queryFn: () => send<BundlePreview>('/api/bundles/preview', file),
    retry: false,
    gcTime: 0,
  });
  const take = async () => {
    setIsTaking(true);
    setError(null);
    try {
      const taken = await send<MachineTaken>('/api/bundles', file);
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(taken.tag)}`);
    } catch (failure) {
      setError(failure as Error);
      setIsTaking(false);
    }
  };
  const lines = (name: string, mark: MarkKind, texts: string[]) =>
    texts.length > 0 && (
      <>
        <h3 className="mt-2 text-[14px] text-ink-2">{name}</h3>
        <ul>
          {texts.map((text) => (
            <li key={text} className="flex items-center gap-2 border-b border-rule py-0.5">
              <Mark kind={mark} /> {text}
            </li>
          ))}
        </ul>
      </>
    );
  return (
    <section aria-label="The bundle" className="mt-2 w-full border-l-4 border-rust bg-rust-wash px-4 py-2">
      <h2>{preview.data ? `Bundle of ${preview.data.tag}, ${preview.data.name}` : file.name}</h2>
      {preview.isPending && <p role="status">Looking through the bundle…</p>}
      <Problem error={preview.error ?? error} />
      {preview.data && (
        <>
          {lines('New', 'untouched', preview.data.adds)}
          {lines('Here already, the same', 'within', preview.data.same)}
          {lines('Clashes', 'differs', preview.data.clashes)}
        </>
      )}
      <p className="mt-3 flex flex-wrap gap-3">
        {preview.data && preview.data.clashes.length === 0 && (
          <button type="button" className="action" disabled={isTaking} onClick={() => void take()}>
            {isTaking ? 'Taking it in…' : preview.data.changesNothing ? 'Open it' : 'Take it in'}
          </button>
        )}
        <button type="button" className="quiet min-h-[44px]" onClick={done}>
          Leave it
        </button>
      </p>
    </section>
  );
}
