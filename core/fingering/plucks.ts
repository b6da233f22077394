/**
 * The right-hand solver: who plucks each note, by school, as an optimum path over every way that the school allows.
 * The efforts are judgement, set by common practice.
 */

import { bestPath } from '../path';
import { type ArrangeSettings, isStruck, type Pluck, type ScoreMeasure, type ScoreNote } from '../score';
import { isCompound, pulseTicks, TICKS_PER_WHOLE, ticksToSeconds } from '../time';

type Measure = Pick<ScoreMeasure, 'meter' | 'offset' | 'ticks' | 'notes'>;
type PluckChoice = Pick<ArrangeSettings, 'school' | 'jig'>;

/** What the plucking hand strikes at one moment. */
export interface PluckMoment {
  /** Thinnest string first. */
  notes: ScoreNote[];
  /** Index of its measure. */
  measure: number;
  /** Since the moment before; Infinity for the first one. */
  seconds: number;
  /** Where a pick goes at this place of the measure. */
  stroke: 'down' | 'up';
  /** Plucks that are settled: strums of a pattern, and what stays as it is. */
  settled?: Pluck[];
}

/** One way to pluck a moment, note by note, and its effort. */
export interface PluckWay {
  plucks: Pluck[];
  cost: number;
}

/** Fingers from the thumb outwards; a pick has no place among them. */
const DIGITS = ['p', 'i', 'm', 'a'] as const;
type Digit = (typeof DIGITS)[number];
const rank = (pluck: Pluck) => DIGITS.indexOf(pluck as Digit);

/** Fingers that a school plucks with, beside the pick. */
const SCHOOL_DIGITS: Record<ArrangeSettings['school'], readonly Digit[]> = {
  'by-string': DIGITS,
  'thumb-index': ['p', 'i'],
  'thumb-two': ['p', 'i', 'm'],
  pick: [],
  'pick-fingers': ['m', 'a'],
};

/** Effort of a finger on a string that is no bass note; strings from 4 on count alike. */
const ON_STRING: Record<'thumb-index' | 'thumb-two', Partial<Record<Digit, number[]>>> = {
  // The thumb reaches down to string 3 by itself.
  'thumb-index': { p: [2.5, 1.5, 0.1, 0], i: [0, 0, 0.4, 2] },
  'thumb-two': { p: [2.5, 1.5, 0.6, 0], i: [0.3, 0, 0, 0.6], m: [0, 0.2, 0.6, 1.2] },
};
/** Ring finger string 1, middle 2, index 3, thumb the thicker ones (common practice); a string further costs so much. */
const FROM_HOME = 0.6;
/** A finger that brushes over one more string: a school of thumb and index does it often, the others seldom. */
const BRUSH: Record<ArrangeSettings['school'], number> = {
  // Four strings at once are thumb and three fingers: one that takes two is for five and more.
  'by-string': 30,
  'thumb-index': 0.2,
  'thumb-two': 1.5,
  pick: 0,
  'pick-fingers': 1,
};

function digitCost(school: ArrangeSettings['school'], digit: Digit, note: ScoreNote): number {
  if (note.role === 'bass') return 3 * rank(digit);
  if (school === 'thumb-index' || school === 'thumb-two')
    return ON_STRING[school][digit]?.[Math.min(3, note.string - 1)] ?? 3;
  const home = Math.max(0, 4 - note.string);
  return FROM_HOME * Math.abs(rank(digit) - home) + (digit === 'p' && note.string < 4 ? 1.5 : 0);
}

/** Every way in which a school may pluck a moment: the fingers lie as the strings do, and none crosses another. */
export function pluckWays(moment: PluckMoment, { school }: PluckChoice): PluckWay[] {
  const { notes, stroke } = moment;
  if (moment.settled) return [{ plucks: moment.settled, cost: 0 }];
  const digits = SCHOOL_DIGITS[school];
  const ways: PluckWay[] = [];
  const plucks: Pluck[] = new Array(notes.length);
  // From the thick side to the thin one.
  const deal = (index: number, lowest: number, cost: number) => {
    if (index < 0) {
      ways.push({ plucks: [...plucks], cost });
      return;
    }
    const note = notes[index]!;
    for (let d = lowest; d < digits.length; d++) {
      const digit = digits[d]!;
      const again = index + 1 < notes.length && plucks[index + 1] === digit;
      if (again && notes[index + 1]!.string !== note.string + 1) continue;
      plucks[index] = digit;
      deal(index - 1, d, cost + digitCost(school, digit, note) + (again ? BRUSH[school] : 0));
    }
  };
  if (school === 'pick') ways.push({ plucks: notes.map(() => stroke), cost: 0 });
  else if (school === 'pick-fingers') {
    // The pick takes the thickest string, the fingers what lies above it.
    plucks[notes.length - 1] = stroke;
    deal(notes.length - 2, 0, 0);
  } else deal(notes.length - 1, 0, 0);
  const free = ways.filter(way =>
    notes.every((note, i) => !note.pluckPinned || way.plucks[i] === note.pluck),
  );
  if (free.length) return free;
  // What was set by hand stays, also where the school would never have it.
  const base = ways.length ? ways : [{ plucks: notes.map((): Pluck => stroke), cost: 0 }];
  return base.map(way => ({
    ...way,
    plucks: way.plucks.map((pluck, i) => (notes[i]!.pluckPinned && notes[i]!.pluck) || pluck),
  }));
}

/** Seconds from which on a finger is ready again without haste: an index or middle finger, and the thumb. Judgement. */
export const READY_AGAIN = { finger: 0.35, thumb: 0.25 };
/** Seconds to the next note of the melody, or from the last, within which a finger must be left free to pluck it. Judgement. */
export const QUICK = 0.2;
const EFFORT = { again: 4, crossing: 0.5, thumbCrossing: 1 };

/** Effort of one way after another: the same finger again in haste, fingers that cross over each other. */
export function pluckChange(before: PluckMoment, from: PluckWay, after: PluckMoment, to: PluckWay): number {
  const { seconds } = after;
  if (seconds >= READY_AGAIN.finger) return 0;
  let cost = 0;
  for (const digit of DIGITS) {
    const ready = digit === 'p' ? READY_AGAIN.thumb : READY_AGAIN.finger;
    if (seconds < ready && from.plucks.includes(digit) && to.plucks.includes(digit))
      cost += (EFFORT.again * (ready - seconds)) / ready;
  }
  for (const [i, a] of from.plucks.entries()) {
    for (const [j, b] of to.plucks.entries()) {
      if (rank(a) < 0 || rank(b) < 0 || a === b) continue;
      const away = before.notes[i]!.string - after.notes[j]!.string;
      // The finger nearer the thumb belongs on the thicker string.
      const crosses = rank(a) < rank(b) ? away < 0 : away > 0;
      if (crosses) cost += a === 'p' || b === 'p' ? EFFORT.thumbCrossing : EFFORT.crossing;
    }
  }
  return cost;
}

/**
 * The moments at which something is plucked, in written order.
 *
 * @param stays measures whose plucks are left as they are
 */
export function pluckMoments(
  measures: readonly Measure[],
  { jig }: PluckChoice,
  quartersPerMinute: number,
  stays: (measure: number) => boolean = () => false,
): PluckMoment[] {
  const moments: PluckMoment[] = [];
  let start = 0;
  let last: number | undefined;
  for (const [index, measure] of measures.entries()) {
    const byStart = new Map<number, ScoreNote[]>();
    let inTuplet: { group: number; stroke: 'down' | 'up' } | undefined;
    for (const note of measure.notes)
      if (isStruck(note)) byStart.set(note.start, [...(byStart.get(note.start) ?? []), note]);
    for (const [at, notes] of [...byStart].sort((a, b) => a[0] - b[0])) {
      notes.sort((a, b) => a.string - b.string);
      const seconds =
        last === undefined ? Number.POSITIVE_INFINITY : ticksToSeconds(start + at - last, quartersPerMinute);
      last = start + at;
      const tuplet = notes.find(note => note.tuplets)?.tuplets?.[0];
      // A tuplet lies between the strokes of the beat: it goes to and fro from where it begins.
      const goesOn = tuplet && inTuplet?.group === tuplet.group;
      const stroke = !goesOn ? pickStroke(measure, at, jig) : inTuplet!.stroke === 'down' ? 'up' : 'down';
      inTuplet = tuplet && { group: tuplet.group, stroke };
      const moment: PluckMoment = { notes, measure: index, seconds, stroke };
      const known = notes.every(note => note.pluck !== undefined);
      if (known && (stays(index) || isStrummed(notes))) moment.settled = notes.map(note => note.pluck!);
      moments.push(moment);
    }
    start += measure.ticks;
  }
  return moments;
}

/** A strum has its stroke from the pattern: one direction for all of it, and no melody. */
function isStrummed(notes: readonly ScoreNote[]): boolean {
  const stroke = notes[0]!.pluck;
  return (
    notes.length > 1 &&
    (stroke === 'down' || stroke === 'up') &&
    notes.every(note => note.pluck === stroke && note.role !== 'melody')
  );
}

/**
 * Says who plucks each note, by school (common practice):
 *
 * - by-string: the thumb takes the bass, the others their home strings; where a chord asks more of one finger than it
 *   has, its notes are dealt out from the thumb up.
 * - thumb-index: the thumb takes the bass and single notes down to string 3, the index the rest, brushing two or three.
 * - thumb-two: the thumb takes the bass, index and middle finger the rest, in turn.
 * - pick: down on the beat, up off it; a jig goes down-up-down in each group of three, or strictly in turn.
 * - pick-fingers: the pick takes the thickest string, middle and ring finger those above it; single notes as by pick.
 *
 * The thumb never crosses above a finger; the same finger twice running on fast notes is avoided wherever the school
 * can. Exact: the way of least effort through all of the music. Exceptions set by hand stay.
 *
 * @param stays measures whose plucks are left as they are
 */
export function assignPlucks(
  measures: readonly Measure[],
  choice: PluckChoice,
  quartersPerMinute: number,
  stays: (measure: number) => boolean = () => false,
): void {
  for (const measure of measures) for (const note of measure.notes) if (!isStruck(note)) delete note.pluck;
  const moments = pluckMoments(measures, choice, quartersPerMinute, stays);
  const layers = moments.map(moment => pluckWays(moment, choice));
  const found = bestPath(
    layers,
    way => way.cost,
    (from, to, layer) => pluckChange(moments[layer - 1]!, from, moments[layer]!, to),
  );
  for (const [i, moment] of moments.entries()) {
    const way = layers[i]![found?.path[i] ?? 0]!;
    for (const [j, note] of moment.notes.entries()) note.pluck = way.plucks[j]!;
  }
}

/** Down on the beat, up off it, by the place in the measure. */
function pickStroke(
  measure: Pick<ScoreMeasure, 'meter' | 'offset'>,
  start: number,
  jig: ArrangeSettings['jig'],
): 'down' | 'up' {
  const place = start + measure.offset;
  if (isCompound(measure.meter)) {
    const unit = TICKS_PER_WHOLE / measure.meter.unit;
    if (jig === 'alternate') return Math.floor(place / unit) % 2 === 0 && place % unit === 0 ? 'down' : 'up';
    const inGroup = place % (3 * unit);
    if (inGroup % unit !== 0) return 'up';
    return inGroup / unit === 1 ? 'up' : 'down';
  }
  // Alternate strokes follow the eighths, whatever note the meter counts in.
  const eighth = Math.min(pulseTicks(measure.meter), TICKS_PER_WHOLE / 4) / 2;
  const step = place / eighth;
  if (!Number.isInteger(step))
    return place % (eighth / 2) === 0 && (place / (eighth / 2)) % 2 === 0 ? 'down' : 'up';
  return step % 2 === 0 ? 'down' : 'up';
}
