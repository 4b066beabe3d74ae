/** A form that was begun on this device and that the ledger has not. */
export interface Begun {
  name: string;
  words: string;
  /** Where it is open again; null where its page is not known by its name. */
  to: string | null;
}

type Place = (id: string) => string;

const visit =
  (step: string): Place =>
  (id) =>
    `/visits/${id.split('/')[0] ?? ''}${step}`;
const round: Place = (id) => `/rounds/${id}`;
const machine: Place = (id) => `/machines/${id}`;
const model: Place = (id) => `/models/${id}`;
const nowhere = null;

/** By how the names of their drafts begin, see `ui/useDraft.ts`. */
const kinds: readonly (readonly [begins: string, words: string, place: Place | null])[] = [
  ['form/fault/', 'A fault being written up', (id) => `/faults/${id}`],
  ['form/visit/', 'What is written of a visit', visit('')],
  ['form/call/', 'A support call', nowhere],
  ['form/plate/', 'A plate', machine],
  ['form/wiring/', 'The wiring of a model', model],
  ['form/model-', 'A sheet of a model', (id) => model(id.slice(id.indexOf('/') + 1))],
  ['form/photograph/', 'What a photograph shows', (id) => `/photographs/${id}`],
  ['form/place-text/', 'A place on a photograph', nowhere],
  ['form/marks/', 'What a board is known by', (id) => `/board-types/${id}`],
  ['form/codes/', 'The codes of a board', (id) => `/board-types/${id}`],
  ['form/note-text/', 'A note being changed', nowhere],
  ['form/checks/', 'The checks of a model', model],
  ['form/machine-checks/', 'The checks of one machine', (tag) => `${machine(tag)}/wiring`],
  ['form/circuit/', 'The circuit of a model', model],
  ['form/functions/', 'What a machine does', nowhere],
  ['functions/', 'A name in what a machine does', (id) => `${machine(id.split('/')[0] ?? '')}/functions`],
  ['form/shop', 'The shop’s limits', () => '/shop'],
  ['tables/', 'The tables of a board', (id) => `/board-types/${id}`],
  ['form/pin/', 'A pin of a board', (id) => `/board-types/${id.split('/')[0] ?? ''}`],
  ['terminals/', 'Pasted terminals', (id) => `/machines/${id.replace('/', '/boards/')}/terminals`],
  ['form/setting-value/', 'A setting that was typed', nowhere],
  ['settings-list/', 'A list of settings', nowhere],
  ['setting/', 'What a setting means', nowhere],
  ['new-machine', 'A new machine', () => '/machines/new'],
  ['fit/', 'A board to fit', machine],
  ['complaint/', 'A complaint', machine],
  ['note/', 'A note', machine],
  ['link/', 'A temporary link', visit('/safe')],
  ['open-thing/', 'What was opened', visit('/safe')],
  ['life-safety/', 'Who was told', visit('/safe')],
  ['live-again/', 'Why it goes live again', visit('/safe')],
  ['catch/', 'What was caught', visit('/arrive')],
  ['skip/', 'Why a step is left out', visit('/arrive')],
  ['new-call/', 'A support call', visit('')],
  ['ending', 'What was done', visit('')],
  ['reading/', 'A reading', round],
  ['extra/', 'An extra reading', round],
  ['all-the-same/', 'Why it is measured all the same', round],
];

/** Where a form is open again, by the name of its draft; null where its page is not known by that. */
export const placeOf = (name: string): string | null => begunOf([name])[0]?.to ?? null;

/** What was begun, by the names of the drafts on the device; the few letters of a field that is being typed in leave none. */
export function begunOf(names: readonly string[]): Begun[] {
  return names.flatMap((name) => {
    const kind = kinds.find(([begins]) => name.startsWith(begins));
    if (!kind) {
      return [];
    }
    const [begins, words, place] = kind;
    const id = name.slice(begins.length);
    return [{ name, words, to: place ? place(begins === 'ending' ? id.slice(id.indexOf('/') + 1) : id) : null }];
  });
}
