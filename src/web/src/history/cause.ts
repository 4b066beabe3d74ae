import type { FaultCause } from '../api/generated';

export const causeWords: Record<FaultCause, string> = {
  part: 'part',
  contactOrWire: 'contact or wire',
  supply: 'supply',
  setting: 'setting',
  mechanical: 'mechanical',
  dirt: 'dirt',
  water: 'water',
  surge: 'surge',
  wrongEarlierRepair: 'wrong earlier repair',
  noneFound: 'none found',
};
