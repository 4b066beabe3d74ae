/** A place on a board that something is said of: a pin, an element, a bare place as faced, or the whole board. */
export interface PlaceOnBoard {
  elementId?: string;
  pinId?: string;
  /** In millimetres as faced. */
  x?: number;
  y?: number;
  words: string;
}

export const wholeBoard: PlaceOnBoard = { words: 'the whole board' };
