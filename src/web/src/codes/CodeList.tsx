import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editCodeSheet, getCodeSheet, type BoardCode, type CodesEdit } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { type Cell, type Column, RowField } from '../models/Rows';
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

function patternOf(l: Line): BoardCode['pattern'] {
  switch (l.kind) {
    case 'display':
      return 'steady';
    case 'ticks':
      return 'even';
    case 'beeps':
      return l.pattern === 'even' ? 'even' : 'groups';
    default:
      return l.pattern;
  }
}

/** Only what its kind can say; what was written for another kind is let go. */
function codeOf(l: Line): BoardCode {
  const [isDisplay, isLamp] = [l.kind === 'display', l.kind === 'lamp'];
  const pattern = patternOf(l);
  const hasRate = l.kind === 'ticks' || (isLamp && (pattern === 'even' || pattern === 'groups'));
  return {
    id: l.id,
    kind: l.kind,
    shown: isDisplay ? l.shown : '',
    element: isLamp ? l.element : '',
    colour: isLamp ? l.colour : '',
    pattern,
    groups: pattern === 'groups' ? (l.groups.match(/\d+/g) ?? []).map(Number) : [],
    perSecondFrom: hasRate ? l.from : null,
    perSecondTo: hasRate ? l.to : null,
    meaning: l.meaning,
    pointsTo: l.pointsTo,
    toDo: l.toDo,
    number: isDisplay ? l.number && { kind: l.number, name: l.numberName, unit: l.unit, scale: l.scale ?? 1 } : null,
  };
}

const how: [string, string][] = [
  ['steady', 'steady'],
  ['off', 'off'],
  ['even', 'even'],
  ['groups', 'groups'],
];
const meanings: Column<Line>[] = [
  { name: 'meaning', label: 'Means', kind: 'text', wide: true },
  { name: 'pointsTo', label: 'Points to', kind: 'text', wide: true },
  { name: 'toDo', label: 'What to do', kind: 'text', wide: true },
];
const rates: Column<Line>[] = [
  { name: 'from', label: 'From, a second', kind: 'number' },
  { name: 'to', label: 'To, a second', kind: 'number' },
];

/** What there is to say of a code, by its kind. */
function columnsOf(line: Line): Column<Line>[] {
  const kind: Column<Line> = {
    name: 'kind',
    label: 'Kind',
    kind: 'choice',
    options: [
      ['display', 'display'],
      ['lamp', 'lamp'],
      ['beeps', 'beeps'],
      ['ticks', 'ticks'],
    ],
  };
  const groups: Column<Line>[] =
    patternOf(line) === 'groups' ? [{ name: 'groups', label: 'Groups, such as 2 1', kind: 'text' }] : [];
  switch (line.kind) {
    case 'display':
      return [
        kind,
        { name: 'shown', label: 'Shown, # a digit', kind: 'text' },
        ...meanings,
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
        ...(line.number
          ? ([
              { name: 'numberName', label: 'Name of it', kind: 'text' },
              { name: 'unit', label: 'Unit', kind: 'text' },
              { name: 'scale', label: 'Times', kind: 'number' },
            ] satisfies Column<Line>[])
          : []),
      ];
    case 'lamp':
      return [
        kind,
        { name: 'element', label: 'Lamp', kind: 'text' },
        { name: 'colour', label: 'Colour', kind: 'text' },
        { name: 'pattern', label: 'How', kind: 'choice', options: how },
        ...groups,
        ...(line.pattern === 'steady' || line.pattern === 'off' ? [] : rates),
        ...meanings,
      ];
    case 'beeps':
      return [kind, { name: 'pattern', label: 'How', kind: 'choice', options: how.slice(2) }, ...groups, ...meanings];
    default:
      return [kind, ...rates, ...meanings];
  }
}

/** How it is said, for a line that is written just now. */
const said = (l: Line): string =>
  (l.kind === 'display'
    ? l.shown
    : [
        l.kind === 'lamp' ? `${l.element} ${l.colour}`.trim() || 'lamp' : l.kind,
        patternOf(l) === 'groups' ? l.groups : '',
      ].join(' ')) || 'new code';

/** The codes of a board type: a line each, opened to write in it. */
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
  const [words, setWords] = useState(() => wordsOf(first.codes));
  const [added, setAdded] = useState('');
  const keeping = useKeeping(
    `codes/${boardTypeId}`,
    { version: first.version, sheet: first.codes.map(lineOf) },
    async ({ version, sheet }, client) => {
      const now = await ask(
        editCodeSheet({ client, path: { id: boardTypeId }, body: { version, codes: sheet.map(codeOf) } }),
      );
      setWords(wordsOf(now.codes));
      void queries.invalidateQueries({ queryKey: ['edits'] });
      void queries.invalidateQueries({ queryKey: ['codes'] });
      return now;
    },
  );
  const { edit, write, isChanged } = keeping;
  const settle = (sheet: Line[]) => {
    write({ ...edit, sheet });
    if (!keeping.isClash) {
      void keeping.keep({ ...edit, sheet });
    }
  };
  const put = (at: number, name: keyof Line, value: Cell) =>
    settle(edit.sheet.map((l, i) => (i === at ? { ...l, [name]: value } : l)));
  return (
    <>
      {edit.sheet.length === 0 && (
        <p className="py-1 text-ink-2">None yet: a code that is seen is kept as not known.</p>
      )}
      <ul aria-label="Codes">
        {edit.sheet.map((line, at) => (
          <Disclosure as="li" key={line.id} defaultOpen={line.id === added} className="border-b border-rule">
            <DisclosureButton className="grid min-h-[44px] w-full cursor-pointer grid-cols-[18rem_1fr_16rem] items-center gap-x-4 py-1 text-left data-open:border-l-4 data-open:border-rust data-open:pl-2 max-[899px]:grid-cols-1">
              <b className="font-mono">{(isChanged ? undefined : words.get(line.id)) ?? said(line)}</b>
              <span>{line.meaning || <span className="text-ink-2">what it means is not written</span>}</span>
              <span className="text-[14px] text-ink-2">{line.pointsTo}</span>
            </DisclosureButton>
            <DisclosurePanel
              role="group"
              aria-label={`Code ${said(line)}`}
              className="flex flex-wrap items-end gap-3 border-l-4 border-rust pb-3 pl-2"
            >
              {columnsOf(line).map((column) => (
                <label
                  key={column.name}
                  className={`text-[13px] text-ink-2 ${column.wide ? 'w-full max-w-[640px]' : 'w-[10rem]'}`}
                >
                  {column.label}
                  <RowField column={column} row={line} settle={(value) => put(at, column.name, value)} />
                </label>
              ))}
              <button
                type="button"
                className="link min-h-[38px] text-[14px] max-[899px]:min-h-[44px]"
                onClick={() => settle(edit.sheet.filter((_, i) => i !== at))}
              >
                Strike out
              </button>
            </DisclosurePanel>
          </Disclosure>
        ))}
      </ul>
      <button
        type="button"
        className="link min-h-[34px] text-[14px] max-[899px]:min-h-[44px]"
        onClick={() => {
          const line = { ...lineOf(blank), id: newId() };
          write({ ...edit, sheet: [...edit.sheet, line] });
          setAdded(line.id);
        }}
      >
        Add a code
      </button>
      <SheetKept
        keeping={keeping}
        edit={edit}
        isChanged={isChanged}
        takeTheirs={(theirs) => {
          // They come as codes, as the ledger has them.
          const taken = { version: theirs.version, sheet: (theirs.sheet as unknown as BoardCode[]).map(lineOf) };
          setWords(wordsOf(theirs.sheet as unknown as BoardCode[]));
          keeping.settle(taken);
        }}
      />
    </>
  );
}

const wordsOf = (codes: BoardCode[]): Map<string, string> => new Map(codes.map((c) => [c.id, c.words ?? '']));

const blank: BoardCode = {
  id: '',
  kind: 'display',
  shown: '',
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
};
