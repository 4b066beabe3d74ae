import type { MeterMode } from '../api/generated';

/** The meter modes in the order they are used most. */
export const meterModes: [MeterMode, string][] = [
  ['dcVolts', 'DC volts'],
  ['acVolts', 'AC volts'],
  ['ohms', 'ohms'],
  ['continuity', 'continuity'],
  ['diode', 'diode drop'],
  ['dcAmps', 'DC amps'],
  ['acAmps', 'AC amps'],
  ['frequency', 'frequency'],
  ['time', 'seconds'],
  ['temperature', 'temperature'],
  ['contact', 'contact'],
  ['lamp', 'lamp'],
  ['word', 'displayed word'],
  ['capacitance', 'capacitance'],
  ['pressure', 'pressure'],
  ['speed', 'speed'],
  ['insulation', 'insulation'],
  ['earthBond', 'earth bond'],
  ['leakage', 'leakage'],
];
