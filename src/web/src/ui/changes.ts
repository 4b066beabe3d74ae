type Json = unknown;

/** One change of a sheet by itself: the sheet with it and nothing else that was changed. */
export type Change<Sheet> = (sheet: Sheet) => Sheet;

const isObject = (value: Json): value is Record<string, Json> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const same = (a: Json, b: Json) => JSON.stringify(a) === JSON.stringify(b);

/** What tells a row from its neighbours, where it has that. */
const keyOf = (row: Json): string | undefined => {
  const key = isObject(row) ? (row.id ?? row.code) : undefined;
  return typeof key === 'string' ? key : undefined;
};

const isKeyed = (rows: Json): rows is Json[] =>
  Array.isArray(rows) && rows.every((row) => keyOf(row) !== undefined) && new Set(rows.map(keyOf)).size === rows.length;

/**
 * What was changed from one sheet to another, field by field and row by row, so that each can be kept for itself: a field that
 * is refused neither holds up nor loses the others. Rows are told apart by their id or code; a list without is one field.
 */
export function changesOf<Sheet>(before: Sheet, after: Sheet): Change<Sheet>[] {
  return differences(before, after) as Change<Sheet>[];
}

function differences(before: Json, after: Json): Change<Json>[] {
  if (same(before, after)) {
    return [];
  }
  if (isObject(before) && isObject(after)) {
    return Object.keys(after).flatMap((name) =>
      differences(before[name], after[name]).map((change): Change<Json> => (sheet) => ({
        ...(sheet as object),
        [name]: change((sheet as Record<string, Json>)[name]),
      })),
    );
  }
  return isKeyed(before) && isKeyed(after) ? rowsChanged(before, after) : [() => after];
}

function rowsChanged(before: Json[], after: Json[]): Change<Json>[] {
  const [was, is] = [before, after].map((rows) => new Map(rows.map((row) => [keyOf(row), row])));
  return [
    ...before
      .filter((row) => !is?.has(keyOf(row)))
      .map(
        (row): Change<Json> =>
          (rows) =>
            (rows as Json[]).filter((r) => keyOf(r) !== keyOf(row)),
      ),
    ...after.flatMap((row) => {
      const key = keyOf(row);
      return was?.has(key)
        ? differences(was.get(key), row).map(
            (change): Change<Json> =>
              (rows) =>
                (rows as Json[]).map((r) => (keyOf(r) === key ? change(r) : r)),
          )
        : [(rows: Json) => [...(rows as Json[]), row]];
    }),
  ];
}

/**
 * Keeps of several changes those that are taken, each after those that were taken before it; one may rest on another, so
 * what was refused is asked again as long as anything more is taken.
 *
 * @param keep Keeps a sheet; false where it is refused.
 * @returns The sheet as it is kept in the end.
 */
export async function keepEach<Sheet>(
  before: Sheet,
  changes: readonly Change<Sheet>[],
  keep: (sheet: Sheet) => Promise<boolean>,
): Promise<Sheet> {
  let kept = before;
  let open = [...changes];
  for (let wasTaken = true; wasTaken && open.length > 0;) {
    wasTaken = false;
    const refused: Change<Sheet>[] = [];
    for (const change of open) {
      const next = change(kept);
      if (await keep(next)) {
        kept = next;
        wasTaken = true;
      } else {
        refused.push(change);
      }
    }
    open = refused;
  }
  return kept;
}
