import { bassClass, type Chord, chordClasses, degreeOf } from '../chord';
import {
  type Effort,
  type FingerPlacement,
  fingerOn,
  gripEffort,
  gripsFor,
  type Hand,
  reachBetween,
  type StringDuty,
  totalEffort,
} from '../hand';
import { fingertipDistance, highestFret, INSTRUMENTS, openNotes, type Setup } from '../instrument';
import { mod12 } from '../pitch';

/** A way to hold a chord. Arrays run from string 1 (thinnest) up. */
export interface Shape {
  /** Fret of each string counted from the capo; null where it is not played. */
  frets: (number | null)[];
  /** Fingers that hold it. */
  grip: FingerPlacement[];
  /** Effort of holding it, in named parts; the lower the easier. */
  effort: Effort;
  cost: number;
}

/** What is asked of the shapes of a search. */
export interface ShapeWishes {
  /** Fewest strings that sound; default 4 on six strings, 2 on four. */
  minStrings?: number;
  /** Most silent strings between sounding ones; default 0. */
  maxInnerMutes?: number;
  /** What lies lowest: the chord's own bass (default), or any of its notes. */
  bass?: 'chord' | 'any';
  /** Highest fret counted from the capo; default 15 or as far as the neck goes. */
  maxFret?: number;
  /** MIDI note that must be the highest. */
  topNote?: number;
  /** Best shapes kept; default all. */
  limit?: number;
}

/** Effort of silencing a string between sounding ones; judgement. */
const INNER_MUTE = 0.9;
/** Effort of a thick string that the plucking hand must leave out, and loss of a thin one; judgement. */
const THICK_MUTE = 0.55;
const THIN_MUTE = 1.8;

/** "x32010": frets from the thickest string to the thinnest, as the trade writes them. */
export function shapeText(frets: readonly (number | null)[]): string {
  const parts = frets.map(fret => (fret === null ? 'x' : String(fret))).reverse();
  return parts.some(part => part.length > 1) ? parts.join('-') : parts.join('');
}

/** Furthest fret the widest reach allows above a lowest fret. */
function windowTop(setup: Setup, reach: number, lowest: number): number {
  const { scaleLength } = INSTRUMENTS[setup.instrument];
  const base = fingertipDistance(scaleLength, lowest + setup.capo);
  let fret = lowest;
  while (fingertipDistance(scaleLength, fret + 1 + setup.capo) - base <= reach && fret < lowest + 9)
    fret += 1;
  return fret;
}

/**
 * All playable shapes of a chord, easiest first: every combination of open, fretted and silent strings whose
 * notes belong to the chord, hold its essential notes and its bass, and lie within the hand.
 *
 * @param chord shape chord, named as the hand makes it (before the capo moves its sound)
 * @param setup the capo only changes distances, since frets are counted from it
 */
export function findShapes(chord: Chord, setup: Setup, hand: Hand, wishes: ShapeWishes = {}): Shape[] {
  const strings = setup.tuning.length;
  const minStrings = wishes.minStrings ?? (strings > 4 ? 4 : 2);
  const maxInnerMutes = wishes.maxInnerMutes ?? 0;
  const maxFret = Math.min(wishes.maxFret ?? 15, highestFret(setup));
  const open = openNotes({ ...setup, capo: 0 });
  const classes = new Set(chordClasses(chord));
  const bass = bassClass(chord);
  const rootClass = chordClasses(chord)[0]!;
  const essential = chord.degrees.filter(d => d.essential).map(d => mod12(rootClass + d.semitones));
  if (chord.bass) essential.push(bass);
  const required = [...new Set(essential)];
  const topNote = wishes.topNote === undefined ? undefined : wishes.topNote - setup.capo;

  const shapes: Shape[] = [];
  const frets: (number | null)[] = new Array(strings).fill(null);
  const duties: StringDuty[] = new Array(strings).fill('muted');

  const finish = () => {
    let thickest = -1;
    let sounding = 0;
    let present = 0;
    for (let i = strings - 1; i >= 0; i--) {
      const fret = frets[i];
      if (fret === null || fret === undefined) continue;
      if (thickest < 0) thickest = i;
      sounding += 1;
      present |= 1 << mod12(open[i]! + fret);
    }
    if (sounding < minStrings) return;
    if (required.some(pc => !(present & (1 << pc)))) return;
    let lowest = Number.POSITIVE_INFINITY;
    let highest = -1;
    for (let i = 0; i < strings; i++) {
      if (frets[i] === null) continue;
      const note = open[i]! + frets[i]!;
      lowest = Math.min(lowest, note);
      highest = Math.max(highest, note);
    }
    if (wishes.bass !== 'any' && mod12(lowest) !== bass) return;
    if (topNote !== undefined && highest !== topNote) return;
    const thinnest = frets.findIndex(fret => fret !== null);
    let inner = 0;
    for (let i = 0; i < strings; i++) {
      const fret = frets[i]!;
      const silentInside = fret === null && i > thinnest && i < thickest;
      if (silentInside) inner += 1;
      duties[i] = fret === null ? (silentInside ? 'muted' : 'free') : fret;
    }
    let best: Shape | undefined;
    for (const grip of gripsFor(setup, hand, duties)) {
      const effort = gripEffort(setup, hand, grip);
      const mutes = inner * INNER_MUTE + (strings - 1 - thickest) * THICK_MUTE + thinnest * THIN_MUTE;
      if (mutes > 0) effort.mutes = mutes;
      const cost = totalEffort(effort);
      if (!best || cost < best.cost) best = { frets: [...frets], grip, effort, cost };
    }
    if (best) shapes.push(best);
  };

  /**
   * Walks from the thickest string to the thinnest, keeping to frets `low`…`high` with at least one at `low`.
   *
   * @param pending silent strings since the last sounding one: they are inner ones once a thinner string sounds
   * @param lowGroups fingers needed at least at `low`: one, or more where an open string parts the notes there
   * @param above fingers needed at least above it: neighbouring strings at one fret may share one
   */
  const walk = (
    index: number,
    low: number,
    high: number,
    started: boolean,
    inner: number,
    pending: number,
    lowGroups: number,
    parted: boolean,
    above: number,
  ) => {
    if (index < 0) {
      if (lowGroups > 0 || low === 0) finish();
      return;
    }
    const note = open[index]!;
    frets[index] = null;
    walk(index - 1, low, high, started, inner, started ? pending + 1 : 0, lowGroups, parted, above);
    const innerNow = started ? inner + pending : 0;
    if (innerNow > maxInnerMutes) return;
    if (classes.has(mod12(note))) {
      frets[index] = 0;
      walk(index - 1, low, high, true, innerNow, 0, lowGroups, lowGroups > 0, above);
    }
    if (low > 0) {
      const thicker = index + 1 < strings ? frets[index + 1] : null;
      for (let fret = low; fret <= high; fret++) {
        if (!classes.has(mod12(note + fret))) continue;
        const groups = fret > low ? lowGroups : lowGroups === 0 || parted ? lowGroups + 1 : lowGroups;
        const others = fret > low && fret !== thicker ? above + 1 : above;
        // Four fingers; one of them must at least come down at `low`.
        if (Math.max(1, groups) + others > 4) continue;
        frets[index] = fret;
        walk(index - 1, low, high, true, innerNow, 0, groups, fret === low ? false : parted, others);
      }
    }
    frets[index] = null;
  };

  walk(strings - 1, 0, 0, false, 0, 0, 0, false, 0);
  const reach = reachBetween(hand, 1, 4).limit;
  for (let low = 1; low <= maxFret; low++) {
    walk(strings - 1, low, Math.min(maxFret, windowTop(setup, reach, low)), false, 0, 0, 0, false, 0);
  }
  shapes.sort((a, b) => a.cost - b.cost || shapeText(a.frets).localeCompare(shapeText(b.frets)));
  return wishes.limit ? shapes.slice(0, wishes.limit) : shapes;
}

/** Notes of a shape from string 1 up: MIDI as it sounds with the capo on, and the degree in its chord. */
export function shapeNotes(
  shape: Pick<Shape, 'frets'>,
  chord: Chord,
  setup: Setup,
): ({ midi: number; degree: string | undefined } | null)[] {
  const open = openNotes(setup);
  return shape.frets.map((fret, index) => {
    if (fret === null) return null;
    const midi = open[index]! + fret;
    return { midi, degree: degreeOf(chord, mod12(midi - setup.capo)) };
  });
}

/** Left-hand finger on each string of a shape, string 1 first; null where open or silent. */
export function shapeFingers(shape: Pick<Shape, 'frets' | 'grip'>): (number | null)[] {
  return shape.frets.map((fret, index) => (fret ? (fingerOn(shape.grip, index + 1, fret) ?? null) : null));
}
