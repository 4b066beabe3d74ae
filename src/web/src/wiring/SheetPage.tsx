import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import {
  getMachine,
  getModel,
  type MachineSheetAsk,
  type MachineSheetView,
  type SheetTarget,
  takeSheet,
} from '../api/generated';
import { ask } from '../api/ledger';
import { type Step, watched } from '../machines/watched';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { useDraft, useWritten } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { bytesOf } from './bytes';
import { type ColumnAnswer, SheetColumns } from './SheetColumns';
import { SheetGrid } from './SheetGrid';
import { SheetGroups } from './SheetGroups';
import { CodePages, Hints, Reading, Summary } from './SheetIn';
import { SheetRows } from './SheetRows';
import { SheetWires } from './SheetWires';

interface Answers {
  columns: ColumnAnswer[];
  targets: Record<string, SheetTarget>;
  wires: Record<string, boolean>;
  states: Record<string, string[]>;
}

const nothingSaid: Answers = { columns: [], targets: {}, wires: {}, states: {} };

/** Typing goes on while it is read, in ms. */
const pause = 250;

/** Any sheet in one go: connectors of many boards and of what is on none, with the wires it tells of. */
export function SheetPage() {
  const { tag = '' } = useParams();
  const machine = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  const modelId = machine.data?.modelId;
  const model = useQuery({
    queryKey: ['model', modelId],
    queryFn: () => ask(getModel({ path: { id: modelId ?? '' } })),
    enabled: modelId !== undefined,
  });
  if (!machine.data || !model.data) {
    return <OpeningPage tag={tag} title="From a sheet" words="Opening the machine…" of={[machine, model]} />;
  }
  return <Sheet tag={tag} id={machine.data.id} name={machine.data.name} usual={model.data.usualParts} />;
}

interface SheetProps {
  tag: string;
  id: string;
  name: string;
  usual: Parameters<typeof SheetGroups>[0]['usual'];
}

function Sheet({ tag, id, name, usual }: SheetProps) {
  // What was pasted and what was said of it is there again after a reload, until it is taken in.
  const [text, setText] = useDraft(`sheet/${id}`);
  const [answers, setAnswers] = useWritten<Answers>(`sheet/${id}/said`, nothingSaid);
  const [file, setFile] = useState<{ name: string; bytes: string } | null>(null);
  const [codePage, setCodePage] = useState('');
  const [tab, setTab] = useState<'connectors' | 'wires'>('connectors');
  const [way, setWay] = useState<'paste' | 'rows'>('paste');
  const queries = useQueryClient();
  const go = useNavigate();
  const stop = useRef<AbortController>(undefined);
  const [step, setStep] = useState<Step>();
  const asked: MachineSheetAsk = {
    text: file ? '' : text,
    file: file?.bytes ?? '',
    codePage: codePage ? Number(codePage) : null,
    ...answers,
  };
  const look = useMutation({
    mutationFn: (body: MachineSheetAsk) => {
      stop.current?.abort();
      stop.current = new AbortController();
      setStep(undefined);
      return watched<MachineSheetView>(
        `/api/machines/${encodeURIComponent(id)}/sheet-looks/watched`,
        JSON.stringify(body),
        'application/json',
        stop.current.signal,
        setStep,
      );
    },
  });
  const take = useMutation({
    mutationFn: () => ask(takeSheet({ path: { id }, body: asked })),
    onSuccess: async () => {
      setText('');
      setAnswers(nothingSaid);
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(tag)}/wiring`);
    },
  });
  const read = JSON.stringify(asked);
  const isAny = text.trim() !== '' || file !== null;
  const lookNow = useEffectEvent(() => look.mutate(asked));
  useEffect(() => {
    const timer = setTimeout(() => isAny && lookNow(), pause);
    return () => clearTimeout(timer);
  }, [read, isAny]);
  const view = isAny ? look.data : undefined;
  const canTake = view?.changesAnything === true && !take.isPending && !look.isPending;
  useKeys((key) => {
    if (key !== 'F9' || !canTake) {
      return false;
    }
    take.mutate();
    return true;
  });
  const say = (more: Partial<Answers>) => setAnswers({ ...answers, ...more });
  const groups = (shown: MachineSheetView['groups']) =>
    view && (
      <SheetGroups
        view={view}
        usual={usual}
        groups={shown}
        say={(key, target) => say({ targets: { ...answers.targets, [key]: target } })}
      />
    );
  const unsure = view?.groups.filter((g) => !g.isSure) ?? [];
  return (
    <Frame
      tag={tag}
      title="From a sheet"
      place={name}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      leafName="Connectors and wires of the sheet"
      leaf={
        view ? (
          <>
            <Tabs
              name="Of the sheet"
              value={tab}
              onChange={setTab}
              className="border-b border-rule-2"
              tabs={[
                ['connectors', `Connectors ${view.groups.length}`],
                ['wires', `Wires ${view.wires.filter((w) => w.isTaken).length} of ${view.wires.length}`],
              ]}
            />
            {tab === 'connectors' ? (
              groups(view.groups)
            ) : (
              <SheetWires wires={view.wires} say={(wires) => say({ wires: { ...answers.wires, ...wires } })} />
            )}
          </>
        ) : (
          <Hints />
        )
      }
    >
      <div className="border-b border-rule-2 pb-2">
        <Tabs
          name="How it comes in"
          value={way}
          onChange={(next) => {
            setWay(next);
            if (next === 'rows') {
              setFile(null);
            }
          }}
          tabs={[
            ['paste', 'Pasted or a file'],
            ['rows', 'Row by row, from paper'],
          ]}
        />
        {way === 'rows' ? (
          <SheetGrid machineId={id} text={text} setText={setText} />
        ) : (
          <>
            <label>
              <span className="text-ink-2">Paste the whole sheet, or type it</span>
              <textarea
                autoFocus
                className={`field mt-1 font-mono text-[14px] ${view ? 'h-[84px]' : 'h-[330px]'}`}
                value={file ? '' : text}
                disabled={file !== null}
                placeholder={file ? file.name : ''}
                onChange={(event) => {
                  setText(event.target.value);
                  if (event.target.value.trim() === '') {
                    setAnswers(nothingSaid);
                  }
                }}
              />
            </label>
            <div className="mt-1 flex flex-wrap items-center gap-4">
              <label className="flex flex-wrap items-center gap-2">
                <span className="text-ink-2">or a file: CSV, text, .xlsx, .xls</span>
                <input
                  type="file"
                  accept=".csv,.tsv,.txt,.xlsx,.xls,text/csv,text/plain"
                  className="field w-[290px] max-[899px]:w-full"
                  onChange={(event) => {
                    const chosen = event.target.files?.[0];
                    if (chosen) {
                      setAnswers(nothingSaid);
                      void bytesOf(chosen).then((bytes) => setFile({ name: chosen.name, bytes }));
                    }
                  }}
                />
              </label>
              {file && <CodePages value={codePage} set={setCodePage} />}
              {file && (
                <button
                  type="button"
                  className="link min-h-[38px] max-[899px]:min-h-[44px]"
                  onClick={() => setFile(null)}
                >
                  Leave {file.name}
                </button>
              )}
            </div>
          </>
        )}
      </div>
      <Problem
        error={look.error && look.error.name !== 'AbortError' ? look.error : null}
        retry={() => look.mutate(asked)}
      />
      <Problem error={take.error} />
      {look.isPending && (
        <Reading
          step={step}
          stop={() => {
            stop.current?.abort();
            look.reset();
          }}
        />
      )}
      {!isAny && <p className="py-3 text-ink-2">Nothing is written until you take in what the rows became.</p>}
      {view && (
        <>
          <Summary view={view} busy={!canTake} take={() => take.mutate()} />
          {unsure.length > 0 && (
            <section aria-label="To be looked at" className="mb-2 border-l-4 border-rust pl-3">
              <h2 className="text-[15px]">
                Where {unsure.length === 1 ? 'is this one' : 'are these'}? An answer holds for those that follow.
              </h2>
              {groups(unsure.slice(0, 4))}
            </section>
          )}
          <SheetColumns
            columns={view.columns}
            guessed={view.columnsGuessed}
            said={answers.columns}
            say={(columns) => say({ columns })}
          />
          <SheetRows
            rows={view.rows}
            states={view.states}
            say={(row, states) => say({ states: { ...answers.states, [row.cells.join('\t')]: states } })}
          />
        </>
      )}
    </Frame>
  );
}
