import { called } from './called';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { acceptTerminals, previewTerminals, type TerminalPreviewView } from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { OpeningPage } from '../ui/OpeningPage';
import { isBegun, useDraft } from '../ui/useDraft';
import { Problem } from '../ui/Problem';
import { type ColumnAnswer, SheetColumns } from '../wiring/SheetColumns';
import { SheetRows } from '../wiring/SheetRows';
import { useBoardMap } from './useBoardMap';

/** A terminal list from a spreadsheet: how each row was understood, before anything is written. */
export function TerminalImportPage() {
  const { tag = '', positionId = '' } = useParams();
  const map = useBoardMap(tag, positionId, { turns: 0, side: 'component' });
  const boardTypeId = map.data?.boardTypeId ?? '';
  const [file, setFile] = useState<Blob | null>(null);
  // Pasted rows are there again after a reload, until they are accepted.
  const [pasted, setPasted] = useDraft(`terminals/${tag}/${positionId}`);
  const queries = useQueryClient();
  const go = useNavigate();
  const [columns, setColumns] = useState<ColumnAnswer[]>([]);
  const sent = (body: Blob, set: ColumnAnswer[]) => ({
    path: { boardTypeId },
    query: set.length > 0 ? { columns: set.map(({ place, column }) => `${column ?? 'none'}:${place}`).join(',') } : {},
    // The generated type says text; the bytes go as they are, since Core works out the character set.
    body: body as unknown as string,
  });
  const preview = useMutation({
    mutationFn: ({ body, set }: { body: Blob; set: ColumnAnswer[] }) => ask(previewTerminals(sent(body, set))),
  });
  const accept = useMutation({
    mutationFn: () => ask(acceptTerminals(sent(file ?? new Blob(), columns))),
    onSuccess: async () => {
      setPasted('');
      await queries.invalidateQueries({ queryKey: ['map'] });
      await queries.invalidateQueries({ queryKey: ['machine'] });
      await go(`/machines/${encodeURIComponent(tag)}/boards/${positionId}`);
    },
  });
  const look = (body: Blob) => {
    setFile(body);
    setColumns([]);
    preview.mutate({ body, set: [] });
  };
  const again = useRef(() => look(new Blob([pasted])));
  useEffect(() => {
    if (boardTypeId && isBegun(`terminals/${tag}/${positionId}`)) {
      again.current();
    }
  }, [boardTypeId, tag, positionId]);
  if (!map.data) {
    return <OpeningPage tag={tag} title="Terminals from a spreadsheet" words="Opening the board…" of={[map]} />;
  }
  return (
    <Frame
      tag={tag}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      title="Terminals from a spreadsheet"
      place={called(map.data)}
    >
      <div className="flex flex-wrap items-end gap-5 border-b border-rule-2 pb-3">
        <label>
          <span className="text-ink-2">A file: CSV, text, .xlsx, .xls</span>
          <input
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,.xls,text/csv"
            className="field mt-1"
            onChange={(event) => {
              const chosen = event.target.files?.[0];
              if (chosen) {
                look(chosen);
              }
            }}
          />
        </label>
        <label className="w-full">
          <span className="text-ink-2">or paste the rows here</span>
          <textarea
            className={`field mt-1 font-mono text-[14px] ${preview.data ? 'h-[92px]' : 'h-[300px]'}`}
            value={pasted}
            onChange={(event) => {
              setPasted(event.target.value);
              if (event.target.value.trim()) {
                look(new Blob([event.target.value]));
              }
            }}
          />
        </label>
        <Link className="link min-h-[38px]" to={`/machines/${encodeURIComponent(tag)}/boards/${positionId}`}>
          Back to the board
        </Link>
      </div>
      <Problem error={preview.error} />
      <Problem error={accept.error} />
      {!preview.data && !preview.isPending && (
        <p className="py-4 text-ink-2">Nothing is written until you accept how the rows were understood.</p>
      )}
      {preview.isPending && <p className="py-4 text-ink-2">Reading the rows…</p>}
      {preview.data && (
        <>
          <SheetColumns
            columns={preview.data.columns}
            guessed={false}
            said={columns}
            say={(next) => {
              setColumns(next);
              if (file) {
                preview.mutate({ body: file, set: next });
              }
            }}
          />
          <Summary view={preview.data} accept={() => accept.mutate()} busy={accept.isPending} />
          <SheetRows rows={preview.data.rows} />
        </>
      )}
    </Frame>
  );
}

function Summary({ view, accept, busy }: { view: TerminalPreviewView; accept: () => void; busy: boolean }) {
  return (
    <div className="flex flex-wrap items-center gap-4 py-3">
      <p className="grow">
        <b>
          {view.added} new, {view.changed} changed, {view.refused} refused, {view.doubtful} in doubt.
        </b>{' '}
        <span className="text-ink-2">
          {view.fileKind}.
          {view.notInFile.length > 0 &&
            ` Not in the file, and kept: ${view.notInFile.slice(0, 12).join(', ')}${view.notInFile.length > 12 ? ` and ${view.notInFile.length - 12} more` : ''}.`}
        </span>
      </p>
      <button type="button" className="action" disabled={!view.changesAnything || busy} onClick={accept}>
        {view.changesAnything ? 'Accept these rows' : 'Nothing would change'}
      </button>
    </div>
  );
}
