import { type ProblemDetails, Refusal, Unreachable } from '../api/ledger';

/** A line of the answer: a step, the result, or the problem. */
export interface Step extends ProblemDetails {
  done?: number;
  of?: number;
  what?: string;
  tag?: string;
  kind?: string;
  id?: string;
}

/** Sends long work and tells each step; gives the result. Stopped by the signal, it leaves no trace. */
export async function watched<Result extends object = Step>(
  path: string,
  body: BodyInit,
  type: string | undefined,
  signal: AbortSignal,
  tell: (step: Step) => void,
): Promise<Result> {
  const answer = await fetch(path, {
    method: 'POST',
    body,
    headers: { ...(type ? { 'content-type': type } : {}), 'X-Person': localStorage.getItem('person-id') ?? '' },
    signal,
  }).catch(() => {
    throw new Unreachable();
  });
  const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
  let [rest, last]: [string, (Result & Step) | undefined] = ['', undefined];
  for (let part = await reader?.read(); part?.value !== undefined; part = await reader?.read()) {
    const lines = (rest + part.value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      last = JSON.parse(line) as Result & Step;
      if (last.what) {
        tell(last);
      }
    }
  }
  const result = rest ? (JSON.parse(rest) as Result & Step) : last;
  if (result?.status) {
    throw new Refusal(result.status, result);
  }
  if (!result || result.what) {
    throw new Unreachable();
  }
  return result;
}
