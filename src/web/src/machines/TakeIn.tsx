import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { Refusal, Unreachable, type ProblemDetails } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { BundleIn } from './BundleIn';

/** A line of the answer: a step, the machine taken in, or the problem. */
interface Step extends ProblemDetails {
  done?: number;
  of?: number;
  what?: string;
  tag?: string;
}

/** A machine file or a bundle taken in: shows how far it is, and leaves no trace when it is stopped. */
export function TakeIn() {
  const picker = useRef<HTMLInputElement>(null);
  const stop = useRef<AbortController | null>(null);
  const queries = useQueryClient();
  const go = useNavigate();
  const [step, setStep] = useState<Step | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [bundle, setBundle] = useState<File | null>(null);

  const takeIn = async (file: File) => {
    const control = new AbortController();
    stop.current = control;
    setError(null);
    setStep({ what: 'sending the file' });
    try {
      const last = await watch(file, control.signal, setStep);
      if (last?.tag) {
        await queries.invalidateQueries();
        await go(`/machines/${encodeURIComponent(last.tag)}`);
      } else {
        throw last?.status ? new Refusal(last.status, last) : new Unreachable();
      }
    } catch (failure) {
      if (!control.signal.aborted) {
        setError(failure instanceof Refusal ? failure : new Unreachable());
      }
    } finally {
      setStep(null);
    }
  };

  return (
    <>
      <input
        ref={picker}
        type="file"
        accept="application/json,.json,application/zip,.zip"
        className="hidden"
        aria-label="Machine file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          setError(null);
          if (file?.name.toLowerCase().endsWith('.zip')) {
            setBundle(file);
          } else if (file) {
            void takeIn(file);
          }
        }}
      />
      {step ? (
        <span role="status" className="flex items-center gap-3">
          <span>
            Taking in: {step.what}
            {step.of !== undefined && (
              <progress className="ml-2 w-[120px] accent-rust" value={step.done} max={step.of} aria-label="Taken in" />
            )}
          </span>
          <button type="button" className="quiet" onClick={() => stop.current?.abort()}>
            Stop
          </button>
        </span>
      ) : (
        <button type="button" className="quiet min-h-[44px]" onClick={() => picker.current?.click()}>
          Take in a machine file
        </button>
      )}
      {bundle && <BundleIn key={`${bundle.name} ${bundle.lastModified}`} file={bundle} done={() => setBundle(null)} />}
      {error && (
        <div className="w-full">
          <Problem error={error} />
        </div>
      )}
    </>
  );
}

/** Gives the last line of the answer. */
async function watch(file: File, signal: AbortSignal, tell: (step: Step) => void): Promise<Step | undefined> {
  const answer = await fetch('/api/machine-files/watched', {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/json', 'X-Person': localStorage.getItem('person-id') ?? '' },
    signal,
  });
  const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
  let [rest, last]: [string, Step | undefined] = ['', undefined];
  for (let part = await reader?.read(); part?.value !== undefined; part = await reader?.read()) {
    const lines = (rest + part.value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      last = JSON.parse(line) as Step;
      if (last.what) {
        tell(last);
      }
    }
  }
  return rest ? (JSON.parse(rest) as Step) : last;
}
