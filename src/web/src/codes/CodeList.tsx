import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editCodeSheet, getCodeSheet, type BoardCode, type CodesEdit } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Rows } from '../models/Rows';
import { SheetKept } from '../models/SheetKept';
import { Problem } from '../ui/Problem';
import { useKeeping } from '../ui/useKeeping';

/** A code as a line of fields; its number and groups written out. */
interface Line {
  id: string;
  kind: BoardCode['kind'];
  shown: string;
  element: string;
  colour: string;
  pattern: BoardCode['pattern'];
  groups: string;
  from: number | null;
  to: number | null;
  meaning: string;
  pointsTo: string;
  toDo: string;
  number: 'firmware' | 'hours' | 'operations' | 'other' | null;
  numberName: string;
  unit: string;
  scale: number | null;
}

const lineOf = (c: BoardCode): Line => ({
  id: c.id,
  kind: c.kind,
  shown: c.shown,
  element: c.element,
  colour: c.colour,
  pattern: c.pattern,
  groups: c.groups.join(' '),
  from: c.perSecondFrom,
  to: c.perSecondTo,
  meaning: c.meaning,
  pointsTo: c.pointsTo,
  toDo: c.toDo,
  number: c.number?.kind ?? null,
  numberName: c.number?.name ?? '',
  unit: c.number?.unit ?? '',
  scale: c.number?.scale ?? null,
});

const codeOf = (l: Line): BoardCode => ({
  id: l.id,
  kind: l.kind,
  shown: l.shown,
  element: l.element,
  colour: l.colour,
  pattern: l.pattern,
  groups: (l.groups.match(/\d+/g) ?? []).map(Number),
  perSecondFrom: l.from,
  perSecondTo: l.to,
  meaning: l.meaning,
  pointsTo: l.pointsTo,
  toDo: l.toDo,
  number: l.number && { kind: l.number, name: l.numberName, unit: l.unit, scale: l.scale ?? 1 },
});

/** The codes of a board type, edited where they stand. */
export function CodeList({ boardTypeId }: { boardTypeId: string }) {
  const sheet = useQuery({
    queryKey: ['codeSheet', boardTypeId],
    queryFn: () => ask(getCodeSheet({ path: { id: boardTypeId } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  return (
    <section id="codes" aria-label="Codes" className="mt-4">
      <h2 className="border-b border-rule-2 pb-1">What it shows, blinks, beeps and ticks</h2>
      <Problem error={sheet.error} retry={() => void sheet.refetch()} />
      {sheet.data && !sheet.isFetching && <Editor boardTypeId={boardTypeId} first={sheet.data} />}
    </section>
  );
}

function Editor({ boardTypeId, first }: { boardTypeId: string; first: CodesEdit }) {
  const queries = useQueryClient();
  const [edit, setEdit] = useState({ version: first.version, sheet: first.codes.map(lineOf) });
  const keeping = useKeeping(edit, async ({ version, sheet }) => {
    const now = await ask(editCodeSheet({ path: { id: boardTypeId }, body: { version, codes: sheet.map(codeOf) } }));
    void queries.invalidateQueries({ queryKey: ['edits'] });
    void queries.invalidateQueries({ queryKey: ['codes'] });
    return now;
  });
  return (
    <>
      <Rows
        title="Codes"
        rows={edit.sheet}
        columns={[
          {
            name: 'kind',
            label: 'Kind',
            kind: 'choice',
            options: [
              ['display', 'display'],
              ['lamp', 'lamp'],
              ['beeps', 'beeps'],
              ['ticks', 'ticks'],
            ],
          },
          { name: 'shown', label: 'Shown, # a digit', kind: 'text' },
          { name: 'element', label: 'Lamp', kind: 'text' },
          { name: 'colour', label: 'Colour', kind: 'text' },
          {
            name: 'pattern',
            label: 'How',
            kind: 'choice',
            options: [
              ['steady', 'steady'],
              ['off', 'off'],
              ['even', 'even'],
              ['groups', 'groups'],
            ],
          },
          { name: 'groups', label: 'Groups', kind: 'text' },
          { name: 'from', label: 'From, a second', kind: 'number' },
          { name: 'to', label: 'To', kind: 'number' },
          { name: 'meaning', label: 'Means', kind: 'text', wide: true },
          { name: 'pointsTo', label: 'Points to', kind: 'text', wide: true },
          { name: 'toDo', label: 'What to do', kind: 'text', wide: true },
          {
            name: 'number',
            label: 'Its number is',
            kind: 'choiceOrNone',
            options: [
              ['firmware', 'firmware'],
              ['hours', 'hours'],
              ['operations', 'operations'],
              ['other', 'other'],
            ],
          },
          { name: 'numberName', label: 'Name of it', kind: 'text' },
          { name: 'unit', label: 'Unit', kind: 'text' },
          { name: 'scale', label: 'Times', kind: 'number' },
        ]}
        fresh={(): Line => ({
          ...lineOf({
            id: newId(),
            kind: 'display',
            shown: 'E1',
            element: '',
            colour: '',
            pattern: 'steady',
            groups: [],
            perSecondFrom: null,
            perSecondTo: null,
            meaning: '',
            pointsTo: '',
            toDo: '',
            number: null,
          }),
        })}
        empty="None yet: a code that is seen is kept as not known."
        onChange={(sheet) => setEdit({ ...edit, sheet })}
        onSettle={(sheet) => {
          setEdit({ ...edit, sheet });
          if (!keeping.isClash) {
            void keeping.keep({ ...edit, sheet });
          }
        }}
      />
      <SheetKept
        keeping={keeping}
        edit={edit}
        isChanged={JSON.stringify(edit.sheet) !== JSON.stringify(keeping.kept.sheet)}
        takeTheirs={(theirs) => {
          setEdit(theirs);
          keeping.settle(theirs);
        }}
      />
    </>
  );
}
