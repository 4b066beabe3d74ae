import { useQuery } from '@tanstack/react-query';
import { type CircuitPageView, getCircuitBetween, type MeterMode } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { SuggestBox } from '../ui/SuggestBox';
import { useWritten } from '../ui/useDraft';
import { useSettled } from '../ui/useSettled';

interface AnyTwoProps {
  tag: string;
  circuit: CircuitPageView;
  fault: string;
  state: string;
}

const modes: readonly { value: MeterMode; words: string }[] = [
  { value: 'dcVolts', words: 'V DC' },
  { value: 'acVolts', words: 'V AC' },
  { value: 'ohms', words: 'Ω' },
  { value: 'diode', words: 'diode' },
  { value: 'insulation', words: 'insulation, 500 V' },
  { value: 'dcAmps', words: 'A DC, clamp' },
  { value: 'acAmps', words: 'A AC, clamp' },
];

const atFirst = { red: '', black: '', mode: 'dcVolts' as MeterMode, low: false };

/** What a meter would show between any two pins, in the state and with the fault that are chosen. */
export function AnyTwo({ tag, circuit, fault, state }: AnyTwoProps) {
  const [probes, setProbes] = useWritten(`between/${tag}`, atFirst);
  const { red, black, mode, low } = probes;
  const at = state || (circuit.states.find((s) => s.energised) ?? circuit.states[0])?.code || '';
  const isClamp = mode === 'dcAmps' || mode === 'acAmps';
  const known = (pin: string) =>
    circuit.pins.some((p) => p.replace('·', '.').toLowerCase() === pin.replace('·', '.').toLowerCase());
  const asked = useSettled(JSON.stringify({ red, black, mode, low, at, fault }), 200);
  const isReady = known(red) && (isClamp || known(black));
  const shows = useQuery({
    queryKey: ['circuit', tag, 'between', asked],
    queryFn: () =>
      ask(
        getCircuitBetween({
          path: { id: tag },
          query: { red, black: isClamp ? '' : black, mode, state: at, fault, low },
        }),
      ),
    enabled: isReady && asked === JSON.stringify({ red, black, mode, low, at, fault }),
  });
  const pins = circuit.pins.map((text) => ({ text }));
  const stateName = circuit.states.find((s) => s.code === at)?.name ?? '';
  return (
    <section aria-labelledby="any-two" className="mt-5 border-t border-rule-2 pt-2">
      <h2 id="any-two" className="text-[15px] text-ink-2">
        Any two pins, {stateName}
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <SuggestBox
          name="Red probe at"
          value={red}
          usual={pins}
          onChange={(next) => setProbes({ ...probes, red: next })}
          className="field w-[150px] font-mono"
        />
        {!isClamp && (
          <SuggestBox
            name="Black probe at"
            value={black}
            usual={pins}
            onChange={(next) => setProbes({ ...probes, black: next })}
            className="field w-[150px] font-mono"
          />
        )}
        <Choose
          name="Mode"
          className="w-auto"
          value={mode}
          options={modes}
          onChange={(next) => setProbes({ ...probes, mode: next })}
        />
        {(mode === 'dcVolts' || mode === 'acVolts') && (
          <label className="flex min-h-[34px] items-center gap-2 max-[899px]:min-h-[44px]">
            <input
              type="checkbox"
              checked={low}
              onChange={(event) => setProbes({ ...probes, low: event.target.checked })}
            />
            low impedance
          </label>
        )}
      </div>
      <p role="status" className="mt-1 min-h-[44px]">
        {isReady && shows.data && (
          <>
            <span className="font-mono text-[30px] font-bold">{shows.data.words}</span>{' '}
            <span className="text-[14px] text-ink-2">{shows.data.why}</span>
          </>
        )}
      </p>
      <Problem error={shows.error} />
    </section>
  );
}
