/** Meters and keys that are offered. */
import type { Meter } from '#core/time';

export const METERS = ['4/4', '3/4', '2/4', '2/2', '6/8', '9/8', '12/8', '3/8', '5/4', '7/8'];

/** One of these as a meter. */
export function meterOf(text: string): Meter {
  const [beats, unit] = text.split('/').map(Number);
  return { beats: beats!, unit: unit! };
}

export const TONIC_CHOICES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'].map(name => ({
  value: name,
  label: name.replace('b', '♭').replace('#', '♯'),
}));
