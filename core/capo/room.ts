/** What a bass and the hand leave of a melody's room on the neck. */
import { bassClass, type Chord, classOfDegree } from '../chord';
import { fretsOfClass, isOpenTo, noteAt, type Setup, thinnestBass } from '../instrument';
import { mod12, pitchClassOf } from '../pitch';
import type { Frets } from '../shape';

/** Frets from the capo within which a bass is looked for. */
const BASS_FRETS = 4;

/** Whether the bass of a chord can be held on a thick string at least a fifth under a melody note. */
export function hasRoom(setup: Setup, chord: Chord, transposition: number, lowest: number): boolean {
  const bass = mod12(bassClass(chord) + transposition);
  for (let string = setup.tuning.length; string >= thinnestBass(setup.tuning.length); string--)
    for (const fret of fretsOfClass(setup, string, bass, BASS_FRETS))
      if (noteAt(setup, string, fret) + 7 <= lowest) return true;
  return false;
}

/** Frets that a hand covers, one under each finger. */
const UNDER_HAND = 3;

/** The highest fret that is in reach while a shape is held: D reaches to the fifth fret, C and E to the fourth. */
export function reachOf(frets: Frets): number {
  const held = frets.filter((fret): fret is number => fret !== null && fret > 0);
  return Math.min(...held) + UNDER_HAND;
}

/**
 * Whether a chord rings on open strings alone, its bass, third and fifth: over E minor the hand is free to go up the neck. A
 * tuning that is open to its root drones under it without a third, as D-A-D-G-A-D under D.
 */
export function ringsOpen(setup: Setup, chord: Chord, transposition: number): boolean {
  const opens = setup.tuning.map((_, i) => mod12(noteAt(setup, i + 1, 0) - transposition));
  const [third, fifth] = [classOfDegree(chord, 3), classOfDegree(chord, 5)];
  const bass = bassClass(chord);
  const drones = bass === pitchClassOf(chord.root) && isOpenTo(setup, mod12(bass + transposition));
  return opens.some((own, i) => {
    const inner = opens.slice(1, i);
    return (
      own === bass &&
      i + 1 >= thinnestBass(opens.length) &&
      fifth !== undefined &&
      inner.includes(fifth) &&
      (drones || (third !== undefined && inner.includes(third)))
    );
  });
}
