import type { PinAddress } from '../api/generated';

/** An address as the value of a choice; the same address is always the same text. */
export const addressText = ({ position, part, place, pin }: PinAddress): string =>
  JSON.stringify({ position, part, place, pin });

/** The address of a choice; null for none. */
export const readAddress = (text: string | null): PinAddress | null => (text ? (JSON.parse(text) as PinAddress) : null);
