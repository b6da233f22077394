/** Meters and keys that are offered. */
import { type Meter, parseMeter } from '#core/time';

export const METERS = [
  '4/4',
  '3/4',
  '2/4',
  '2/2',
  '6/8',
  '9/8',
  '12/8',
  '3/8',
  '5/4',
  '5/4 (2+3)',
  '5/8 (3+2)',
  '5/8 (2+3)',
  '7/8',
  '7/8 (2+2+3)',
  '7/8 (3+2+2)',
  '7/8 (2+3+2)',
  '8/8 (3+3+2)',
  '9/8 (2+2+2+3)',
];

/** One of these, or the name of another meter, as a meter. */
export function meterOf(text: string): Meter {
  return parseMeter(text)!;
}

export const TONIC_CHOICES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'].map(name => ({
  value: name,
  label: name.replace('b', '♭').replace('#', '♯'),
}));
