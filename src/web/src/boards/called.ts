/** Part number and revision, as people call a board; no revision is made up where nobody wrote one down. */
export const called = (board: { partNumber: string; revision: string }) =>
  board.revision ? `${board.partNumber} rev ${board.revision}` : board.partNumber;
