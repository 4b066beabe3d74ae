import { type RefObject, useRef, useState } from 'react';
import type { LiveAnswer, RoundView, RowView } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { draftOf, keepDraft } from '../ui/useDraft';
import { discard, store, type WaitingLine } from './lines';
import { useMeanwhile, withShowing } from './Meanwhile';
import { firstOpen } from './proposed';
import { changesBetween, lineOf, nextDown, sheetOf } from './sheet';

/**
 * How long the page waits for a ledger that neither answers nor refuses the connection before it goes on down the
 * sheet: long enough that a slow one still says which check is next, in ms.
 */
const patience = 4000;

/**
 * Where one stands on the sheet, what is typed there, and what becomes of it.
 *
 * @param isRoundOn The sheet holds some checks alone: what comes next is the next of these, whatever the ledger would ask for.
 * @param field Where the number is typed: the hand is led back to it.
 */
export function useMeasuring(
  view: RoundView,
  waiting: readonly WaitingLine[],
  personId: string,
  field: RefObject<HTMLInputElement | null>,
  isRoundOn: boolean,
) {
  const lines = sheetOf(view, waiting);
  const [cursor, setCursor] = useState<string | null>(view.nextKey);
  // The number belongs to its row: it is there again after a reload, and nowhere else.
  const [typed, setTypedNow] = useState(() => {
    const [row, text] = (draftOf(`reading/${view.id}`) ?? '').split('\n');
    return row && row === cursor ? (text ?? '') : '';
  });
  const setTyped = (text: string) => {
    keepDraft(`reading/${view.id}`, text === '' ? '' : `${cursor ?? ''}\n${text}`);
    setTypedNow(text);
  };
  const [error, setError] = useState<Refusal | null>(null);
  const [ready, setReady] = useState<string | null>(null);
  const [reason, setReason] = useState('');
  // Which of two readings was chosen, while it is asked whether it is live.
  const chosen = useRef<number>(undefined);

  const row = view.rows.find((r) => r.key === cursor);
  const meanwhile = useMeanwhile(view, row);
  const lastKey =
    waiting.findLast((w) => w.roundId === view.id && w.line.kind === 'taken')?.line.checkKey ?? view.last?.checkKey;
  const changes = changesBetween(
    view.rows.find((r) => r.key === lastKey),
    row,
  );
  const interrupted = changes.length > 0 && ready !== cursor;
  const isNotDead = view.condition !== null && view.condition !== 'provedDead';
  const needsReason = isNotDead && row?.deadOnly === true;

  const moveTo = (key: string | null) => {
    setCursor(key);
    setError(null);
    field.current?.focus();
  };

  const put = async (
    asked: RowView,
    what: { typed: string; choice?: number; alive?: LiveAnswer } | { reason: string },
  ) => {
    chosen.current = 'typed' in what ? what.choice : undefined;
    const line = lineOf(
      asked,
      personId,
      'typed' in what
        ? {
            typed: asked.energised ? withShowing(what.typed, meanwhile.is) : what.typed,
            choice: what.choice ?? null,
            alive: what.alive ?? null,
            reason: needsReason ? reason : '',
          }
        : { kind: 'skipped', reason: what.reason },
    );
    for (const old of waiting.filter((w) => w.refused && w.line.checkKey === asked.key)) {
      await discard(old.line.id);
    }
    // Both belong to this reading: what is typed and said from here on is of the next.
    const showed = meanwhile.is;
    setTyped('');
    if ('typed' in what) {
      meanwhile.say('');
    }
    setError(null);
    const sent = store(view.id, line);
    const outcome = await Promise.race([
      sent,
      new Promise<null>((resolve) => setTimeout(() => resolve(null), patience)),
    ]);
    if (outcome?.kind === 'refused') {
      // The technician is still here: back into the field instead of onto the sheet.
      await discard(line.id);
      setTyped('typed' in what ? what.typed : '');
      meanwhile.say(showed);
      setError(outcome.refusal);
      return;
    }
    moveTo(
      isRoundOn
        ? firstOpen(lines, asked.key, !isNotDead)
        : outcome?.kind === 'stored'
          ? outcome.change.nextKey
          : nextDown(lines, asked.key, !isNotDead),
    );
  };

  const takeBack = async () => {
    const takenBack = new Set(waiting.map((w) => w.line.target));
    const mine = waiting.findLast(
      (w) => w.roundId === view.id && w.line.kind === 'taken' && w.line.checkKey !== null && !takenBack.has(w.line.id),
    );
    const mineRow = view.rows.find((r) => r.key === mine?.line.checkKey);
    if (mine && mineRow) {
      if (mine.refused) {
        await discard(mine.line.id);
      } else {
        // It may have arrived without the answer coming back, so it is taken back like any other.
        void store(view.id, lineOf(mineRow, personId, { kind: 'retracted', target: mine.line.id }));
      }
      moveTo(mine.line.checkKey);
      return;
    }
    const last = view.last;
    const lastRow = view.rows.find((r) => r.key === last?.checkKey) ?? view.rows[0];
    if (last && lastRow) {
      await store(view.id, lineOf(lastRow, personId, { kind: 'retracted', target: last.id, checkKey: last.checkKey }));
      moveTo(last.checkKey ?? cursor);
    }
  };

  const step = (by: number) => {
    const at = view.rows.findIndex((r) => r.key === cursor);
    const next = view.rows[at + by];
    if (next) {
      moveTo(next.key);
    }
  };

  /** One press, from the keyboard or the pad; true where it was an action rather than a sign. */
  const press = (key: string): boolean => {
    // Whoever types a number has moved the probe: it begins the number and is not lost.
    if (interrupted && /^[\d.,]$/.test(key)) {
      setReady(cursor);
      setTyped(key);
      return true;
    }
    const acts: Record<string, (() => void) | undefined> = {
      Enter: () => {
        if (interrupted) {
          setReady(cursor);
        } else if (row && typed.trim()) {
          void put(row, { typed });
        }
      },
      '*': () => setTyped('OL'),
      '/': typed === '' && row ? () => void put(row, { reason: 'later' }) : undefined,
      later: row ? () => void put(row, { reason: 'later' }) : undefined,
      Backspace: typed === '' ? () => void takeBack() : undefined,
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
    };
    const act = acts[key];
    act?.();
    return act !== undefined;
  };

  /** A key of the pad under a thumb: it writes as the keyboard does. */
  const pressPad = (key: string) => {
    if (key === 'Backspace' && typed !== '') {
      setTyped(typed.slice(0, -1));
    } else if (!press(key)) {
      setTyped(typed + key);
    }
  };

  /** What a key of the pad stands for, in the place of what is typed or behind it. */
  const write = (text: string, adds: boolean) => {
    if (interrupted) {
      setReady(cursor);
    }
    setTyped(adds ? typed + text : text);
  };

  return {
    lines,
    row,
    meanwhile,
    cursor,
    moveTo,
    typed,
    setTyped,
    press,
    pressPad,
    write,
    error,
    changes,
    interrupted,
    ready: () => setReady(cursor),
    reason: {
      /** Measured without a proof, where it should be dead: asked for, once a round. */
      isNeeded: needsReason,
      is: reason,
      say: setReason,
    },
    skip: (why: string) => {
      if (row) {
        void put(row, { reason: why });
      }
    },
    choose: (choice: number) => {
      if (row) {
        void put(row, { typed, choice });
      }
    },
    answerLive: (alive: LiveAnswer) => {
      if (row) {
        void put(row, { typed, ...(chosen.current === undefined ? {} : { choice: chosen.current }), alive });
      }
    },
    mistyped: () => {
      setError(null);
      setTyped('');
      field.current?.focus();
    },
  };
}
