/** What may drone in a tuning that is open to the key: notes that go with any chord of it, or nearly (common practice). */
import { type Chord, chordClasses } from '../../chord';
import { droneStrings, isOpenTo, noteAt, type Setup } from '../../instrument';
import { type Key, mod12, pitchClassOf } from '../../pitch';

/**
 * The strings that may drone under a chord of a key: those of an open tuning that sound its tonic or fifth open, but for
 * what rubs against a note of the chord.
 *
 * @returns none in a tuning that is not open to the key
 */
export function dronesUnder(setup: Setup, key: Key, chord: Chord): number[] {
  const tonic = pitchClassOf(key.tonic);
  if (!isOpenTo(setup, tonic)) return [];
  const classes = chordClasses(chord);
  return droneStrings(setup, tonic).filter(string => {
    const own = mod12(noteAt(setup, string, 0));
    return classes.includes(own) || !classes.some(other => rubs(own, other));
  });
}

/** Whether two pitch classes lie a semitone apart. */
export function rubs(a: number, b: number): boolean {
  return [1, 11].includes(mod12(a - b));
}
