import { useQuery, useQueryClient } from '@tanstack/react-query';
import { editMarks, getMarks, type MarkFeature, type MarksEdit, type RecognitionMark } from '../api/generated';
import { ask } from '../api/ledger';
import { Rows } from '../models/Rows';
import { SheetKept } from '../models/SheetKept';
import { Problem } from '../ui/Problem';
import { useKeeping } from '../ui/useKeeping';

export const featureWords: Record<MarkFeature, string> = {
  leads: 'leads',
  outputLamps: 'output lamps',
  relayDirection: 'how relays lie',
  width: 'width',
  holePattern: 'holes',
  colour: 'colour',
  printedNumber: 'printed',
  fuses: 'fuses, how many',
  lamps: 'lamps, how many',
  relays: 'relays, how many',
  connectors: 'plugs and strips, how many',
};
const features = Object.entries(featureWords);

/** What the eye knows a board type by; the same words on each, so that they can be told apart. */
export function Marks({ boardTypeId }: { boardTypeId: string }) {
  const marks = useQuery({
    queryKey: ['marks', boardTypeId],
    queryFn: () => ask(getMarks({ path: { id: boardTypeId } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  return (
    <section aria-label="Known by" className="mt-4 max-w-[760px]">
      <h2 className="border-b border-rule-2 pb-1">What the eye knows it by</h2>
      <Problem error={marks.error} retry={() => void marks.refetch()} />
      {marks.data && !marks.isFetching && <Editor boardTypeId={boardTypeId} first={marks.data} />}
    </section>
  );
}

function Editor({ boardTypeId, first }: { boardTypeId: string; first: MarksEdit }) {
  const queries = useQueryClient();
  const keeping = useKeeping(
    `marks/${boardTypeId}`,
    { version: first.version, sheet: first.marks },
    async ({ version, sheet }, client) => {
      const now = await ask(editMarks({ client, path: { id: boardTypeId }, body: { version, marks: sheet } }));
      void queries.invalidateQueries({ queryKey: ['edits'] });
      return now;
    },
  );
  const { edit, write, isChanged } = keeping;
  const settle = (sheet: RecognitionMark[]) => {
    write({ ...edit, sheet });
    if (!keeping.isClash) {
      void keeping.keep({ ...edit, sheet });
    }
  };
  return (
    <>
      <Rows
        title="Marks"
        rows={edit.sheet}
        columns={[
          { name: 'feature', label: 'Look at', kind: 'choice', options: features },
          { name: 'value', label: 'It shows', kind: 'text', wide: true },
        ]}
        fresh={(): RecognitionMark => ({
          feature:
            (Object.keys(featureWords) as MarkFeature[]).find((f) => edit.sheet.every((m) => m.feature !== f)) ??
            'leads',
          value: '',
        })}
        empty="None yet: it cannot be asked for."
        onChange={(sheet) => write({ ...edit, sheet })}
        onSettle={settle}
      />
      <SheetKept keeping={keeping} edit={edit} isChanged={isChanged} takeTheirs={keeping.settle} />
    </>
  );
}
