import { expect, test } from 'vitest';
import { aside, nextAt } from './markers';

const spots = [
  { id: 'a', x: 100, y: 100 },
  { id: 'b', x: 110, y: 100 },
  { id: 'c', x: 112, y: 108 },
  { id: 'd', x: 400, y: 100 },
];

test('a press chooses what was pressed, and again the next under the same finger, round to the first', () => {
  expect(nextAt('b', null, spots)).toBe('b');
  expect(nextAt('b', 'd', spots)).toBe('b');
  expect(nextAt('b', 'b', spots)).toBe('c');
  expect(nextAt('b', 'c', spots)).toBe('a');
  expect(nextAt('b', 'a', spots)).toBe('b');
  expect(nextAt('d', 'd', spots)).toBe('d');
});

test('numbers stand away from their neighbours, the closer one looks the less', () => {
  const shares = [
    { id: 'a', x: 0.5, y: 0.5 },
    { id: 'b', x: 0.52, y: 0.5 },
    { id: 'c', x: 0.9, y: 0.5 },
  ];
  expect(aside('a', shares, 1, 1.5)).toEqual({ x: -16, y: 0 });
  expect(aside('b', shares, 1, 1.5)).toEqual({ x: 16, y: 0 });
  expect(aside('c', shares, 1, 1.5)).toEqual({ x: 0, y: 0 });
  expect(aside('a', shares, 6, 1.5)).toEqual({ x: 0, y: 0 });
  const twice = [
    { id: 'a', x: 0.5, y: 0.5 },
    { id: 'b', x: 0.5, y: 0.5 },
  ];
  expect([aside('a', twice, 1, 1).x, aside('b', twice, 1, 1).x]).toEqual([-16, 16]);
});
