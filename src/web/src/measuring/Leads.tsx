import { useState } from 'react';
import type { RoundView, RowView } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { Key } from '../ui/Key';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { discard, store } from './lines';
import { lineOf } from './sheet';

/** Whether the leads are asked for before a check: few ohms, and nobody asked them or put it off in this round. */
export function useLeads(view: RoundView, row: RowView | undefined) {
  const [left, setLeft] = useDraft(`leads-left/${view.id}`);
  return {
    isAsked: row?.mindsLeads === true && view.leads === null && left === '',
    leave: () => setLeft('not now'),
    askAgain: () => setLeft(''),
    isLeft: left !== '',
  };
}

interface LeadsProps {
  view: RoundView;
  row: RowView;
  personId: string;
  /** Where the hand is led back to. */
  field: React.RefObject<HTMLInputElement | null>;
  leave: () => void;
  done: () => void;
}

/** Asked once a round, before the first check of few ohms: what the leads read by themselves is taken off from there on. */
export function Leads({ view, row, personId, field, leave, done }: LeadsProps) {
  const [typed, setTyped] = useDraft(`leads/${view.id}`);
  const [error, setError] = useState<Refusal | null>(null);
  const put = async () => {
    const line = lineOf(row, personId, {
      kind: 'leadZero',
      checkKey: null,
      red: null,
      black: null,
      limit: null,
      mode: 'ohms',
      typed,
    });
    const outcome = await store(view.id, line);
    if (outcome.kind === 'refused') {
      await discard(line.id);
      setError(outcome.refusal);
      return;
    }
    setTyped('');
    if (outcome.kind === 'waiting') {
      leave();
    }
    done();
  };
  return (
    <form
      className="settle border-2 border-ink px-4 py-2"
      data-testid="leads"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim() !== '') {
          void put();
        }
      }}
    >
      <p className="text-[19px] font-bold">Press the tips of the leads together: what do they read?</p>
      <p className="text-[14px] text-ink-2">
        It is taken off every reading under 10 Ω of this round, and can be taken back.
      </p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <label className="w-[140px] text-[14px]">
          Leads, Ω
          <input
            ref={field}
            className="field font-mono text-[20px]"
            inputMode="decimal"
            autoFocus
            autoComplete="off"
            aria-invalid={error !== null}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button type="submit" className="action">
          Take it off <Key>Enter</Key>
        </button>
        <button type="button" className="quiet" onClick={leave}>
          Not now
        </button>
      </div>
      <Problem error={error} />
    </form>
  );
}

/** What the leads read, in the margin, with the way back. */
export function LeadsKept({
  view,
  personId,
  isLeft,
  askAgain,
}: {
  view: RoundView;
  personId: string;
  isLeft: boolean;
  askAgain: () => void;
}) {
  const row = view.rows.find((r) => r.mindsLeads) ?? view.rows[0];
  const leads = view.leads;
  if (leads && row) {
    return (
      <p className="flex flex-wrap items-baseline gap-x-2">
        <span>
          Leads <b className="font-mono">{leads.value}</b>, taken off under 10 Ω.
        </span>
        <button
          type="button"
          className="link min-h-[32px] max-[899px]:min-h-[44px]"
          onClick={() => {
            askAgain();
            void store(
              view.id,
              lineOf(row, personId, { kind: 'retracted', checkKey: null, red: null, black: null, target: leads.id }),
            );
          }}
        >
          Take back
        </button>
      </p>
    );
  }
  return isLeft ? (
    <button type="button" className="link min-h-[32px] max-[899px]:min-h-[44px]" onClick={askAgain}>
      Ask for the leads again
    </button>
  ) : null;
}
