/** Double stops: a single note beside the melody instead of a grip under it. */
import { type Chord, chordClasses } from '../../chord';
import { fretsOfClass, highestFret, noteAt, openNotes, type Place, type Setup } from '../../instrument';
import { type Key, mod12, pitchClassOf, scaleOf } from '../../pitch';
import type { Doubling } from '../../score';
import type { Companion } from './candidates';

/** Nothing beside the melody is the last choice. */
const ALONE = 4.5;
/** How far up or down the neck from the melody a double stop may lie, in frets. */
const AWAY = 5;
/** Reluctance to set a note foreign to the chord under one of its own; judgement. */
const FOREIGN = 2;
/** Reluctance to take a sixth where thirds are asked for, or a third where sixths are; judgement. */
const OTHER = 1.6;

/**
 * What may sound with a melody note (common practice of double stops):
 *
 * - thirds, sixths: the note two or five steps of the scale below; where that is foreign to a chord that the melody
 *   belongs to, the other of the two may stand in;
 * - thinner: a chord note or open string of the scale on the next thinner string, over the melody;
 * - drone: a neighbouring open string of the chord or key.
 */
export function doublingCompanions(
  setup: Setup,
  doubling: Exclude<Doubling, 'grips'>,
  chord: Chord,
  key: Key,
  melody: Place,
): Companion[] {
  const found =
    doubling === 'drone'
      ? drones(setup, chord, key, melody)
      : doubling === 'thinner'
        ? onThinnerString(setup, chord, key, melody)
        : below(setup, doubling, chord, key, melody);
  found.sort((a, b) => a.cost - b.cost);
  return [...found, { places: [], cost: ALONE }];
}

const one = (place: Place, cost: number): Companion => ({ places: [place], cost, doubles: true });

/** The scale note so many steps below a note; for a note outside the scale counted from its neighbour above. */
function stepsBelow(key: Key, midi: number, steps: number): number {
  const scale = scaleOf(key);
  let at = midi;
  while (!scale.includes(mod12(at))) at += 1;
  for (let step = 0; step < steps; step++) {
    at -= 1;
    while (!scale.includes(mod12(at))) at -= 1;
  }
  return at;
}

function below(
  setup: Setup,
  doubling: 'thirds' | 'sixths',
  chord: Chord,
  key: Key,
  melody: Place,
): Companion[] {
  const top = noteAt(setup, melody.string, melody.fret);
  const classes = chordClasses(chord);
  const rests = classes.includes(mod12(top));
  const found: Companion[] = [];
  for (const [steps, reluctance] of doubling === 'thirds'
    ? [[2, 0] as const, [5, OTHER] as const]
    : [[5, 0] as const, [2, OTHER] as const]) {
    const midi = stepsBelow(key, top, steps);
    const foreign = rests && !classes.includes(mod12(midi)) ? FOREIGN : 0;
    for (let string = melody.string + 1; string <= Math.min(setup.tuning.length, melody.string + 2); string++)
      for (const fret of fretsOfClass(setup, string, mod12(midi), highestFret(setup))) {
        if (noteAt(setup, string, fret) !== midi) continue;
        if (fret && melody.fret && Math.abs(fret - melody.fret) > AWAY) continue;
        found.push(one({ string, fret }, reluctance + foreign));
      }
  }
  return found;
}

function onThinnerString(setup: Setup, chord: Chord, key: Key, melody: Place): Companion[] {
  const string = melody.string - 1;
  if (string < 1) return [];
  const own = noteAt(setup, melody.string, melody.fret);
  const open = openNotes(setup)[string - 1]!;
  const found: Companion[] = [];
  const classes = chordClasses(chord);
  for (const [i, pitchClass] of classes.entries())
    for (const fret of fretsOfClass(
      setup,
      string,
      pitchClass,
      Math.min(highestFret(setup), melody.fret + AWAY),
    )) {
      if (fret && melody.fret && fret < melody.fret - AWAY) continue;
      // The same note twice adds nothing but noise.
      if (noteAt(setup, string, fret) === own) continue;
      found.push(one({ string, fret }, 0.2 * i + (fret ? 0.4 : 0)));
    }
  if (!classes.includes(mod12(open)) && scaleOf(key).includes(mod12(open)) && open !== own)
    found.push(one({ string, fret: 0 }, 1));
  return found;
}

function drones(setup: Setup, chord: Chord, key: Key, melody: Place): Companion[] {
  const classes = chordClasses(chord);
  const tonic = pitchClassOf(key.tonic);
  const scale = scaleOf(key);
  const found: Companion[] = [];
  for (const string of [melody.string + 1, melody.string - 1]) {
    const open = openNotes(setup)[string - 1];
    if (open === undefined) continue;
    const pitchClass = mod12(open);
    const fits = classes.includes(pitchClass)
      ? 0
      : pitchClass === tonic || pitchClass === mod12(tonic + 7)
        ? 0.4
        : scale.includes(pitchClass)
          ? 1.5
          : undefined;
    if (fits !== undefined) found.push(one({ string, fret: 0 }, fits + (string < melody.string ? 0.3 : 0)));
  }
  return found;
}
