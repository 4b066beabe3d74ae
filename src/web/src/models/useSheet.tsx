import { useQueryClient } from '@tanstack/react-query';
import type { Client } from '../api/generated/client';
import { Refusal } from '../api/ledger';
import { changesOf, keepEach } from '../ui/changes';
import { KeptInPart, useKeeping } from '../ui/useKeeping';
import { SheetKept } from './SheetKept';

/** So many changes are tried one by one; more stand together or not at all. */
const mostAlone = 40;

const isRefusedAsWritten = (failure: unknown): failure is Refusal =>
  failure instanceof Refusal && failure.status < 500 && failure.problem.theirs === undefined;

/** A sheet of a model, edited where it stands and kept as a whole as each field is left. */
export function useSheet<Sheet>(
  name: string,
  version: number,
  first: Sheet,
  send: (version: number, sheet: Sheet, client: Client) => Promise<{ version: number }>,
) {
  const queries = useQueryClient();
  const fresh = () => {
    for (const key of ['start', 'build', 'edits', 'machine']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
  };
  const keeping = useKeeping(name, { version, sheet: first }, async (next, client, kept) => {
    try {
      const now = await send(next.version, next.sheet, client);
      fresh();
      return now;
    } catch (failure) {
      const changes = changesOf(kept.sheet, next.sheet);
      if (!isRefusedAsWritten(failure) || changes.length < 2 || changes.length > mostAlone) {
        throw failure;
      }
      // One field of it is refused: the others are kept one by one.
      let now = next.version;
      let why = failure;
      const sheet = await keepEach(kept.sheet, changes, async (part) => {
        try {
          now = (await send(now, part, client)).version;
          return true;
        } catch (alone) {
          if (!isRefusedAsWritten(alone)) {
            throw alone;
          }
          why = alone;
          return false;
        }
      });
      fresh();
      const partly = { version: now, sheet };
      throw new KeptInPart(partly, why);
    }
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
