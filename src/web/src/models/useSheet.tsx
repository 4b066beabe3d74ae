import { useQueryClient } from '@tanstack/react-query';
import type { Client } from '../api/generated/client';
import { useKeeping } from '../ui/useKeeping';
import { SheetKept } from './SheetKept';

/** A sheet of a model, edited where it stands and kept as a whole as each field is left. */
export function useSheet<Sheet>(
  name: string,
  version: number,
  first: Sheet,
  send: (version: number, sheet: Sheet, client: Client) => Promise<{ version: number }>,
) {
  const queries = useQueryClient();
  const keeping = useKeeping(name, { version, sheet: first }, async (next, client) => {
    const now = await send(next.version, next.sheet, client);
    for (const key of ['start', 'build', 'edits', 'machine']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
    return now;
  });
  const { edit, write, isChanged } = keeping;
  return {
    sheet: edit.sheet,
    change: (sheet: Sheet) => write({ ...edit, sheet }),
    settle: (sheet: Sheet) => {
      write({ ...edit, sheet });
      if (!keeping.isClash) {
        void keeping.keep({ version, sheet });
      }
    },
    kept: <SheetKept keeping={keeping} edit={edit} isChanged={isChanged} takeTheirs={keeping.settle} />,
  };
}
