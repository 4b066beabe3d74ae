import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { Refusal, Unreachable } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { BundleIn } from './BundleIn';
import { Steps } from './Steps';
import { type Step, watched } from './watched';

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
      const taken = await watched('/api/machine-files/watched', file, 'application/json', control.signal, setStep);
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(taken.tag ?? '')}`);
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
        aria-label="Machine file or bundle"
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
        <Steps step={step} stop={() => stop.current?.abort()} />
      ) : (
        <button type="button" className="quiet min-h-[44px]" onClick={() => picker.current?.click()}>
          Take in a file or bundle
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
