import { useState } from 'react';

/** How the technician faces the board: quarter turns and whether it is seen from the wire side. */
export interface Facing {
  turns: number;
  mirrored: boolean;
}

/** Remembered on the device, since the technician does not turn round between pages. */
export function useFacing() {
  const [facing, setFacing] = useState<Facing>(() => {
    const [turns, mirrored] = (localStorage.getItem('facing') ?? '0,').split(',');
    return { turns: Number(turns) % 4 || 0, mirrored: mirrored === 'mirrored' };
  });
  const face = (next: Facing) => {
    localStorage.setItem('facing', `${next.turns},${next.mirrored ? 'mirrored' : ''}`);
    setFacing(next);
  };
  return {
    facing,
    turn: () => face({ ...facing, turns: (facing.turns + 1) % 4 }),
    mirror: () => face({ ...facing, mirrored: !facing.mirrored }),
  };
}
