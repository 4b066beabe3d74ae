import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { useSearchParams } from 'react-router';
import {
  type SumAnswer,
  type SumField,
  type SumVerdict,
  type SumView,
  type VisitStart,
  workOutSum,
} from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Mark, markColour, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useDraft, useWritten } from '../ui/useDraft';
import { useSettled } from '../ui/useSettled';
import { KeepLine } from '../visits/KeepLine';
import { WhichFuse } from './WhichFuse';

/** A number half typed is not asked about, in ms. */
const rest = 180;

/** These can be said of one fuse of the machine. */
const fuseSums = ['fuse', 'pulled'];

const marks: Record<SumVerdict, MarkKind | null> = {
  figure: null,
  good: 'within',
  bad: 'differs',
  notJudged: 'notJudged',
};

/** One sum: its fields, and the answer as one types. With a visit it can be kept there. */
export function Sum({ sum, start }: { sum: SumView; start: VisitStart | undefined }) {
  // A check that leads here says what it knows.
  const [from] = useSearchParams();
  const known = Object.fromEntries(sum.fields.map((f) => [f.name, from.get(f.name) ?? '']));
  const [typed, setTyped] = useWritten(`sums/${start?.visitId ?? 'bench'}/${sum.id}/${from.toString()}`, known);
  const [which, setWhich] = useDraft(`sums/${start?.visitId ?? 'bench'}/which-fuse`);
  const standing = JSON.stringify(typed);
  const settled = useSettled(standing, rest);
  const asked = JSON.parse(settled) as Record<string, string>;
  const isFilled = isReady(sum, asked) && isReady(sum, typed);
  const answer = useQuery({
    queryKey: ['sum', sum.id, settled],
    queryFn: () => ask(workOutSum({ path: { id: sum.id }, body: asked })),
    enabled: isFilled,
    retry: false,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  // The answer that is shown is still that of what stood here before.
  const isOld = answer.isPlaceholderData || settled !== standing;
  const refused = answer.error instanceof Refusal ? answer.error.problem : undefined;
  const wrong = sum.fields.find((f) => f.name === refused?.field);
  return (
    <section aria-label={sum.name}>
      <h3 className="text-[19px] font-bold">{sum.name}</h3>
      <p className="text-ink-2">{sum.what}</p>
      {start && fuseSums.includes(sum.id) && (
        <WhichFuse machineId={start.machineId} value={which} onChange={setWhich} />
      )}
      <div className="mt-2 grid gap-x-5 gap-y-2 min-[900px]:grid-cols-2">
        {sum.fields.map((f) => (
          <Field
            key={f.name}
            field={f}
            text={typed[f.name] ?? ''}
            wrong={isFilled && wrong === f ? (refused?.detail ?? '') : ''}
            onChange={(text) => setTyped({ ...typed, [f.name]: text })}
          />
        ))}
      </div>
      {Object.values(typed).some((text) => text !== '') && (
        <p className="mt-1">
          <button
            type="button"
            className="link min-h-[32px] text-[14px] max-[899px]:min-h-[44px]"
            onClick={() => setTyped(Object.fromEntries(sum.fields.map((f) => [f.name, ''])))}
          >
            Empty all fields
          </button>
        </p>
      )}
      {isFilled && !wrong && <Problem error={answer.error} retry={() => void answer.refetch()} />}
      {isFilled && answer.data && !answer.error ? (
        <Answer
          sum={sum}
          which={fuseSums.includes(sum.id) ? which : ''}
          typed={asked}
          answer={answer.data}
          isOld={isOld}
          start={start}
        />
      ) : (
        <p className="mt-4 border-t border-rule-2 pt-2 text-ink-2">
          {wrong
            ? 'No answer until that is put right.'
            : 'The answer stands here as soon as what is marked “needed” is filled in.'}
        </p>
      )}
    </section>
  );
}

const isReady = (sum: SumView, typed: Record<string, string>): boolean =>
  sum.fields.every((f) => !f.isNeeded || Boolean(typed[f.name]?.trim()));

interface FieldProps {
  field: SumField;
  text: string;
  wrong: string;
  onChange: (text: string) => void;
}

function Field({ field, text, wrong, onChange }: FieldProps) {
  const id = useId();
  const isList = field.name === 'readings' || field.name === 'mark';
  return (
    <div className={isList ? 'min-[900px]:col-span-2' : ''}>
      <label htmlFor={field.choices.length ? undefined : id} className="flex justify-between gap-3 text-[14px]">
        <span>
          {field.label}
          {field.unit && <span className="text-ink-2">, {field.unit}</span>}
        </span>
        {field.isNeeded && !text.trim() && <span className="text-ink-2">needed</span>}
      </label>
      {field.choices.length ? (
        <Choose
          name={field.label}
          value={text}
          options={[{ value: '', words: 'not said' }, ...field.choices.map((c) => ({ value: c, words: c }))]}
          onChange={onChange}
        />
      ) : (
        <input
          id={id}
          className={`field font-mono ${wrong ? 'border-out' : ''}`}
          autoComplete="off"
          inputMode={field.unit && field.unit !== 'Ω' && field.unit !== 'F' ? 'decimal' : 'text'}
          placeholder={field.example}
          value={text}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
      {wrong && (
        <p id={`${id}-wrong`} role="alert" className="text-[14px] text-out">
          {wrong}
        </p>
      )}
    </div>
  );
}

interface AnswerProps {
  sum: SumView;
  /** The thing of the machine it is about; empty where nobody said. */
  which: string;
  typed: Record<string, string>;
  answer: SumAnswer;
  isOld: boolean;
  start: VisitStart | undefined;
}

function Answer({ sum, which, typed, answer, isOld, start }: AnswerProps) {
  const [isAsked, setAsked] = useState(false);
  const mark = marks[answer.verdict];
  return (
    <div className={`mt-4 border-t border-rule-2 pt-2 ${isOld ? 'opacity-60' : ''}`}>
      <p
        aria-live="polite"
        className={`flex items-center gap-3 font-mono text-[32px] leading-tight font-bold break-words ${mark ? markColour(mark) : ''}`}
      >
        {mark && <Mark kind={mark} />}
        <span className="min-w-0">{answer.headline}</span>
      </p>
      {answer.says && <p className="mt-1 max-w-[62ch]">{answer.says}</p>}
      {answer.lines.length > 0 && (
        <dl className="mt-2 max-w-[520px]">
          {answer.lines.map((l) => (
            <div key={l.label} className="flex justify-between gap-4 border-b border-rule py-0.5">
              <dt>{l.label}</dt>
              <dd className="font-mono">{l.value}</dd>
            </div>
          ))}
        </dl>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-4">
        {start && (
          <KeepLine
            start={start}
            text={lineOf(which ? `${which}, ${sum.name.toLowerCase()}` : sum.name, sum, typed, answer)}
            isOld={isOld}
          />
        )}
        <button type="button" className="quiet" aria-expanded={isAsked} onClick={() => setAsked(!isAsked)}>
          Why?
        </button>
      </div>
      {isAsked && (
        <ul role="region" aria-label="Why" className="settle mt-2 list-disc bg-paper py-2 pr-3 pl-7 text-[14px]">
          {answer.working.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** What it came to, and of what, in one line of the visit. */
function lineOf(name: string, sum: SumView, typed: Record<string, string>, answer: SumAnswer): string {
  const of = sum.fields
    .filter((f) => typed[f.name]?.trim())
    .map(
      (f) =>
        `${f.label.toLowerCase()} ${typed[f.name]?.trim()}${f.unit && /\d$/.test(typed[f.name] ?? '') ? ` ${f.unit}` : ''}`,
    );
  return `${name}: ${answer.headline} (${of.join('; ')})`;
}
