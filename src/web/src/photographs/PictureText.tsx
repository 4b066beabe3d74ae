import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { editPhotograph, retirePhotograph, type PhotographPage as Page } from '../api/generated';
import { ask } from '../api/ledger';
import { History } from '../history/History';
import { Choose, optionsOf } from '../ui/Choose';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { Problem } from '../ui/Problem';
import { useKeeping } from '../ui/useKeeping';
import { kindWords } from './take';

/** What the photograph shows, and of which board. */
export function PictureText({ page }: { page: Page }) {
  const { photograph } = page;
  const queries = useQueryClient();
  const go = useNavigate();
  const { edit, write, keep, keepOver, settle, isChanged, isKeeping, isClash, error } = useKeeping(
    `photograph/${photograph.id}`,
    {
      version: photograph.version,
      kind: photograph.kind,
      caption: photograph.caption,
      positionId: photograph.positionId,
    },
    async (next, client) => {
      const now = await ask(editPhotograph({ client, path: { id: photograph.id }, body: next }));
      void queries.invalidateQueries({ queryKey: ['photographs'] });
      void queries.invalidateQueries({ queryKey: ['edits', 'Photograph', photograph.id] });
      return now;
    },
  );
  const away = useMutation({
    mutationFn: () => ask(retirePhotograph({ path: { id: photograph.id } })),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(page.tag)}/photographs`);
    },
  });
  const set = (next: typeof edit) => {
    write(next);
    void keep(next);
  };
  return (
    <section aria-label="The photograph" className="mt-4 text-[14px]">
      <h2 className="flex items-baseline justify-between border-b border-rule-2 pb-1">
        The photograph
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </h2>
      <label className="mt-2 block">
        What it shows
        <input
          className="field mt-0.5"
          value={edit.caption}
          onChange={(event) => write({ ...edit, caption: event.target.value })}
          onBlur={() => isChanged && !isClash && void keep(edit)}
        />
      </label>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <label>
          Kind
          <Choose
            className="mt-0.5"
            value={edit.kind}
            options={optionsOf(kindWords)}
            onChange={(kind) => set({ ...edit, kind })}
          />
        </label>
        <label>
          Board
          <Choose
            className="mt-0.5"
            value={edit.positionId ?? ''}
            options={[
              { value: '', words: 'not said' },
              ...page.positions.map((p) => ({ value: p.id, words: `${p.prefix} ${p.name}` })),
            ]}
            onChange={(id) => set({ ...edit, positionId: id || null })}
          />
        </label>
      </div>
      <KeptProblem error={error} edit={edit} keepMine={(version) => void keepOver(edit, version)} takeTheirs={settle} />
      <button type="button" className="quiet mt-3" onClick={() => away.mutate()}>
        Put this photograph away
      </button>
      <Problem error={away.error} />
      <History kind="Photograph" recordId={photograph.id} />
    </section>
  );
}
