import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { getMachine } from '../api/generated';
import { ask } from '../api/ledger';
import { usePerson } from '../people/person';
import { clockOf } from '../ui/time';
import { take } from './take';
import { TakeButton } from './TakeButton';

type Field = HTMLInputElement | HTMLTextAreaElement;

/** A field for words: numbers, choices and searches are not answered by a picture. */
const takesWords = (at: EventTarget | null): at is Field =>
  (at instanceof HTMLTextAreaElement || (at instanceof HTMLInputElement && at.type === 'text')) &&
  !at.readOnly &&
  at.role !== 'combobox' &&
  !['none', 'decimal', 'numeric'].includes(at.inputMode) &&
  at.closest('main, aside') !== null;

const labelOf = (field: Field) =>
  (field.getAttribute('aria-label') ?? field.labels?.[0]?.innerText ?? '').split('\n')[0]?.trim() ?? '';

/** Writes into a field as a hand would, so that its form hears of it. */
function write(field: Field, words: string) {
  const kind = field instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
  const text = field.value.trim() === '' ? words : `${field.value.trimEnd()}, ${words}`;
  Object.getOwnPropertyDescriptor(kind.prototype, 'value')?.set?.call(field, text);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}

/** On a phone, with a glove on: whatever words a field asks for, a photograph answers it, and the words say which. */
export function PhotoAnswer({ tag }: { tag: string }) {
  const person = usePerson();
  const [field, setField] = useState<Field | null>(null);
  const bar = useRef<HTMLDivElement>(null);
  const machine = useQuery({
    queryKey: ['machine', tag],
    queryFn: () => ask(getMachine({ path: { id: tag } })),
    enabled: field !== null,
  });
  useEffect(() => {
    const come = ({ target }: FocusEvent) => {
      if (!bar.current?.contains(target as Node)) {
        setField(takesWords(target) ? target : null);
      }
    };
    document.addEventListener('focusin', come);
    return () => document.removeEventListener('focusin', come);
  }, []);
  const page = machine.data;
  if (!field || !page || !person) {
    return null;
  }
  const answer = (files: File[]) => {
    const words = `see photograph of ${clockOf(new Date().toISOString())}`;
    take(files, {
      machineId: page.id,
      tag: page.tag,
      kind: 'other',
      personId: person.id,
      visitId: page.visits.find((v) => v.endedAt === null)?.id,
      caption: labelOf(field),
    });
    write(field, words);
    field.focus();
  };
  return (
    <div ref={bar} className="sticky bottom-0 z-20 flex justify-end bg-paper px-4 py-1">
      <TakeButton label="Picture in its place" className="quiet min-h-[44px]" onTake={answer}>
        Photograph it instead
      </TakeButton>
    </div>
  );
}
