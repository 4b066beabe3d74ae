interface Spot {
  id: string;
  x: number;
  y: number;
}

/** As near as a finger cannot tell apart, in pixels; half a marker that is pressed. */
const finger = 22;

/**
 * What a press on a marker chooses: the marker, or, where it is chosen already, the next of those that lie under the same
 * finger. A third press comes back to the first.
 *
 * @param spots On the screen, in pixels.
 */
export function nextAt(pressed: string, chosen: string | null, spots: readonly Spot[]): string {
  const at = spots.find((s) => s.id === pressed);
  const under = spots.filter((s) => at && Math.hypot(s.x - at.x, s.y - at.y) <= finger).map((s) => s.id);
  const here = chosen === null ? -1 : under.indexOf(chosen);
  return here < 0 ? pressed : (under[(here + 1) % under.length] ?? pressed);
}

/**
 * How far a marker's number stands beside its place, in pixels, so that it does not cover its neighbour's: away from the
 * nearest one, where that is near.
 *
 * @param spots In shares of the picture, which is about so wide on a screen.
 * @param shape Width over height.
 */
export function aside(
  id: string,
  spots: readonly Spot[],
  scale: number,
  shape: number,
  width = 700,
): { x: number; y: number } {
  const own = spots.find((s) => s.id === id);
  if (!own) {
    return { x: 0, y: 0 };
  }
  const far = spots
    .filter((s) => s.id !== id)
    .map((s) => ({ x: (own.x - s.x) * width * scale, y: ((own.y - s.y) * width * scale) / shape, id: s.id }))
    .sort((a, b) => Math.hypot(a.x, a.y) - Math.hypot(b.x, b.y))[0];
  const length = far ? Math.hypot(far.x, far.y) : Infinity;
  if (!far || length > 2 * finger) {
    return { x: 0, y: 0 };
  }
  // Two on one spot part sideways, each to its own side.
  const [x, y] = length < 1 ? [id < far.id ? -1 : 1, 0] : [far.x / length, far.y / length];
  return { x: Math.round(x * 16), y: Math.round(y * 16) };
}
