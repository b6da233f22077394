/** When what stands in a measure is struck: told by letters, by counts, or by how it is spaced. */
import { countSyllable, isCompound, type Meter, pulseTicks, TICKS_PER_WHOLE } from '../../time';
import { lengthOf } from '../lengths';
import type { Beside } from './lines';

/** Words of a line with their columns, from 0. */
export function wordsOf({ text }: Pick<Beside, 'text'>): { text: string; column: number }[] {
  return [...text.matchAll(/\S+/g)].map(match => ({ text: match[0], column: match.index }));
}

/** Whether a line holds letters of lengths and nothing else. */
export function isLengths(line: Beside): boolean {
  const words = wordsOf(line).filter(word => word.text !== '|');
  return words.length > 0 && words.every(word => lengthOf(word.text));
}

/** Whether a line counts: "1 & 2 e & a 3". */
export function isCount(line: Beside): boolean {
  const words = wordsOf(line).filter(word => word.text !== '|');
  return (
    words.length > 1 &&
    words.some(w => w.text === '1') &&
    words.every(w => /^(\d{1,2}|&|\+|and|e|a|trip|let|[.,-])$/.test(w.text))
  );
}

/** Where in a measure counted words lie, in ticks; undefined for those that are not counted in this meter. */
export function countTicks(words: readonly string[], meter: Meter): (number | undefined)[] {
  const step = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  let beat = 0;
  return words.map(word => {
    if (/^\d+$/.test(word)) {
      beat = (Number(word) - 1) * step;
      return beat;
    }
    const said = word === '+' || word === 'and' ? '&' : word;
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
const TOLERANCE = 0.5;

/** Onsets by spacing. */
export interface Spaced {
  ticks: number[];
  /** Parts of a beat that were taken. */
  division: number;
  /** Whether they lie just on them. */
  exact: boolean;
}

/**
 * Where in a measure columns lie when its length is spread evenly over its width.
 *
 * @param columns of what is struck, from the place of the first beat
 * @param width from there to the bar
 */
export function spaced(columns: readonly number[], width: number, meter: Meter, ticks: number): Spaced {
  const unit = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  let best: (Spaced & { error: number }) | undefined;
  for (const division of isCompound(meter) ? COMPOUND_DIVISIONS : DIVISIONS) {
    const slots = Math.round((ticks / unit) * division);
    const step = width / slots;
    const places = columns.map(column => Math.round(column / step));
    if (new Set(places).size < places.length || places.some(place => place >= slots)) continue;
    const error = Math.max(0, ...columns.map((column, i) => Math.abs(column - places[i]! * step)));
    const exact = error <= TOLERANCE;
    const found = { ticks: places.map(place => (place * unit) / division), division, exact, error };
    if (exact) return found;
    if (!best || error < best.error - 0.25) best = found;
  }
  if (best) return best;
  // So many that no usual division holds them: one after the other.
  const each = ticks / Math.max(1, columns.length);
  return { ticks: columns.map((_, i) => Math.floor(i * each)), division: 0, exact: false };
}
