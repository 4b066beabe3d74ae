import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { draftNames, keepDraft } from '../ui/useDraft';
import { begunOf, placeOf } from './begun';
import { letGo } from './forms';
import { type Parcel, sendAgain, useOutbox, useStranger, whereabouts } from './outbox';

/** Everything made on this device that the ledger does not have yet. */
export function WaitingPage() {
  const parcels = useOutbox();
  const stranger = useStranger();
  // Read anew with whatever changes here: a form's draft goes as its parcel is taken.
  const [, setLetGo] = useState(0);
  const names = draftNames();
  // What was asked for of a form stands among what waits.
  const begun = begunOf(names.filter((name) => parcels.every((p) => p.form !== name)));
  return (
    <Frame title="On this device">
      <div className="mx-auto max-w-[720px] py-4">
        <h2 className="title">Waits on this device</h2>
        {stranger && (
          <p role="alert" className="mt-3 flex items-center gap-2 border-l-4 border-out bg-out-wash px-3 py-2">
            <Mark kind="high" /> {stranger} Nothing leaves this device until the ledger itself answers.
          </p>
        )}
        {parcels.length === 0 && begun.length === 0 && (
          <p className="mt-3">
            Nothing waits; the ledger has everything.{' '}
            <Link to="/" className="link">
              Home
            </Link>
          </p>
        )}
        <ul className="mt-4">
          {parcels.map((parcel) => (
            <li key={parcel.id} className="flex flex-wrap items-center gap-3 border-b border-rule py-2">
              {parcel.picture && <Preview picture={parcel.picture} words={parcel.words} className="h-[60px]" />}
              <span className="min-w-0 grow">
                {parcel.words}
                <span className={`flex items-center gap-1.5 text-[14px] ${parcel.refused ? 'text-out' : 'text-ink-2'}`}>
                  <Mark kind={parcel.refused ? 'dead' : 'untouched'} />
                  {parcel.refused
                    ? `refused: ${parcel.refused}`
                    : parcel.unstored
                      ? whereabouts(parcel)
                      : 'waits for the ledger'}
                </span>
              </span>
              {parcel.refused && <Refused parcel={parcel} />}
            </li>
          ))}
        </ul>
        {begun.length > 0 && (
          <section aria-labelledby="begun">
            <h2 id="begun" className="title mt-6 border-b border-rule-2 pb-1">
              Begun here, not in the ledger yet
            </h2>
            <p className="py-1 text-[14px] text-ink-2">Each is open again on its page, as it was written.</p>
            <ul>
              {begun.map((form) => (
                <li key={form.name} className="flex flex-wrap items-center gap-4 border-b border-rule">
                  <span className="grow">{form.words}</span>
                  {form.to && (
                    <Link className="link inline-flex min-h-[44px] items-center" to={form.to}>
                      Go on with it
                    </Link>
                  )}
                  <button
                    type="button"
                    className="link min-h-[44px]"
                    aria-label={`Let go: ${form.words}`}
                    onClick={() => {
                      keepDraft(form.name, '');
                      setLetGo((n) => n + 1);
                    }}
                  >
                    Let go
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </Frame>
  );
}

/** What can be done with a parcel that the ledger will not take; what does not rest on it has gone on. */
function Refused({ parcel }: { parcel: Parcel }) {
  const fields = textsOf(parcel.json);
  return (
    <Disclosure>
      {parcel.form !== undefined ? (
        <FormLink form={parcel.form} />
      ) : (
        fields.length > 0 && <DisclosureButton className="quiet">Mend</DisclosureButton>
      )}
      <button type="button" className="quiet" onClick={() => void sendAgain(parcel.id)}>
        Send again
      </button>
      <button type="button" className="quiet" onClick={() => handOver(parcel)}>
        Hand over as text
      </button>
      <button type="button" className="quiet border-out text-out" onClick={() => void letGo(parcel)}>
        Throw away
      </button>
      <DisclosurePanel className="w-full">
        <Mend parcel={parcel} fields={fields} />
      </DisclosurePanel>
    </Disclosure>
  );
}

/** A form is mended on its own page, which asks which of two texts shall stand. */
function FormLink({ form }: { form: string }) {
  const to = placeOf(form);
  return to === null ? null : (
    <Link className="link inline-flex min-h-[44px] items-center" to={to}>
      Open it
    </Link>
  );
}

function Mend({ parcel, fields }: { parcel: Parcel; fields: [string, string][] }) {
  const [texts, setTexts] = useState(Object.fromEntries(fields));
  return (
    <form
      aria-label={`Mend: ${parcel.words}`}
      className="flex w-full flex-wrap items-end gap-3 border-l-4 border-rust pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        void sendAgain(parcel.id, { ...(parcel.json as object), ...texts });
      }}
    >
      {fields.map(([name]) => (
        <label key={name} className="min-w-[160px] flex-1 text-[14px]">
          {labelOf(name)}
          <input
            className="field mt-0.5"
            value={texts[name] ?? ''}
            onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
          />
        </label>
      ))}
      <button type="submit" className="action">
        Send it so
      </button>
    </form>
  );
}

const own = /^(id|kind|order|mode|state|target|checkKey|deviceTime|limit)$|Id$/;

/** What somebody typed in it; what the device made itself is not offered. */
const textsOf = (json: unknown): [string, string][] =>
  typeof json === 'object' && json !== null
    ? Object.entries(json).filter((e): e is [string, string] => typeof e[1] === 'string' && !own.test(e[0]))
    : [];

const labelOf = (name: string) =>
  (name.charAt(0).toUpperCase() + name.slice(1)).replace(/[A-Z]/g, (c, i: number) =>
    i > 0 ? ` ${c.toLowerCase()}` : c,
  );

/** Saves what a parcel holds as a file that can be sent on or copied from. */
function handOver(parcel: Parcel) {
  const text = [parcel.words, `Refused: ${parcel.refused ?? ''}`, '', JSON.stringify(parcel.json ?? {}, null, 2)].join(
    '\n',
  );
  const file = parcel.picture ?? new Blob([text], { type: 'text/plain' });
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = `${parcel.words.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 60)}${parcel.picture ? '' : '.txt'}`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A picture that is still only on this device. */
export function Preview({ picture, words, className }: { picture: Blob; words: string; className?: string }) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    const made = URL.createObjectURL(picture);
    // oxlint-disable-next-line react-hooks/set-state-in-effect -- the address lives exactly as long as the effect
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [picture]);
  return address ? <img src={address} alt={words} className={className} /> : null;
}
