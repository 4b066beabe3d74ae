import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { makePlacePin, type PhotographPage as Page, type PlaceAsPin, type PlaceView } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { useWritten } from '../ui/useDraft';

/** The place becomes a pin of a board; its readings stay with it. */
export function MakePin({ place, page }: { place: PlaceView; page: Page }) {
  const queries = useQueryClient();
  const [pin, setPin] = useWritten<Omit<PlaceAsPin, 'version'>>(`make-pin/${place.id}`, {
    positionId: page.photograph.positionId ?? page.positions[0]?.id ?? '',
    designator: '',
    label: '',
    colours: '',
    signal: place.name,
  });
  const make = useMutation({
    mutationFn: () => ask(makePlacePin({ path: { id: place.id }, body: { ...pin, version: place.version } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (page.positions.length === 0) {
    return (
      <p className="mt-4 border-t border-rule-2 pt-2 text-[14px]">
        To make this place a pin, add its board on the{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(page.tag)}`}>
          page of {page.tag}
        </Link>{' '}
        first.
      </p>
    );
  }
  const field = (name: 'designator' | 'label' | 'colours' | 'signal', label: string) => (
    <label className="block">
      {label}
      <input
        className="field mt-0.5 font-mono"
        value={pin[name]}
        onChange={(event) => setPin({ ...pin, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-2 text-[14px]"
      aria-label="Make it a pin"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <h3>Make it a pin</h3>
      <label className="mt-2 block">
        Board
        <Choose
          className="mt-0.5"
          value={pin.positionId}
          options={page.positions.map((p) => ({ value: p.id, words: `${p.prefix} ${p.name}` }))}
          onChange={(positionId) => setPin({ ...pin, positionId })}
        />
      </label>
      <div className="mt-2 grid grid-cols-2 gap-2">
        {field('designator', 'Connector')}
        {field('label', 'Pin')}
        {field('colours', 'Wire colours')}
        {field('signal', 'What it does')}
      </div>
      <Problem error={make.error} />
      <button type="submit" className="quiet mt-3" disabled={make.isPending}>
        Make it a pin
      </button>
    </form>
  );
}
