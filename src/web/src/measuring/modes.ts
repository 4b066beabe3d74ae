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
  ['inrush', 'inrush'],
  ['ripple', 'ripple'],
  ['duty', 'duty'],
  ['residualTrip', 'residual-current trip'],
  ['phaseRotation', 'phase rotation'],
  ['batteryUnderLoad', 'battery under load'],
  ['sound', 'sound'],
  ['sequence', 'sequence'],
  ['fuse', 'fuse'],
];

/** Words rather than numbers are typed: the keyboard of letters belongs to them. */
export const isOfWords = (mode: MeterMode) => mode === 'word' || mode === 'sequence';

/** What the keys + and - stand for where something is seen or heard rather than measured. */
export const yesAndNo: Partial<Record<MeterMode, readonly [yes: string, no: string]>> = {
  lamp: ['on', 'off'],
  contact: ['closed', 'open'],
  continuity: ['beeps', 'silent'],
  sound: ['heard', 'silent'],
  fuse: ['beeps', 'silent'],
};

/** A key under the thumb that writes a text, or adds it behind what is typed. */
export interface PadKey {
  label: string;
  /** Spoken, where the label alone says too little. */
  spoken?: string;
  text: string;
  /** It goes behind a number and is no answer by itself. */
  adds?: boolean;
}

const thousand: PadKey = { label: 'k', spoken: 'k, thousand', text: 'k', adds: true };
const million: PadKey = { label: 'M', spoken: 'M, million', text: 'M', adds: true };
const thousandth: PadKey = { label: 'm', spoken: 'm, thousandth', text: ' m', adds: true };
const upTo: PadKey = { label: '..', spoken: 'to, a second value', text: '..', adds: true };
const unsteady: PadKey = { label: '~', spoken: 'It would not stand still', text: '~', adds: true };
const space: PadKey = { label: 'space', text: ' ', adds: true };
const milli = (unit: string): PadKey => ({ label: `m${unit}`, text: ` m${unit}`, adds: true });
const states = (mode: MeterMode): PadKey[] => (yesAndNo[mode] ?? []).map((word) => ({ label: word, text: word }));

/** The keys beside the digits, for what is read in a mode. */
export function padKeys(mode: MeterMode, limit: string): PadKey[] {
  const settles: PadKey[] = limit.startsWith('settles')
    ? [
        { label: 'jumps', text: ' jumps', adds: true },
        { label: 'steady', text: ' steady', adds: true },
      ]
    : [];
  switch (mode) {
    case 'lamp':
      return [...states(mode), { label: 'blinking', text: 'blinking' }];
    case 'contact':
      return states(mode);
    case 'continuity':
      return [...states(mode), thousand, million];
    case 'sound':
      return [...states(mode), { label: 'times', text: ' times', adds: true }];
    case 'phaseRotation':
      return [
        { label: '1 2 3', spoken: 'L1 L2 L3', text: '123' },
        { label: '1 3 2', spoken: 'L1 L3 L2', text: '132' },
        { label: 'missing', spoken: 'a phase is missing', text: 'missing' },
      ];
    case 'fuse':
      return [
        ...states(mode),
        { label: 'in place', text: ' in place', adds: true },
        space,
        { label: 'lowz', spoken: 'at low impedance', text: ' lowz', adds: true },
        { label: 'alone', spoken: 'nothing feeds back', text: ' alone', adds: true },
      ];
    case 'dcAmps':
    case 'acAmps':
    case 'inrush':
    case 'leakage':
      return [
        milli('A'),
        { label: 'clamp', spoken: 'millivolts of a clamp', text: ' mV at 10 mV/A', adds: true },
        upTo,
      ];
    case 'ohms':
    case 'insulation':
    case 'earthBond':
      return settles.length > 0 ? [...settles, thousand, million] : [thousand, million, unsteady];
    case 'residualTrip':
    case 'time':
      return [milli('s')];
    case 'capacitance':
      return [
        { label: 'nF', text: ' nF', adds: true },
        { label: 'µF', text: ' µF', adds: true },
      ];
    case 'frequency':
      return [thousand, unsteady];
    case 'temperature':
      return [
        { label: '°C', text: ' °C', adds: true },
        { label: '°F', text: ' °F', adds: true },
      ];
    case 'dcVolts':
    case 'acVolts':
    case 'batteryUnderLoad':
    case 'ripple':
    case 'diode':
      return [milli('V'), unsteady, upTo];
    default:
      return [thousandth, unsteady, upTo];
  }
}
