import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useState } from 'react';
import type { CircuitFaultView } from '../api/generated';
import { Key } from '../ui/Key';

interface FaultBoxProps {
  id: string;
  label: string;
  keys?: string;
  faults: CircuitFaultView[];
  /** Id of the chosen one; empty for none. */
  value: string;
  onChange: (id: string) => void;
}

const most = 12;

/** One of the faults that the parts of a machine may have, found by typing any of its words. */
export function FaultBox({ id, label, keys, faults, value, onChange }: FaultBoxProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const chosen = faults.find((f) => f.id === value);
  const words = (typed ?? '').toLowerCase().split(/\s+/).filter(Boolean);
  const near = faults
    .filter((f) => words.every((w) => `${f.part} ${f.words}`.toLowerCase().includes(w)))
    .sort((a, b) => b.share - a.share);
  return (
    <div className="text-[14px]">
      <label htmlFor={id} className="block text-ink-2">
        {label} {keys && <Key>{keys}</Key>}
      </label>
      <div className="flex">
        <Combobox
          value={chosen ?? null}
          by="id"
          onChange={(fault: CircuitFaultView | null) => {
            setTyped(null);
            if (fault) {
              onChange(fault.id);
            }
          }}
        >
          <div className="relative">
            <ComboboxInput
              id={id}
              autoComplete="off"
              placeholder="a part or a fault"
              className="field w-[290px] font-mono max-[899px]:w-[250px]"
              displayValue={(fault: CircuitFaultView | null) => fault?.words ?? ''}
              onChange={(event) => setTyped(event.target.value)}
              onBlur={() => setTyped(null)}
            />
            {typed !== null && (
              <ComboboxOptions
                static
                modal={false}
                className="absolute top-full left-0 z-20 max-h-[420px] w-[420px] overflow-y-auto border border-rule-2 bg-sheet max-[899px]:w-[340px]"
              >
                {near.length === 0 && <p className="px-2 py-1 text-ink-2">No part of this circuit has such a fault.</p>}
                {near.slice(0, most).map((fault) => (
                  <ComboboxOption
                    key={fault.id}
                    value={fault}
                    className="flex min-h-[34px] cursor-pointer items-center gap-3 px-2 data-focus:bg-rust-wash max-[899px]:min-h-[44px]"
                  >
                    <span className="grow font-mono">{fault.words}</span>
                    <span className="font-mono text-ink-2">{fault.share.toFixed(1)} %</span>
                  </ComboboxOption>
                ))}
                {near.length > most && (
                  <p className="px-2 py-1 text-ink-2">{near.length - most} more; type on to narrow them down.</p>
                )}
              </ComboboxOptions>
            )}
          </div>
        </Combobox>
        {value && (
          <button type="button" className="quiet ml-1 px-2" onClick={() => onChange('')}>
            Healthy
          </button>
        )}
      </div>
    </div>
  );
}
