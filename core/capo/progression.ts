/** What planner and plan share about the chords of a tune: which shapes are weighed, and how much each counts. */
import type { Chord } from '../chord';
import type { Hand } from '../hand';
import type { Setup } from '../instrument';
import { type ChordWeight, findShapes, type Shape, type ShapeWishes, usualShapes } from '../shape';

/** Frets in which shapes are looked for first, since those are learned first, and shapes that must be found there. */
const LOW_FRETS = 5;
const ENOUGH = 6;

/**
 * Shapes that were found lately: a tune is planned again at every other level, texture or wish, and most tunes share their
 * chords. So many are kept, each of a few hundred bytes.
 */
const lately = new Map<string, readonly Shape[]>();
const KEPT = 2000;

/**
 * The easiest shapes of a chord under wishes: in the lowest frets first, further up where too few lie there, and with
 * fewer strings where there are none at all.
 *
 * @example candidateShapes(parseChord('C'), setup, hand, {}, 4)[0].frets // [0, 1, 0, 2, 3, null]
 */
export function candidateShapes(
  chord: Chord,
  setup: Setup,
  hand: Hand,
  wishes: ShapeWishes,
  limit: number,
): readonly Shape[] {
  const key = JSON.stringify([chord.symbol, setup, hand, wishes, limit]);
  const known = lately.get(key);
  if (known) return known;
  const found = search(chord, setup, hand, wishes, limit);
  if (lately.size >= KEPT) lately.delete(lately.keys().next().value!);
  lately.set(key, found);
  return found;
}

function search(chord: Chord, setup: Setup, hand: Hand, wishes: ShapeWishes, limit: number): Shape[] {
  const asked: ShapeWishes = { ...wishes, limit };
  if (wishes.maxFret !== undefined || wishes.minFret !== undefined)
    return findShapes(chord, setup, hand, asked);
  const low = findShapes(chord, setup, hand, { ...asked, maxFret: LOW_FRETS });
  // What players know of a chord may lie up the neck.
  const isKnown = low.some(shape => shape.usual) || !usualShapes(chord, setup);
  if (isKnown && low.length >= Math.min(limit, ENOUGH)) return low;
  const seen = new Set(low.map(shape => shape.frets.join()));
  const more = findShapes(chord, setup, hand, asked).filter(shape => !seen.has(shape.frets.join()));
  const usual = more.filter(shape => shape.usual);
  const all = [...usual, ...low, ...more.filter(shape => !shape.usual)].slice(0, limit);
  if (all.length || wishes.minStrings !== undefined) return all;
  return findShapes(chord, setup, hand, { ...asked, minStrings: 3, maxInnerMutes: 2 });
}

/** How hard a change is by the time there is for it: one in half a second asks for twice one in two seconds. */
function haste(seconds: number): number {
  return Math.min(2, Math.max(0.5, 1 / Math.sqrt(Math.max(0.1, seconds))));
}

/** Weights of holding and changing for chords of given lengths, so that their sum is the mean effort of a chord. */
export function chordWeights(seconds: readonly number[]): ChordWeight[] {
  const total = seconds.reduce((sum, value) => sum + value, 0) || 1;
  return seconds.map((value, i) => ({
    hold: value / total,
    // The time to get to a chord is the length of the one before. Counted for every four seconds of the tune.
    change: (haste(seconds[i - 1] ?? value) * 4) / total,
  }));
}
