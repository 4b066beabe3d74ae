import { expect, test } from 'vitest';
import { changesOf, keepEach } from './changes';

interface Sheet {
  place: string;
  parts: { id: string; name: string; pins: { id: string; label: string }[] }[];
  colours: string[];
}

const sheet: Sheet = {
  place: 'dry',
  parts: [
    { id: 'a', name: 'supply', pins: [{ id: '1', label: '+' }] },
    { id: 'b', name: 'switch', pins: [] },
  ],
  colours: ['BN'],
};

const all = (before: Sheet, after: Sheet) => changesOf(before, after).reduce((s, change) => change(s), before);

test('all changes together are the sheet as it is written, in any of its places', () => {
  const after: Sheet = {
    place: 'wet',
    parts: [
      {
        id: 'a',
        name: 'supply, 24 V',
        pins: [
          { id: '1', label: '+24' },
          { id: '2', label: '0' },
        ],
      },
      { id: 'c', name: 'motor', pins: [] },
    ],
    colours: ['BN', 'BU'],
  };
  expect(all(sheet, after)).toEqual(after);
  expect(changesOf(sheet, sheet)).toEqual([]);
  // Of the place, a name, a label, a new pin, a part gone, a part added, the colours.
  expect(changesOf(sheet, after)).toHaveLength(7);
});

test('what is refused holds up and loses nothing else; one change may rest on a later one', async () => {
  const after: Sheet = {
    ...sheet,
    place: 'x'.repeat(200),
    parts: sheet.parts.map((part, i) => (i === 0 ? { ...part, name: 'rests on BU' } : part)),
    colours: ['BU'],
  };
  const asked: Sheet[] = [];
  const kept = await keepEach(sheet, changesOf(sheet, after), (next) => {
    asked.push(next);
    const rests = next.parts[0]?.name !== 'rests on BU' || next.colours.includes('BU');
    return Promise.resolve(next.place.length < 100 && rests);
  });
  expect(kept).toEqual({ ...after, place: 'dry' });
  expect(asked.length).toBeLessThan(8);
});
