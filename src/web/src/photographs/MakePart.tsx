import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { makePlacePart, type PhotographPage as Page, type PlaceView } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';

/** The place is where a part off the boards is, such as a switch in the panel, or one pin of it. */
export function MakePart({ place, page }: { place: PlaceView; page: Page }) {
  const queries = useQueryClient();
  const [partId, setPart] = useState(place.partId ?? '');
  const [pinId, setPin] = useState(place.pinId ?? '');
  const part = page.parts.find((p) => p.id === partId);
  const make = useMutation({
    mutationFn: () =>
      ask(makePlacePart({ path: { id: place.id }, body: { version: place.version, partId, pinId: pinId || null } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (page.parts.length === 0) {
    return null;
  }
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-2 text-[14px]"
      aria-label="It is off the boards"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <h3>It is off the boards</h3>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <label>
          What
          <Choose
            className="mt-0.5"
            value={partId}
            options={[
              { value: '', words: 'choose' },
              ...page.parts.map((p) => ({ value: p.id, words: `${p.designator} ${p.name}` })),
            ]}
            onChange={(id) => {
              setPart(id);
              setPin('');
            }}
          />
        </label>
        <label>
          Pin
          <Choose
            className="mt-0.5"
            value={pinId}
            options={[
              { value: '', words: 'as a whole' },
              ...(part?.pins ?? []).map((p) => ({ value: p.id, words: p.label })),
            ]}
            onChange={setPin}
          />
        </label>
      </div>
      <Problem error={make.error} />
      <button type="submit" className="quiet mt-3 min-h-[44px]" disabled={make.isPending || part === undefined}>
        It is{' '}
        {part ? `${part.designator}${pinId ? `·${part.pins.find((p) => p.id === pinId)?.label ?? ''}` : ''}` : '…'}
      </button>
    </form>
  );
}
