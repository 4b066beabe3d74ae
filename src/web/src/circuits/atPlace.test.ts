import { describe, expect, test } from 'vitest';
import type { CircuitFaultView } from '../api/generated';
import { faultsAt } from './atPlace';

const fault = (id: string, part: string, words: string, share: number): CircuitFaultView => ({
  id,
  part,
  words,
  share,
});

const faults = [
  fault('1', 'Z1-F1', 'Z1-F1 blown', 3),
  fault('2', 'contact Z1-J1·1', 'contact Z1-J1·1 open', 1),
  fault('3', 'contact Z1-J1·12', 'contact Z1-J1·12 open', 2),
  fault('4', 'wire Z1-J1·1 to M1·+', 'wire Z1-J1·1 to M1·+ open', 0.5),
  fault('5', 'something behind Z1-F1', 'something behind Z1-F1 shorted', 4),
  fault('6', 'Z1-F10', 'Z1-F10 blown', 9),
];

describe('faults at a place of the board', () => {
  test.each([
    ['Z1-F1', ['5', '1']],
    ['Z1-J1·1', ['2', '4']],
    ['Z1-J1', ['3', '2', '4']],
    ['M1', ['4']],
    ['K9', []],
  ])('%s', (place, ids) => {
    expect(faultsAt(faults, place).map((f) => f.id)).toEqual(ids);
  });
});
