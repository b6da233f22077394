import { bassClass, type Chord, chordClasses } from '../chord';
import {
  type Effort,
  type Finger,
  type FingerPlacement,
  gripsFor,
  type Hand,
  isBarre,
  reachBetween,
  type StringDuty,
  stretchOf,
  totalEffort,
} from '../hand';
import {
  fingertipDistance,
  highestFret,
  instrumentOf,
  noteAt,
  type Setup,
  takesAnyBass,
} from '../instrument';
import { mod12 } from '../pitch';
import { dutiesOf, type Frets, parseShapeText, shapeText } from './describe';
import { fingeringCost, fingeringEffort, withBarreStrength } from './effort';
import { choppedShapes, usualShapes } from './usual';

/** A way to hold a chord. Arrays run from string 1 (thinnest) up. */
export interface Shape {
  /** Fret of each string counted from the capo; null where it is not played. */
  frets: (number | null)[];
  /** Fingers that hold it. */
  grip: FingerPlacement[];
  /** Effort of holding it, in named parts; the lower the easier. */
  effort: Effort;
  cost: number;
  /** It is the open shape that everybody knows for its chord. */
  usual?: boolean;
}

/** What is asked of the shapes of a search. */
export interface ShapeWishes {
  /** Fewest strings that sound; default 4 on six strings, 2 on four, 3 where they are chopped. */
  minStrings?: number;
  maxStrings?: number;
  /** Most silent strings between sounding ones; default 0, but in a shape that everybody knows so. */
  maxInnerMutes?: number;
  /**
   * What lies lowest: the chord's own bass, any of its notes, or a pitch class as the shape is named. When left out its own
   * bass; on a mandolin any of its notes, also where a slash names one, which is the bass player's then (common practice).
   */
  bass?: 'chord' | 'any' | number;
  /** Lowest and highest fret of held strings, counted from the capo; default 1 to 15 or as far as the neck goes. */
  minFret?: number;
  maxFret?: number;
  /** MIDI note that must be the highest. */
  topNote?: number;
  /** Strings that must ring open. */
  openStrings?: readonly number[];
  /** Strings that will be plucked: a shape that silences one of them costs more. */
  plucked?: readonly number[];
  /**
   * Whether what is struck is stopped at once by the holding hand, as mandolins do: an open string rings on, and three strings
   * sound at least.
   */
  chopped?: boolean;
  /** Fingers that must stay free. */
  freeFingers?: readonly Finger[];
  noBarre?: boolean;
  /** Widest stretch between two fingers, in mm. */
  maxStretch?: number;
  /** Best shapes kept; default all. */
  limit?: number;
}

/** Effort of a string that is to be plucked and is silent: more than another shape than the usual one. Judgement. */
const SILENT = 7;
/** Effort of an open string where what is struck is to stop. Judgement. */
const RINGS_ON = 8;

/** Furthest fret the widest reach allows above a lowest fret. */
function windowTop(setup: Setup, reach: number, lowest: number): number {
  const { scaleLength } = instrumentOf(setup);
  const base = fingertipDistance(scaleLength, lowest + setup.capo);
  let fret = lowest;
  while (fingertipDistance(scaleLength, fret + 1 + setup.capo) - base <= reach && fret < lowest + 9)
    fret += 1;
  return fret;
}

/** Pitch classes as a bit each. */
function bitsOf(classes: readonly number[]): number {
  return classes.reduce((bits, pc) => bits | (1 << pc), 0);
}

function bitCount(bits: number): number {
  let count = 0;
  for (let left = bits; left; left &= left - 1) count += 1;
  return count;
}

/** A way to finger a set of frets, with its effort. */
export interface Fingering {
  grip: FingerPlacement[];
  effort: Effort;
  cost: number;
}

/** What is asked of the fingers of a shape. */
export type FingeringWishes = Pick<ShapeWishes, 'freeFingers' | 'noBarre' | 'maxStretch'>;

function allowed(grip: FingerPlacement[], setup: Setup, hand: Hand, wishes: FingeringWishes): boolean {
  if (wishes.noBarre && grip.some(isBarre)) return false;
  if (wishes.freeFingers && grip.some(p => wishes.freeFingers!.includes(p.finger))) return false;
  return wishes.maxStretch === undefined || stretchOf(setup, hand, grip).widest <= wishes.maxStretch;
}

function fingering(
  frets: Frets,
  grip: FingerPlacement[],
  duties: StringDuty[],
  setup: Setup,
  hand: Hand,
): Fingering {
  const effort = fingeringEffort(frets, grip, setup, hand, duties);
  return { grip, effort, cost: totalEffort(effort) };
}

/**
 * Every way to finger a shape, the easiest first.
 *
 * @example fingeringsOf([0, 1, 0, 2, 3, null], setup, hand)[0].grip.map(p => p.finger) // [1, 2, 3]
 */
export function fingeringsOf(
  frets: Frets,
  setup: Setup,
  hand: Hand,
  wishes: FingeringWishes = {},
): Fingering[] {
  const duties = dutiesOf(frets);
  return gripsFor(setup, hand, duties)
    .filter(grip => allowed(grip, setup, hand, wishes))
    .map(grip => fingering(frets, grip, duties, setup, hand))
    .sort((a, b) => a.cost - b.cost);
}

/** The easiest way to finger a shape, without making the others. */
function bestFingering(
  frets: Frets,
  setup: Setup,
  hand: Hand,
  wishes: FingeringWishes,
): Fingering | undefined {
  const duties = dutiesOf(frets);
  let best: FingerPlacement[] | undefined;
  let least = Number.POSITIVE_INFINITY;
  for (const grip of gripsFor(setup, hand, duties)) {
    if (!allowed(grip, setup, hand, wishes)) continue;
    const cost = fingeringCost(frets, grip, setup, hand, duties);
    if (cost < least - 1e-12) {
      least = cost;
      best = grip;
    }
  }
  return best && fingering(frets, best, duties, setup, hand);
}

/**
 * All playable shapes of a chord, easiest first: every combination of open, fretted and silent strings whose
 * notes belong to the chord, hold its essential notes and its bass, and lie within the hand.
 *
 * @param chord shape chord, named as the hand makes it (before the capo moves its sound)
 * @param setup the capo only changes distances, since frets are counted from it; a partial one also the open notes
 * @example findShapes(parseChord('Am'), setup, hand)[0].frets // [0, 1, 2, 2, 0, null]
 */
export function findShapes(chord: Chord, setup: Setup, hand: Hand, wishes: ShapeWishes = {}): Shape[] {
  const strings = setup.tuning.length;
  const minStrings = wishes.minStrings ?? (strings > 4 ? 4 : wishes.chopped ? 3 : 2);
  const maxStrings = wishes.maxStrings ?? strings;
  const maxInnerMutes = wishes.maxInnerMutes ?? 0;
  const minFret = wishes.minFret ?? 1;
  const maxFret = Math.min(wishes.maxFret ?? 15, highestFret(setup));
  // Notes as the shape names them: what sounds, less the capo.
  const open = setup.tuning.map((_, i) => noteAt(setup, i + 1, 0) - setup.capo);
  const stopped = setup.tuning.map((_, i) => noteAt(setup, i + 1, 1) - setup.capo - 1);
  const classes = bitsOf(chordClasses(chord));
  /** Of each string by fret: the bit of the pitch class, 0 where the chord does not have it. */
  const sounds = stopped.map((note, i) =>
    Array.from(
      { length: Math.max(0, maxFret) + 1 },
      (_, fret) => classes & (1 << mod12(fret ? note + fret : open[i]!)),
    ),
  );
  const usualBass = takesAnyBass(setup) ? 'any' : 'chord';
  const { bass: lowestAsked = usualBass } = wishes;
  const anyBass = lowestAsked === 'any';
  const bass = typeof lowestAsked === 'number' ? mod12(lowestAsked) : bassClass(chord);
  // The lowest note is the bass: the first string holds it, unless a thinner one may sound below.
  const begins = sounds.map((bits, i) =>
    bits.map((bit, fret) => {
      const note = fret ? stopped[i]! + fret : open[i]!;
      const below = stopped.some((thinner, k) => k < i && Math.min(open[k]!, thinner + 1) < note);
      return anyBass || bit === 1 << bass || below ? bit : 0;
    }),
  );
  const rootClass = chordClasses(chord)[0]!;
  const essential = chord.degrees.filter(d => d.essential).map(d => mod12(rootClass + d.semitones));
  if (chord.bass) essential.push(bassClass(chord));
  const required = bitsOf(essential);
  const topNote = wishes.topNote === undefined ? undefined : wishes.topNote - setup.capo;
  const fingers = hand.thumb ? 5 : 4;
  const mustBeOpen = setup.tuning.map((_, i) => wishes.openStrings?.includes(i + 1) ?? false);

  // What everybody knows has open strings, which are not chopped.
  const usual = wishes.chopped ? choppedShapes(chord, setup) : usualShapes(chord, setup);
  const shapes: Shape[] = [];
  const frets: (number | null)[] = new Array(strings).fill(null);

  const finish = () => {
    let sounding = 0;
    let lowest = Number.POSITIVE_INFINITY;
    let highest = -1;
    for (let i = 0; i < strings; i++) {
      const fret = frets[i];
      if (fret === null || fret === undefined) continue;
      sounding += 1;
      const note = fret === 0 ? open[i]! : stopped[i]! + fret;
      lowest = Math.min(lowest, note);
      highest = Math.max(highest, note);
    }
    if (sounding < minStrings || sounding > maxStrings) return;
    if (!anyBass && mod12(lowest) !== bass) return;
    if (topNote !== undefined && highest !== topNote) return;
    const best = bestFingering(frets, setup, hand, wishes);
    if (!best) return;
    const unusual = usual?.effort(frets);
    const silent = SILENT * (wishes.plucked ?? []).filter(string => frets[string - 1] === null).length;
    const rings = wishes.chopped ? RINGS_ON * frets.filter(fret => fret === 0).length : 0;
    const held = withBarreStrength(best.effort, best.grip, setup, hand);
    const effort = {
      ...held,
      ...(unusual && { unusual }),
      ...(silent && { silent }),
      ...(rings && { rings }),
    };
    shapes.push({
      frets: [...frets],
      grip: best.grip,
      effort,
      cost: totalEffort(effort),
      ...(unusual === 0 && { usual: true }),
    });
  };

  /**
   * Walks from the thickest string to the thinnest, keeping to frets `low`…`high` with at least one at `low`.
   *
   * @param missing pitch classes that must still sound, a bit each: no more than there are strings left
   * @param pending silent strings since the last sounding one: they are inner ones once a thinner string sounds
   * @param lowGroups fingers needed at least at `low`: one, or more where an open string parts the notes there
   * @param above fingers needed at least above it: neighbouring strings at one fret may share one
   */
  const walk = (
    index: number,
    low: number,
    high: number,
    missing: number,
    started: boolean,
    inner: number,
    pending: number,
    lowGroups: number,
    parted: boolean,
    above: number,
  ) => {
    if (bitCount(missing) > index + 1) return;
    if (index < 0) {
      if (lowGroups > 0 || low === 0) finish();
      return;
    }
    frets[index] = null;
    if (!mustBeOpen[index] && (started || index >= minStrings))
      walk(
        index - 1,
        low,
        high,
        missing,
        started,
        inner,
        started ? pending + 1 : 0,
        lowGroups,
        parted,
        above,
      );
    const innerNow = started ? inner + pending : 0;
    if (innerNow > maxInnerMutes) return;
    const here = started ? sounds[index]! : begins[index]!;
    if (here[0]) {
      frets[index] = 0;
      const left = missing & ~here[0];
      walk(index - 1, low, high, left, true, innerNow, 0, lowGroups, lowGroups > 0, above);
    }
    if (low > 0 && !mustBeOpen[index]) {
      const thicker = index + 1 < strings ? frets[index + 1] : null;
      for (let fret = low; fret <= high; fret++) {
        const bit = here[fret]!;
        if (!bit) continue;
        const groups = fret > low ? lowGroups : lowGroups === 0 || parted ? lowGroups + 1 : lowGroups;
        const others = fret > low && fret !== thicker ? above + 1 : above;
        // Four fingers; one of them must at least come down at `low`.
        if (Math.max(1, groups) + others > fingers) continue;
        frets[index] = fret;
        const left = missing & ~bit;
        walk(index - 1, low, high, left, true, innerNow, 0, groups, fret === low ? false : parted, others);
      }
    }
    frets[index] = null;
  };

  walk(strings - 1, 0, 0, required, false, 0, 0, 0, false, 0);
  const reach = reachBetween(hand, 1, 4).limit;
  for (let low = minFret; low <= maxFret; low++) {
    const high = Math.min(maxFret, windowTop(setup, reach, low));
    walk(strings - 1, low, high, required, false, 0, 0, 0, false, 0);
  }
  if (wishes.maxInnerMutes === undefined)
    for (const shape of usual?.shapes ?? []) {
      if (!dutiesOf(shape).includes('muted')) continue;
      const fits = shape.every((fret, i) =>
        mustBeOpen[i] ? fret === 0 : !fret || (fret >= minFret && fret <= maxFret),
      );
      if (!fits) continue;
      frets.splice(0, strings, ...shape);
      finish();
    }
  shapes.sort((a, b) => a.cost - b.cost || shapeText(a.frets).localeCompare(shapeText(b.frets)));
  return wishes.limit ? shapes.slice(0, wishes.limit) : shapes;
}

/**
 * A shape given by its text, in its easiest fingering; undefined when the text is none or the hand can't hold it.
 *
 * @param wishes left aside where the hand can't hold it under them
 * @example chosenShape('x32010', setup, hand)?.frets // [0, 1, 0, 2, 3, null]
 */
export function chosenShape(
  text: string,
  setup: Setup,
  hand: Hand,
  wishes: FingeringWishes = {},
): Shape | undefined {
  const frets = parseShapeText(text, setup);
  if ('error' in frets || frets.every(fret => fret === null)) return undefined;
  const best = bestFingering(frets, setup, hand, wishes) ?? bestFingering(frets, setup, hand, {});
  if (!best) return undefined;
  const effort = withBarreStrength(best.effort, best.grip, setup, hand);
  return { frets, grip: best.grip, effort, cost: totalEffort(effort) };
}
