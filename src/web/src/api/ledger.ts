import { client } from './generated/client.gen';

/** Problem details (RFC 9457) as the server sends them, with what the ledger adds. */
export interface ProblemDetails {
  status?: number;
  title?: string;
  detail?: string;
  field?: string;
  at?: number;
  example?: string;
  choices?: string[];
  yours?: Record<string, unknown>;
  theirs?: Record<string, unknown>;
  version?: number;
  /** A reading contradicts what was thought dead: is it live, or mistyped? */
  asksLive?: boolean;
  /** It is measured dead on a machine that nobody proved dead: a reason is wanted. */
  needsReason?: boolean;
  /** The protective device that would be bypassed. */
  device?: string;
}

/** The server answered, but not as asked. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly problem: ProblemDetails,
  ) {
    super(problem.detail ?? problem.title ?? `The server answered ${status}.`);
  }
}

/** The server could not be reached. */
export class Unreachable extends Error {
  constructor() {
    super('The ledger cannot be reached. What is on this page is the last that came.');
  }
}

client.setConfig({ baseUrl: '' });
client.interceptors.request.use((request) => {
  const person = localStorage.getItem('person-id');
  if (person) {
    request.headers.set('X-Person', person);
  }
  return request;
});

const ledgerKey = 'ledger-id';

/** The ledger this device works with, by its id; empty until one has answered. */
export const knownLedger = (): string => localStorage.getItem(ledgerKey) ?? '';

client.interceptors.response.use((response) => {
  const ledger = response.headers.get('X-Ledger');
  if (ledger && !knownLedger()) {
    localStorage.setItem(ledgerKey, ledger);
  }
  return response;
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response?: Response;
}

/** Gives the data of an answer, or throws {@link Refusal} or {@link Unreachable}. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  const answer: Answer<T> = await call.catch(() => ({}));
  // Whatever else answers, such as a network's log-in page, is not the ledger.
  if (!answer.response?.headers.has('X-Ledger')) {
    throw new Unreachable();
  }
  if (answer.response.status === 401) {
    // This device was not let in, or was locked out; what waits on it goes when it is in again.
    location.assign('/let-in');
  }
  if (!answer.response.ok) {
    const problem = typeof answer.error === 'object' && answer.error !== null ? (answer.error as ProblemDetails) : {};
    throw new Refusal(answer.response.status, problem);
  }
  return answer.data as T;
}
