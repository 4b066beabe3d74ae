import { describe, expect, it } from 'vitest';
import { changed, freshRow, pinCalled, type PlacedPin, rowOf, wireOf } from './wires';

const pin = (printed: string): PlacedPin => ({ printed, signal: '', address: { part: 'p', pin: printed } });
const pins = ['PS·+', 'PS·-', 'Z1-J1·1', 'Z1-J1·11', 'Z2-J1·1'].map(pin);
const name = (at: { pin?: string | null }) => at.pin ?? '';

describe('the pin that a text names', () => {
  it('is found as printed, and without its dashes and dots', () => {
    expect(pinCalled(pins, 'z1-j1·1')?.printed).toBe('Z1-J1·1');
    expect(pinCalled(pins, 'z1j11')?.printed).toBe('Z1-J1·1');
    expect(pinCalled(pins, 'Z1-J1.1')?.printed).toBe('Z1-J1·1');
    expect(pinCalled(pins, 'ps+')?.printed).toBe('PS·+');
    expect(pinCalled(pins, 'PS-')?.printed).toBe('PS·-');
  });

  it('is none where several may be meant, or none is', () => {
    expect(pinCalled(pins, 'j1')).toBeUndefined();
    expect(pinCalled(pins, 'X9-1')).toBeUndefined();
    expect(pinCalled(pins, ' ')).toBeUndefined();
  });
});

describe('rows of wires', () => {
  const one = wireOf({ id: 'w1', from: 'PS+', to: 'Z1-J1.1', number: '101', power: 'feeds' }, pins);

  it('become wires when both ends are pins, and wait with their texts until then', () => {
    const first = changed([], [], [{ row: 'n', column: 'from', before: '', text: 'PS+' }], pins, name);
    expect(first.wires).toEqual([]);
    expect(first.waiting).toMatchObject([{ id: 'n', from: 'PS+', to: '' }]);
    const then = changed(
      first.wires,
      first.waiting,
      [{ row: 'n', column: 'to', before: '', text: 'nowhere' }],
      pins,
      name,
    );
    expect(then.waiting).toMatchObject([{ from: 'PS+', to: 'nowhere' }]);
    const last = changed(then.wires, then.waiting, [{ row: 'n', column: 'to', before: '', text: 'z2j11' }], pins, name);
    expect(last).toEqual({
      wires: [{ id: 'n', from: pins[0]?.address, to: pins[4]?.address, directed: true, number: '' }],
      waiting: [],
    });
  });

  it('turn round where power comes back, and lose their direction by another word', () => {
    const wires = one ? [one] : [];
    const back = changed(wires, [], [{ row: 'w1', column: 'power', before: 'feeds', text: 'fed by' }], pins, name);
    expect(back.wires.map((w) => rowOf(w, name))).toMatchObject([
      { from: 'Z1-J1·1', to: 'PS·+', power: 'feeds', number: '101' },
    ]);
    const none = changed(wires, [], [{ row: 'w1', column: 'power', before: 'feeds', text: 'none' }], pins, name);
    expect(none.wires[0]?.directed).toBe(false);
  });

  it('do not stand twice, whichever way round', () => {
    const twice = changed(
      one ? [one] : [],
      [],
      [
        { row: 'n', column: 'from', before: '', text: 'z1j11' },
        { row: 'n', column: 'to', before: '', text: 'ps+' },
      ],
      pins,
      name,
    );
    expect(twice.wires).toHaveLength(1);
    expect(twice.waiting).toHaveLength(1);
  });

  it('keep what was typed over a wire, and give the wire back when it is mended', () => {
    const broken = changed(
      one ? [one] : [],
      [],
      [{ row: 'w1', column: 'to', before: 'Z1-J1·1', text: 'Q' }],
      pins,
      name,
    );
    expect(broken).toMatchObject({ wires: [], waiting: [{ id: 'w1', to: 'Q', number: '101' }] });
    expect(freshRow().id).not.toBe(freshRow().id);
  });
});
