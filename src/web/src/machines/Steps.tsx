import type { Step } from './watched';

/** How far long work is, and the way to stop it. */
export function Steps({ step, stop }: { step: Step; stop: () => void }) {
  return (
    <span role="status" className="flex items-center gap-3">
      <span>
        Taking in: {step.what}
        {step.of !== undefined && (
          <progress className="ml-2 w-[120px] accent-rust" value={step.done} max={step.of} aria-label="Taken in" />
        )}
      </span>
      <button type="button" className="quiet min-h-[44px]" onClick={stop}>
        Stop
      </button>
    </span>
  );
}
