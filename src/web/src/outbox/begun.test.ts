import { expect, test } from 'vitest';
import { begunOf } from './begun';

test('what was begun is told with the page where it is open again', () => {
  expect(
    begunOf([
      'form/fault/f1',
      'form/model-safety/m1',
      'form/wiring/m1',
      'terminals/LY-04/z1',
      'ending/v1',
      'ending-lists/v1',
      'skip/v1/boards',
      'form/call/c1',
      'new-machine',
      'functions/LY-11/name/Rail 5 V',
    ]).map((b) => [b.words, b.to]),
  ).toEqual([
    ['A fault being written up', '/faults/f1'],
    ['A sheet of a model', '/models/m1'],
    ['The wiring of a model', '/models/m1'],
    ['Pasted terminals', '/machines/LY-04/boards/z1/terminals'],
    ['What was done', '/visits/v1'],
    ['What was done', '/visits/v1'],
    ['Why a step is left out', '/visits/v1/arrive'],
    ['A support call', null],
    ['A new machine', '/machines/new'],
    ['A name in what a machine does', '/machines/LY-11/functions'],
  ]);
  expect(begunOf(['something-else/x'])).toEqual([]);
});
