import { knownLedger } from '../api/ledger';
import { createClient, createConfig } from '../api/generated/client';
import type { Client } from '../api/generated/client';
import { newId } from '../api/newId';
import { draftOf, keepDraft } from '../ui/useDraft';
import { begunOf } from './begun';
import { type Delivery, isOwn, leaveOut, onRefused, onTaken, type Parcel, postForm, versionAfter } from './outbox';

interface Versioned {
  version: number;
}

/** What was written, whatever version it was written over. */
export const textOf = (edit: Versioned): string => JSON.stringify({ ...edit, version: 0 });

/**
 * A way to the ledger that goes through what waits on this device: what is asked for by it is kept in order with
 * everything else, is sent once, and goes without its page as well.
 *
 * @param draft The name of the form's draft, such as `form/fault/17`.
 * @param written What stands in the form as it is asked for.
 * @param waits Told each time that it has to wait.
 * @param isOpen Whether the form is still open.
 */
export const throughQueue = (draft: string, written: string, waits: () => void, isOpen: () => boolean): Client =>
  handedTo(async (asked) => {
    const end = await new Promise<Delivery>((resolve) => {
      const tell = (delivery: Delivery) => {
        if (delivery.kind === 'waiting') {
          waits();
        } else {
          resolve(delivery);
        }
      };
      const words = begunOf([draft])[0]?.words ?? 'What was written';
      void postForm({ id: newId(), ...asked, words, machineId: '', form: draft, written }, tell, isOpen);
    });
    return answerOf(end);
  });

type Asked = Pick<Parcel, 'path' | 'json'> & { method: string };

/** A client whose requests do not go by themselves: somebody takes them and says what they came to. */
export const handedTo = (take: (asked: Asked) => Promise<Response>): Client =>
  createClient(
    createConfig({
      baseUrl: location.origin,
      fetch: async (input) => {
        const request = input as Request;
        const { pathname, search } = new URL(request.url);
        const text = await request.text();
        return take({
          path: pathname + search,
          method: request.method,
          ...(text === '' ? {} : { json: JSON.parse(text) as unknown }),
        });
      },
    }),
  );

/** The end of a parcel as the answer to its request. */
export function answerOf(end: Delivery): Response {
  const [status, body] =
    end.kind === 'taken'
      ? [200, end.answer]
      : end.kind === 'refused'
        ? [end.problem.status ?? 422, end.problem]
        : [503, {}];
  return new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json', 'X-Ledger': knownLedger() || 'known' },
  });
}

/** Whether rows or cells of what was taken were refused, each with why. */
const isInPart = (answer: unknown) => ((answer as { problems?: unknown[] } | null)?.problems?.length ?? 0) > 0;

/**
 * The draft of a form whose parcel was taken: let go where nothing was written since and all of it was kept, else written over
 * the new version.
 */
function settleDraft(parcel: Parcel, version: number, isKept = true) {
  const draft = parcel.form === undefined ? undefined : draftOf(parcel.form);
  if (parcel.form === undefined || draft === undefined) {
    return;
  }
  try {
    const now = JSON.parse(draft) as Versioned;
    keepDraft(parcel.form, isKept && textOf(now) === parcel.written ? '' : JSON.stringify({ ...now, version }));
  } catch {
    // What nobody can read is no draft; its form lets it go.
  }
}

/** Throws a parcel away, and with it the draft of its form where that says no more. */
export async function letGo(parcel: Parcel): Promise<void> {
  settleDraft(parcel, 0);
  await leaveOut(parcel.id);
}

onTaken((parcel, answer) => settleDraft(parcel, versionAfter(parcel, answer), !isInPart(answer)));

onRefused((parcel, problem) => {
  if (parcel.form === undefined || !isOwn(problem, parcel.json)) {
    return undefined;
  }
  settleDraft(parcel, problem.version ?? versionAfter(parcel, null));
  return 'drop';
});
