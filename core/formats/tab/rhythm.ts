/** When what stands in a measure is struck: told by letters, by counts, or by how it is spaced. */
import {
  countSyllable,
  isCompound,
  type Meter,
  measureTicks,
  pulseTicks,
  TICKS_PER_QUARTER,
  TICKS_PER_WHOLE,
} from '../../time';
import { greatestDivisor } from '../divisor';

/** Where in a measure counted words lie, in ticks; undefined for those that are not counted in this meter. */
export function countTicks(words: readonly string[], meter: Meter): (number | undefined)[] {
  const step = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  let beat = 0;
  return words.map(word => {
    if (/^\d+$/.test(word)) {
      beat = (Number(word) - 1) * step;
      return beat;
    }
    const said = ['+', 'and', 'n'].includes(word) ? '&' : word;
    for (let part = 1; part < 12; part++) {
      const tick = beat + (part * step) / 12;
      if (countSyllable(meter, tick) === said) return tick;
    }
    return undefined;
  });
}

/** Parts of a beat that spacing may mean, the plainest first; in compound meters of an eighth. */
const DIVISIONS = [1, 2, 4, 3];
const COMPOUND_DIVISIONS = [1, 2, 4];
/** How far from its place, in columns, a number may stand. */
export const TOLERANCE = 0.5;

/** Onsets by spacing. */
export interface Spaced {
  ticks: number[];
  /** Parts of a beat that were taken. */
  division: number;
  /** Whether they lie just on them. */
  exact: boolean;
  /** How far from it the worst of them stands, in columns. */
  error: number;
}

/**
 * Where in a measure columns lie when its length is spread evenly over its width.
 *
 * @param columns of what is struck, from the place of the first beat
 * @param width from there to the bar
 */
export function spaced(columns: readonly number[], width: number, meter: Meter, ticks: number): Spaced {
  const unit = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  let best: Spaced | undefined;
  for (const division of isCompound(meter) ? COMPOUND_DIVISIONS : DIVISIONS) {
    const slots = Math.round((ticks / unit) * division);
    const step = width / slots;
    const places = columns.map(column => Math.round(column / step));
    if (new Set(places).size < places.length || places.some(place => place >= slots)) continue;
    const error = Math.max(0, ...columns.map((column, i) => Math.abs(column - places[i]! * step)));
    // Where places are nearer than columns, every column lies on one.
    const exact = step >= 1 && error <= Math.min(TOLERANCE, step / 3);
    const found = { ticks: places.map(place => (place * unit) / division), division, exact, error };
    if (exact) return found;
    // Triplets that are not exact are rather something else.
    if (division === 3) continue;
    if (!best || error < best.error - 0.25) best = found;
  }
  if (best) return best;
  // So many that no usual division holds them: one after the other.
  const each = ticks / Math.max(1, columns.length);
  return { ticks: columns.map((_, i) => Math.floor(i * each)), division: 0, exact: false, error: each };
}

/**
 * Where columns lie that stand a like way apart, or several of it, whatever is left before the bar: dashes behind the last
 * number are filled in as it comes (common practice). Undefined where no length of the meter is about as wide.
 *
 * @param columns of what is struck, from the place of the first beat
 * @param width from there to the bar; `open` where no bar is drawn there
 */
export function evenly(
  columns: readonly number[],
  width: number,
  meter: Meter,
  { open }: { open: boolean },
): (Spaced & { width: number }) | undefined {
  const step = columns.reduce(greatestDivisor, 0);
  const last = columns.at(-1) ?? 0;
  if (columns.length < 2 || step < 2) return undefined;
  const unit = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  const beats = measureTicks(meter) / unit;
  const found = (beats % 2 ? [1, 2, 4] : [0.5, 1, 2, 4]).flatMap(division => {
    const whole = beats * division * step;
    const off = Math.abs(whole - width);
    // What fills the measure to its end does so however many dashes follow.
    const full = whole === last + step && (open || whole < width);
    return whole > last && (full || off <= step) ? [{ division, whole, off: full ? 0 : off }] : [];
  });
  const [best] = found.sort((a, b) => a.off - b.off || a.division - b.division);
  return (
    best && {
      ticks: columns.map(column => ((column / step) * unit) / best.division),
      division: best.division,
      exact: true,
      error: 0,
      width: best.whole,
    }
  );
}

/** Columns in halves of a beat, where that is how they stand in other measures; undefined where they don't all. */
export function spacedAs(columns: readonly number[], measureWidth: number, meter: Meter): Spaced | undefined {
  const unit = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  const division = isCompound(meter) ? 1 : 2;
  const slots = (measureTicks(meter) / unit) * division;
  const places = columns.map(column => (column * slots) / measureWidth);
  if (places.some(place => !Number.isInteger(place) || place >= slots)) return undefined;
  const beats = places.every(place => place % division === 0);
  return {
    ticks: places.map(place => (place * unit) / division),
    division: beats ? 1 : division,
    exact: true,
    error: 0,
  };
}

/** A place whose time in its measure is known. */
export interface Anchor {
  column: number;
  /** Ticks from the beginning of the measure. */
  tick: number;
}

/**
 * Where columns lie in time between counts that stand beside them; undefined where two would be struck at once.
 *
 * @param anchors in their order, the bar at the end among them
 */
export function countedTicks(
  columns: readonly number[],
  anchors: readonly Anchor[],
): { ticks: number[]; between: boolean } | undefined {
  const ticks: number[] = [];
  let between = false;
  for (const column of columns) {
    const last = ticks.at(-1) ?? -1;
    const [own] = anchors
      .slice(0, -1)
      .filter(anchor => Math.abs(anchor.column - column) <= 1 && anchor.tick > last)
      .sort((a, b) => Math.abs(a.column - column) - Math.abs(b.column - column));
    const after = anchors.findIndex(anchor => anchor.column > column);
    const [left, right] = [anchors[after - 1], anchors[after]];
    let tick = own?.tick;
    if (tick === undefined && left && right) {
      const share = (column - left.column) / (right.column - left.column);
      const step = TICKS_PER_QUARTER / 4;
      tick = left.tick + Math.round((share * (right.tick - left.tick)) / step) * step;
      between = true;
    }
    if (tick === undefined || tick <= last || tick >= anchors.at(-1)!.tick) return undefined;
    ticks.push(tick);
  }
  return { ticks, between };
}

/** The value that is there most often; undefined where less than half of them agree. */
function usual<T>(values: readonly T[]): T | undefined {
  const counts = new Map<T, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  const [best] = [...counts].sort((a, b) => b[1] - a[1]);
  return best && best[1] * 2 >= values.length ? best[0] : undefined;
}

/**
 * The meter that is counted aloud.
 *
 * @param counts the words above each measure
 */
export function countedMeter(counts: readonly (readonly string[])[]): Meter | undefined {
  const highest = counts.flatMap(words => {
    const numbers = words.filter(word => /^\d+$/.test(word)).map(Number);
    return numbers[0] === 1 && numbers.length > 1 ? [Math.max(...numbers)] : [];
  });
  const beats = usual(highest);
  return beats === undefined || beats < 2 || beats > 12 ? undefined : { beats, unit: beats > 5 ? 8 : 4 };
}

/** Whether measures of six are rather two beats of three than three of two; undefined where nothing tells. */
function isTwoOfThree(starts: readonly (readonly number[])[]): boolean | undefined {
  let votes = 0;
  for (const own of starts) {
    const threes = own.includes(3);
    const twos = own.includes(2) || own.includes(4);
    if (threes !== twos) votes += threes ? 1 : -1;
  }
  return votes === 0 ? undefined : votes > 0;
}

/**
 * The meter that lengths in letters fill in two measures or more.
 *
 * @param bars length of each measure, and when in it something is struck, in ticks
 */
export function lengthsMeter(
  bars: readonly { ticks: number; starts: readonly number[] }[],
): Meter | undefined {
  const ticks = usual(bars.map(bar => bar.ticks));
  if (ticks === undefined || bars.length < 2) return undefined;
  const eighths = (ticks * 8) / TICKS_PER_WHOLE;
  const starts = bars
    .filter(bar => bar.ticks === ticks)
    .map(bar => bar.starts.map(start => (start * 8) / TICKS_PER_WHOLE));
  if (eighths === 6) return isTwoOfThree(starts) ? { beats: 6, unit: 8 } : { beats: 3, unit: 4 };
  if ([4, 8, 10].includes(eighths)) return { beats: eighths / 2, unit: 4 };
  return [3, 9, 12].includes(eighths) ? { beats: eighths, unit: 8 } : undefined;
}

/**
 * The meter that spacing tells where two measures and more all have three or six places of the same width.
 *
 * @param bars columns of what is struck from the first beat on, and the width of each measure
 */
export function spacedMeter(
  bars: readonly { columns: readonly number[]; width: number }[],
): Meter | undefined {
  const [first] = bars;
  if (!first || bars.length < 2 || bars.some(bar => bar.width !== first.width)) return undefined;
  const own = bars.flatMap(bar => bar.columns).reduce(greatestDivisor, 0);
  // Some dashes less or more before the bar say nothing.
  const near = own > 1 && Math.abs(Math.round(first.width / own) * own - first.width) < own / 2;
  const step = near ? own : greatestDivisor(own, first.width);
  const places = Math.round(first.width / step);
  if (bars.some(bar => bar.columns.some(column => column / step >= places))) return undefined;
  const starts = bars.map(bar => bar.columns.map(column => column / step));
  if (places === 3) return { beats: 3, unit: 4 };
  // Six even places without an accent are rather two threes than three twos where nothing else is told.
  return places === 6
    ? isTwoOfThree(starts) === false
      ? { beats: 3, unit: 4 }
      : { beats: 6, unit: 8 }
    : undefined;
}

/**
 * When strokes down and up fall that are spaced unevenly: the hand goes on at an even pace, down on the beat and up between
 * (common practice), so a second stroke the same way leaves one out. In eighths, or in sixteenths where they are too many.
 *
 * @returns ticks; undefined where neither holds them, and in compound meters, where hands differ
 */
export function pickedTicks(ways: readonly ('down' | 'up')[], meter: Meter): number[] | undefined {
  if (isCompound(meter)) return undefined;
  const slots: number[] = [];
  for (const way of ways) {
    const next = (slots.at(-1) ?? -1) + 1;
    slots.push(next % 2 === (way === 'down' ? 0 : 1) ? next : next + 1);
  }
  for (const parts of [2, 4]) {
    const step = pulseTicks(meter) / parts;
    if ((slots.at(-1) ?? 0) * step < measureTicks(meter)) return slots.map(slot => slot * step);
  }
  return undefined;
}
