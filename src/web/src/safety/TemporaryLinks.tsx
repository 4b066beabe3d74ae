import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  type BypassStanding,
  editTemporaryLink,
  getModel,
  type TemporaryLinkKind,
  type TemporaryLinkView,
  type VisitStart,
} from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { Choose, optionsOf } from '../ui/Choose';
import { addressText, readAddress } from '../ui/address';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { Tick } from '../ui/Tick';
import { clockOf, dayOf } from '../ui/time';
import { isBegun, useWritten } from '../ui/useDraft';
import { useDone } from '../visits/start';
import { LeafPart } from './LeafPart';

const kinds: [TemporaryLinkKind, string][] = [
  ['jumper', 'Jumper'],
  ['bypass', 'Bypass'],
  ['seriesLamp', 'Series lamp'],
  ['pulledFuse', 'Pulled fuse'],
  ['dummyPlug', 'Dummy plug'],
];
const empty = {
  kind: 'jumper' as TemporaryLinkKind,
  from: '',
  to: '',
  where: '',
  across: '',
  why: '',
  attended: true,
  hours: '1',
  onBench: false,
};

/** What was placed for a test, until it is out again. Never across a protective device. */
export function TemporaryLinks({ start }: { start: VisitStart }) {
  const [shown, setShown] = useState(() => isBegun(`link/${start.visitId}`));
  const links = start.safety.links;
  return (
    <LeafPart title="Temporary links">
      {links.length === 0 && <p className="py-1 text-[14px] text-ink-2">None is placed.</p>}
      <ul>
        {links.map((l) => (
          <Placed key={l.id} link={l} visitId={start.visitId} />
        ))}
      </ul>
      {!start.hasEnded &&
        (shown ? (
          <Place start={start} close={() => setShown(false)} />
        ) : (
          <button type="button" className="quiet mt-1" onClick={() => setShown(true)}>
            Place one
          </button>
        ))}
    </LeafPart>
  );
}

/** What a link puts out of action, said wherever the link is. */
export const bypassWords = (link: TemporaryLinkView) =>
  link.standing === 'onBench'
    ? `Closes the loop of ${link.bypasses} on the bench`
    : `${link.bypasses} is bypassed${link.standing === 'foundBypassed' ? ', found so' : ''}`;

function Placed({ link, visitId }: { link: TemporaryLinkView; visitId: string }) {
  const queries = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const [isSending, setIsSending] = useState(false);
  const out = async () => {
    setIsSending(true);
    try {
      setError(null);
      await ask(
        editTemporaryLink({
          path: { id: link.id },
          body: {
            version: link.version,
            kind: link.kind,
            from: link.fromPin,
            to: link.toPin,
            where: link.where,
            across: link.across,
            standing: link.standing,
            why: link.why,
            attended: link.attended,
            until: link.until,
            isRemoved: true,
          },
        }),
      );
    } catch (failure) {
      setError(failure as Error);
    }
    // Where somebody wrote in between, what stands is shown, and can be said of it anew.
    void queries.invalidateQueries({ queryKey: ['home'] });
    await queries.invalidateQueries({ queryKey: ['start'] });
    setIsSending(false);
  };
  return (
    <li className="border-b border-rule py-1" data-visit={visitId}>
      <p className="flex items-start gap-2">
        <span className="pt-0.5">
          <Mark kind={link.removedAt ? 'within' : 'differs'} />
        </span>
        <span className="min-w-0 grow">
          {link.bypasses && !link.removedAt && <b className="block text-out">{bypassWords(link)}</b>}
          <b>{link.kindWords}</b> {link.where}
          {link.from && <span className="font-mono"> {[link.from, link.to].filter(Boolean).join(' to ')}</span>}
          <span className="block text-[14px] text-ink-2">
            {link.why}. {link.person}, {dayOf(link.placedAt)} {clockOf(link.placedAt)},{' '}
            {link.attended ? 'attended' : 'not attended'}
            {link.until && `, until ${dayOf(link.until)} ${clockOf(link.until)}`}
            {link.removedAt && `. Out ${clockOf(link.removedAt)}${link.removedBy ? ` by ${link.removedBy}` : ''}`}
          </span>
        </span>
        {!link.removedAt && (
          <button
            type="button"
            className="link min-h-[32px] shrink-0 text-[14px] max-[899px]:min-h-[44px]"
            aria-label={`It is out: ${link.where}`}
            disabled={isSending}
            onClick={() => void out()}
          >
            It is out
          </button>
        )}
      </p>
      <Problem error={error} />
    </li>
  );
}

function Place({ start, close }: { start: VisitStart; close: () => void }) {
  const { done, error } = useDone(start);
  const [link, setLink] = useWritten(`link/${start.visitId}`, empty);
  const isBypass = error instanceof Refusal && typeof error.problem.device === 'string';
  const send = (standing: BypassStanding) => {
    const hours = Number(link.hours);
    void done({
      to: 'temporary-links',
      words: link.where,
      json: {
        kind: link.kind,
        from: readAddress(link.from),
        to: readAddress(link.to),
        where: link.where,
        across: link.across || null,
        standing,
        why: link.why,
        attended: link.attended,
        until: hours > 0 ? new Date(Date.now() + hours * 3_600_000).toISOString() : null,
      },
    }).then((ok) => {
      if (ok) {
        setLink(empty);
        close();
      }
    });
  };
  const model = useQuery({
    queryKey: ['model', start.modelId],
    queryFn: () => ask(getModel({ path: { id: start.modelId } })),
  });
  const pins = model.data?.pins ?? [];
  const pinChoice = (name: 'from' | 'to', label: string) => (
    <label className="block text-[14px]">
      {label}
      <Choose
        value={link[name]}
        options={[
          { value: '', words: 'no pin' },
          ...pins.map((p) => ({ value: addressText(p.address), words: `${p.printed} ${p.signal}` })),
        ]}
        onChange={(pin) => setLink({ ...link, [name]: pin })}
      />
    </label>
  );
  return (
    <form
      aria-label="Place a temporary link"
      className="mt-1 space-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        send(link.onBench ? 'onBench' : 'none');
      }}
    >
      <label className="block text-[14px]">
        What
        <Choose
          autoFocus
          value={link.kind}
          options={optionsOf(kinds)}
          onChange={(kind) => setLink({ ...link, kind })}
        />
      </label>
      <div className="grid grid-cols-2 gap-2">
        {pinChoice('from', 'From')}
        {pinChoice('to', 'To')}
      </div>
      <label className="block text-[14px]">
        Where, in words
        <input
          className="field"
          value={link.where}
          onChange={(event) => setLink({ ...link, where: event.target.value })}
        />
      </label>
      {start.safety.interlocks.length > 0 && (
        <label className="block text-[14px]">
          Across which protective device?
          <Choose
            value={link.across}
            options={[
              { value: '', words: 'none of them' },
              ...start.safety.interlocks.map((i) => ({ value: i.id, words: i.name })),
            ]}
            onChange={(across) => setLink({ ...link, across })}
          />
        </label>
      )}
      <label className="block text-[14px]">
        Why
        <input className="field" value={link.why} onChange={(event) => setLink({ ...link, why: event.target.value })} />
      </label>
      <div className="flex items-end gap-3 text-[14px]">
        <label className="flex-1">
          For how many hours
          <input
            className="field font-mono"
            inputMode="decimal"
            value={link.hours}
            onChange={(event) => setLink({ ...link, hours: event.target.value })}
          />
        </label>
        <Tick className="inline-flex min-h-[44px]" on={link.attended} set={(on) => setLink({ ...link, attended: on })}>
          somebody stays with it
        </Tick>
      </div>
      {start.safety.interlocks.length > 0 && (
        <Tick
          className="inline-flex min-h-[44px] text-[14px]"
          on={link.onBench}
          set={(on) => setLink({ ...link, onBench: on })}
        >
          on the bench, no load, nothing that moves connected
        </Tick>
      )}
      <Problem error={error} />
      {isBypass && (
        <div role="group" aria-label="It is in all the same" className="border-2 border-out bg-out-wash px-3 py-2">
          <p className="text-[14px]">
            Is it there in any case? Then it is written down, in red, until it is out. The visit can end only with it
            out, or left safe and tagged out.
          </p>
          <p className="mt-1 flex flex-wrap gap-3">
            <button type="button" className="quiet border-out text-out" onClick={() => send('foundBypassed')}>
              Found bypassed
            </button>
            <button type="button" className="quiet border-out text-out" onClick={() => send('placedAllTheSame')}>
              Placed all the same
            </button>
          </p>
        </div>
      )}
      <p className="flex gap-3">
        <button type="submit" className="quiet font-bold">
          It is placed
        </button>
        <button type="button" className="link min-h-[38px]" onClick={close}>
          Not placed
        </button>
      </p>
    </form>
  );
}
