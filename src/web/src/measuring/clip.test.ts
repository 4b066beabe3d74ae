import { expect, test } from 'vitest';
import type { ProbeView, RoundView } from '../api/generated';
import { placesFor, withClip } from './clip';

const pin = (printed: string) => ({ printed }) as ProbeView;
const row = (key: string, red: string, black: string | null) => ({ key, red: pin(red), black: black && pin(black) });
const view = {
  returns: [
    ['Z1-J1·2', 'PS·-', 'DP-J4·2'],
    ['CB-J2·3', 'CB-J9·1'],
  ],
  pins: ['DP-J4·2', 'PS·-', 'Z1-J1·2', 'CB-J2·3', 'CB-J9·1', 'Z1-J1·1'].map(pin),
  rows: [
    row('a', 'Z1-J1·1', 'Z1-J1·2'),
    row('b', 'CB-J2·1', 'CB-J2·3'),
    row('c', 'PS·-', 'Z1-J1·2'),
    row('d', 'Z1-J3·1', null),
  ],
} as unknown as RoundView;

const blacks = (of: RoundView) => of.rows.map((r) => r.black?.printed ?? null);

test('the clip stands for its own return, never for another, nor for the pin it is clipped to', () => {
  expect(blacks(withClip(view, 'PS·-'))).toEqual(['PS·-', 'CB-J2·3', 'Z1-J1·2', null]);
  expect(blacks(withClip(view, 'CB-J9·1'))).toEqual(['Z1-J1·2', 'CB-J9·1', 'Z1-J1·2', null]);
});

test('a pin of no return, one that is gone, and none leave the sheet as it is', () => {
  for (const clip of ['Z1-J1·1', 'X9·9', '']) {
    expect(blacks(withClip(view, clip))).toEqual(blacks(view));
  }
});

test('it may be clipped to any pin of the return that the check asks for', () => {
  expect(placesFor(view, pin('Z1-J1·2')).map((p) => p.printed)).toEqual(['DP-J4·2', 'PS·-', 'Z1-J1·2']);
  expect(placesFor(view, pin('Z1-J1·1'))).toEqual([]);
  expect(placesFor(view, null)).toEqual([]);
});
