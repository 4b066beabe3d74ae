// How the usual colours of lamps look on a screen; the words always stand beside them.
const lamps: Record<string, string> = {
  red: '#b8202c',
  green: '#2e7d43',
  yellow: '#e6c229',
  amber: '#e09a1b',
  orange: '#e07a1b',
  blue: '#2d5da8',
  white: '#ffffff',
};

export const lampColours = Object.keys(lamps);

/** What to fill a lamp with; nothing where its colour is not a usual one. */
export const lampFill = (colour: string): string => lamps[colour.trim().toLowerCase()] ?? 'transparent';
