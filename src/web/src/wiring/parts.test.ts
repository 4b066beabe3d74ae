import { expect, test } from 'vitest';
import type { UsualPart } from '../api/generated';
import { freshPart, lineOf, nextDesignator, ofKind, partOf } from './parts';

const relay: UsualPart = {
  kind: 'relay',
  words: 'relay',
  designator: 'K',
  labels: ['30', '85', '86', '87'],
  sources: [],
};
const supply: UsualPart = { kind: 'supply', words: 'supply', designator: 'PS', labels: ['+', '-'], sources: ['+'] };

test('the next of a kind is numbered on; one that is usually alone keeps its bare letters', () => {
  expect(nextDesignator('K', ['K1', 'k2', 'PS'])).toBe('K3');
  expect(nextDesignator('K', [])).toBe('K1');
  expect(nextDesignator('PS', [])).toBe('PS');
  expect(nextDesignator('PS', ['ps'])).toBe('PS1');
});

test('a new part has its usual pins, and says where power enters', () => {
  const part = partOf(freshPart(supply, []), undefined);
  expect(part).toMatchObject({ kind: 'supply', designator: 'PS', name: 'supply' });
  expect(part.pins.map((p) => [p.index, p.label, p.isSource])).toEqual([
    [1, '+', true],
    [2, '-', false],
  ]);
});

test('a pin that is printed otherwise in its place is the same pin; one that moved keeps its wires', () => {
  const before = partOf(freshPart(relay, []), undefined);
  const [a, b, c, d] = before.pins.map((p) => p.id);
  const ids = (pins: string[]) => partOf({ ...lineOf(before), pins }, before).pins.map((p) => p.id);
  expect(ids(['30', '85', '86', '87'])).toEqual([a, b, c, d]);
  expect(ids(['30', 'A1', '86', '87'])).toEqual([a, b, c, d]);
  expect(ids(['87', '30', '85', '86'])).toEqual([d, a, b, c]);
  const more = ids(['30', '85', '86', '87', '87a']);
  expect(more.slice(0, 4)).toEqual([a, b, c, d]);
  expect(more[4]).not.toBe(d);
  expect(ids(['30', '86'])).toEqual([a, c]);
});

test('another kind brings its own pins only where nobody wrote others', () => {
  const line = freshPart(relay, []);
  expect(ofKind(line, relay, supply, ['K1'])).toMatchObject({ pins: ['+', '-'], name: 'supply', designator: 'PS' });
  const own = { ...line, pins: ['1', '2'], name: 'door relay' };
  expect(ofKind(own, relay, supply, ['K1'])).toMatchObject({ pins: ['1', '2'], name: 'door relay', designator: 'K1' });
});
