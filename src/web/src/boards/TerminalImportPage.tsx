import { called } from './called';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { acceptTerminals, previewTerminals, type RowPreview, type TerminalPreviewView } from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { More } from '../ui/More';
import { OpeningPage } from '../ui/OpeningPage';
import { isBegun, useDraft } from '../ui/useDraft';
import { Problem } from '../ui/Problem';
import { useBoardMap } from './useBoardMap';

const columnNames: Record<string, string> = {
  connector: 'Connector',
  pin: 'Pin',
  colour: 'Wire colour',
  signal: 'What it does',
  feeds: 'Feeds',
  joinedTo: 'Joined to',
  mode: 'Meter mode',
  common: 'Common pin',
  otherEnd: 'Other end',
  expected: 'Should read',
  state: 'State',
  plugged: 'Plugged',
  remark: 'Remark',
};

const outcomeWords = { added: 'new', changed: 'changed', same: 'as it is', refused: 'refused' } as const;
const outcomeMarks = { added: 'here', changed: 'marginal', same: 'within', refused: 'dead' } as const;

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
  const [columns, setColumns] = useState<Record<string, number>>();
  const sent = (body: Blob, set?: Record<string, number>) => ({
    path: { boardTypeId },
    query: set
      ? {
          columns: Object.entries(set)
            .map(([name, at]) => `${name}:${at}`)
            .join(','),
        }
      : {},
    // The generated type says text; the bytes go as they are, since Core works out the character set.
    body: body as unknown as string,
  });
  const preview = useMutation({
    mutationFn: ({ body, set }: { body: Blob; set?: Record<string, number> | undefined }) =>
      ask(previewTerminals(sent(body, set))),
    onSuccess: (view) => setColumns(view.columns),
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
  const look = (body: Blob, set?: Record<string, number>) => {
    setFile(body);
    preview.mutate({ body, set });
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
          <span className="text-ink-2">A CSV file: commas, semicolons or tabs</span>
          <input
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
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
          <Columns
            view={preview.data}
            columns={columns ?? preview.data.columns}
            set={(next) => {
              setColumns(next);
              if (file) {
                preview.mutate({ body: file, set: next });
              }
            }}
          />
          <Summary view={preview.data} accept={() => accept.mutate()} busy={accept.isPending} />
          <Rows view={preview.data} />
        </>
      )}
    </Frame>
  );
}

function Columns({
  view,
  columns,
  set,
}: {
  view: TerminalPreviewView;
  columns: Record<string, number>;
  set: (next: Record<string, number>) => void;
}) {
  return (
    <More
      title={
        <>
          Columns:{' '}
          {Object.entries(columns)
            .map(([name, at]) => `${columnNames[name] ?? name} from “${view.headings[at] ?? at + 1}”`)
            .join(', ')}
        </>
      }
      className="border-b border-rule py-2"
    >
      <div className="mt-2 grid grid-cols-2 gap-3 min-[900px]:grid-cols-5">
        {Object.entries(columnNames).map(([name, label]) => (
          <label key={name} className="text-[14px]">
            {label}
            <Choose
              className="mt-0.5"
              value={`${columns[name] ?? ''}`}
              options={[
                { value: '', words: 'not in the file' },
                ...view.headings.map((heading, i) => ({ value: `${i}`, words: heading || `column ${i + 1}` })),
              ]}
              onChange={(column) => {
                const next = Object.fromEntries(Object.entries(columns).filter(([n]) => n !== name));
                set(column === '' ? next : { ...next, [name]: Number(column) });
              }}
            />
          </label>
        ))}
      </div>
    </More>
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
          {view.charset}, {view.delimiter === '\t' ? 'tabs' : view.delimiter === ';' ? 'semicolons' : 'commas'}.
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

function Rows({ view }: { view: TerminalPreviewView }) {
  return (
    <div className="overflow-auto" role="region" aria-label="Rows of the file" tabIndex={0}>
      <table className="w-full min-w-[700px] border-collapse text-[14px]">
        <caption className="sr-only">Rows of the file</caption>
        <thead>
          <tr className="border-b border-rule-2 text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
            <th scope="col">Line</th>
            <th scope="col">Outcome</th>
            <th scope="col">As written</th>
            <th scope="col">As understood</th>
            <th scope="col">Changes, doubts</th>
          </tr>
        </thead>
        <tbody>
          {view.rows.map((row) => (
            <Row key={row.line} row={row} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Row({ row }: { row: RowPreview }) {
  return (
    <tr className="border-b border-rule align-top [&>td]:py-1 [&>td]:pr-3">
      <td className="font-mono">{row.line}</td>
      <td className="whitespace-nowrap">
        <span className="inline-flex items-center gap-1.5">
          <Mark kind={outcomeMarks[row.outcome]} /> {outcomeWords[row.outcome]}
        </span>
      </td>
      <td className="max-w-[220px] truncate font-mono text-ink-2">{row.cells.join(' | ')}</td>
      <td>{row.understood || <span className="text-out">{row.problem}</span>}</td>
      <td>
        {row.changes.join('; ')}
        {row.doubts.map((doubt) => (
          <span key={doubt} className="block text-marginal">
            In doubt: {doubt}
          </span>
        ))}
      </td>
    </tr>
  );
}
