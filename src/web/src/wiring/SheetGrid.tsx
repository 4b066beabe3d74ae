import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { listPhotographs } from '../api/generated';
import { ask } from '../api/ledger';
import { kindWords } from '../photographs/take';
import { Choose } from '../ui/Choose';
import { Grid } from '../ui/Grid';
import { PanZoom } from '../ui/PanZoom';
import { PlugGrid } from './PlugGrid';
import { gridColumns, rowsOf, textOfRows, withChanges } from './sheetGrid';

interface SheetGridProps {
  machineId: string;
  text: string;
  setText: (text: string) => void;
}

const columns = gridColumns.map(([id, label]) => ({
  id,
  label,
  className: ['pin', 'reads', 'black', 'to'].includes(id) ? 'font-mono whitespace-nowrap' : '',
}));

/** A paper sheet typed row by row, its photograph beside it; `J4 1-12` makes twelve rows. */
export function SheetGrid({ machineId, text, setText }: SheetGridProps) {
  const [past, setPast] = useState<string[]>([]);
  const [future, setFuture] = useState<string[]>([]);
  const rows = rowsOf(text);
  if (!rows) {
    return (
      <p className="py-3">
        The box holds a sheet that was pasted, which is read as it stands.{' '}
        <button type="button" className="link min-h-[38px]" onClick={() => setText('')}>
          Empty it and type row by row
        </button>
      </p>
    );
  }
  const write = (next: string[][]) => {
    setPast([...past, text]);
    setFuture([]);
    setText(textOfRows(next));
  };
  const step = (from: string[], setFrom: (to: string[]) => void, to: string[], setTo: (to: string[]) => void) => {
    const back = from.at(-1);
    if (back !== undefined) {
      setFrom(from.slice(0, -1));
      setTo([...to, text]);
      setText(back);
    }
  };
  return (
    <div className="grid gap-4 min-[1100px]:grid-cols-[minmax(210px,1fr)_2fr]">
      <Paper machineId={machineId} />
      <div className="min-w-0">
        <div className="max-h-[46dvh] overflow-auto" role="region" aria-label="Rows of the sheet" tabIndex={0}>
          <Grid
            label="Rows of the sheet"
            columns={columns}
            rows={[...rows, gridColumns.map(() => '')].map((cells, i) => ({
              id: `${i}`,
              cells: Object.fromEntries(gridColumns.map(([id], c) => [id, cells[c] ?? ''])),
            }))}
            problems={new Map()}
            newRow={newRowAfter(rows.length)}
            onChange={(changes) => write(withChanges(rows, changes))}
            onUndo={() => step(past, setPast, future, setFuture)}
            onRedo={() => step(future, setFuture, past, setPast)}
            onRemove={(ids) => write(rows.filter((_, i) => !ids.includes(`${i}`)))}
          />
        </div>
        <p className="py-1 text-[14px] text-ink-2">
          <span className="font-mono">J4 1-12</span> makes twelve rows. A board or thing stands before its connector:{' '}
          <span className="font-mono">drive J1-4</span>.
        </p>
        <PlugGrid into={(more) => write([...rows, ...more])} />
      </div>
    </div>
  );
}

/** Numbers for rows of a pasted block that reaches beyond the last. */
function newRowAfter(rows: number): () => string {
  let next = rows + 1;
  return () => `${next++}`;
}

/** The photograph of a paper sheet, looked at closer where the writing is small. */
function Paper({ machineId }: { machineId: string }) {
  const [chosen, setChosen] = useState('');
  const photographs = useQuery({
    queryKey: ['photographs', machineId],
    queryFn: () => ask(listPhotographs({ path: { machineId } })),
  });
  const all = photographs.data ?? [];
  const shown = all.find((p) => p.id === chosen) ?? all.find((p) => p.kind === 'other') ?? all[0];
  if (!shown) {
    return (
      <p className="text-[14px] text-ink-2">With a photograph of the paper it would stand here, beside the rows.</p>
    );
  }
  return (
    <div>
      <label className="block text-[14px]">
        Photograph beside the rows
        <Choose
          className="mt-0.5"
          value={shown.id}
          options={all.map((p) => ({ value: p.id, words: p.caption || kindWords[p.kind] }))}
          onChange={setChosen}
        />
      </label>
      <div className="mt-2">
        <PanZoom
          key={shown.id}
          width={shown.width}
          height={shown.height}
          label={shown.caption || kindWords[shown.kind]}
          testId="paper"
          className="max-h-[46dvh] w-full border border-rule-2"
        >
          <image href={`/api/pictures/${shown.hash}`} width={shown.width} height={shown.height} />
        </PanZoom>
      </div>
    </div>
  );
}
