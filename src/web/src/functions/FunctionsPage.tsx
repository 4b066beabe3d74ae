import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { editFunctions, type FunctionSheet, type FunctionsView, getFunctions, getMachine } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { PlaceMargin } from '../machines/MachineMargin';
import { useSheet } from '../models/useSheet';
import { Frame } from '../ui/Frame';
import { OpeningPage } from '../ui/OpeningPage';
import { FunctionTable } from './FunctionTable';
import { isSameName } from './lines';

/** What a machine does, and which parts that takes: one table of ticks. */
export function FunctionsPage() {
  const { tag = '' } = useParams();
  const machine = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  const functions = useQuery({
    queryKey: ['functions', tag],
    queryFn: () => ask(getFunctions({ path: { id: tag } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  if (!machine.data || !functions.data || !functions.isFetchedAfterMount) {
    return <OpeningPage tag={tag} title="What it does" words="Opening the table…" of={[machine, functions]} />;
  }
  return (
    <OfMachine
      key={tag}
      tag={tag}
      name={machine.data.name}
      model={machine.data.model}
      view={functions.data}
      fresh={() => void functions.refetch()}
    />
  );
}

interface OfMachineProps {
  tag: string;
  name: string;
  model: string;
  view: FunctionsView;
  fresh: () => void;
}

const levels = [
  'Nothing is entered yet that tells suspects apart.',
  'Its suspects stand on its wiring.',
  'Its suspects stand on this table.',
  'Its suspects stand on its circuit; this table adds what the circuit does not know.',
];

function OfMachine({ tag, name, model, view, fresh }: OfMachineProps) {
  // A new table begins with what is known of the model; nothing of it is kept before the first function.
  const first: FunctionSheet =
    view.sheet.parts.length + view.sheet.rows.length === 0 ? { parts: view.usual, rows: [], rails: [] } : view.sheet;
  const { sheet, settle, kept } = useSheet<FunctionSheet>(
    `functions/${view.modelId}`,
    view.version,
    first,
    async (version, next, client) => {
      const now = await ask(editFunctions({ client, path: { id: view.modelId }, body: { version, sheet: next } }));
      fresh();
      return { version: now.versionOfFunctions };
    },
  );
  return (
    <Frame
      tag={tag}
      title="What it does"
      place={name}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      leafName="What the table tells"
      leaf={
        <>
          <h2 className="border-b border-rule-2 pb-1 text-[15px]">What the table tells</h2>
          <p className="py-2">{levels[view.level]}</p>
          {view.notToldApart.length > 0 ? (
            <>
              <p className="text-[14px] text-ink-2">No function tells these from one another:</p>
              <ul className="text-[14px]">
                {view.notToldApart.map((group) => (
                  <li key={group.join()} className="border-b border-rule py-1">
                    {group.join(', ')}
                  </li>
                ))}
              </ul>
              <p className="mt-1 text-[14px] text-ink-2">
                A function that needs one of them and not the others would. Else a reading has to.
              </p>
            </>
          ) : (
            sheet.rows.length > 0 && <p className="text-[14px]">Each part is told from every other by some function.</p>
          )}
          <p className="mt-4 text-[14px] text-ink-2">
            A function that works speaks for all it needs. A board whose inside nobody knows may fail in one function
            alone: one that works never clears another. A table that is not complete is expected, and weighed so.
          </p>
        </>
      }
    >
      <h2 className="title">What {model || 'it'} does, and what that takes</h2>
      <p className="mt-1 text-[14px] text-ink-2">
        A row for each thing one can see it do. Space or a tap: needed, one of several, not needed. Arrows go from cell
        to cell.
      </p>
      <FunctionTable
        draft={`functions/${tag}`}
        sheet={sheet}
        states={view.states}
        settle={settle}
        add={(what) => {
          if (sheet.rows.some((r) => isSameName(r.name, what))) {
            return false;
          }
          settle({
            ...sheet,
            rows: [
              ...sheet.rows,
              // Supply and logic are needed by nearly all: ticked beforehand.
              {
                id: newId(),
                name: what,
                state: '',
                needs: sheet.parts.filter((p) => view.neededByAll.includes(p)),
                oneOf: [],
              },
            ],
          });
          return true;
        }}
      />
      {kept}
    </Frame>
  );
}
