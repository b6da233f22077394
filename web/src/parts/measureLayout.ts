import type { PerformedNote, ScoreMeasure } from '#core/score';
import { TICKS_PER_QUARTER } from '#core/time';

/** How chords are named: by the shape the hand makes, by what is heard with the capo, or both. */
export type ChordNames = 'shape' | 'sounding' | 'both';

/** Which lanes a measure shows. */
export interface Lanes {
  words: boolean;
  chords: ChordNames;
  plucks: boolean;
  /** Degrees of the notes in their chords. */
  degrees: boolean;
  strings: number;
}

export const STRING_GAP = 22;
const PAD = 18;

/** Heights of the lanes of a measure, top to bottom, in pixels. */
export interface LaneTops {
  head: number;
  words: number;
  chords: number;
  strings: number;
  fingers: number;
  plucks: number;
  degrees: number;
  count: number;
  height: number;
}

export function laneTops(lanes: Lanes, verses: number): LaneTops {
  const head = 14;
  const words = head + 20;
  const chords = words + (lanes.words ? 20 * verses : 0);
  const strings = chords + (lanes.chords === 'both' ? 38 : 22) + 18;
  const bottom = strings + (lanes.strings - 1) * STRING_GAP;
  const fingers = bottom + 27;
  const plucks = fingers + 33;
  const degrees = plucks + (lanes.plucks ? 20 : 0);
  const count = degrees + (lanes.degrees ? 38 : 0);
  return { head, words, chords, strings, fingers, plucks, degrees, count, height: count + 12 };
}

/** Where a tick lies in a measure of a given width: time and space go together. */
export function xAt(measure: Pick<ScoreMeasure, 'ticks'>, width: number, tick: number): number {
  return PAD + (tick / measure.ticks) * (width - PAD);
}

/** The tick of the moment nearest to a place. */
export function nearestMoment(measure: ScoreMeasure, width: number, x: number): number {
  let best = 0;
  let distance = Number.POSITIVE_INFINITY;
  for (const note of measure.notes) {
    const d = Math.abs(xAt(measure, width, note.start) - x);
    if (d < distance) {
      distance = d;
      best = note.start;
    }
  }
  return best;
}

/** Least width at which the closest two moments of a measure can be told apart. */
function leastWidth(measure: ScoreMeasure): number {
  const starts = [...new Set(measure.notes.map(n => n.start))].sort((a, b) => a - b);
  let gap = measure.ticks;
  for (const [i, start] of starts.entries()) gap = Math.min(gap, (starts[i + 1] ?? measure.ticks) - start);
  const perTick = Math.max(20 / Math.max(gap, TICKS_PER_QUARTER / 8), 34 / TICKS_PER_QUARTER);
  return Math.max(70, PAD * 2 + measure.ticks * perTick);
}

export interface Row {
  from: number;
  widths: number[];
}

/** Breaks measures into rows that fill a width; a new section begins a new row. */
export function rowsOf(
  measures: readonly ScoreMeasure[],
  indexes: readonly number[],
  sectionStarts: ReadonlySet<number>,
  width: number,
): Row[] {
  const rows: Row[] = [];
  let widths: number[] = [];
  let from = 0;
  let used = 0;
  const close = (next: number, full: boolean) => {
    if (!widths.length) return;
    // A full row is stretched to the edge; the last of a section only as far as stays pleasant.
    const scale = full ? width / used : Math.min(width / used, 1.35);
    rows.push({ from, widths: widths.map(w => w * scale) });
    widths = [];
    used = 0;
    from = next;
  };
  for (const [place, index] of indexes.entries()) {
    const least = Math.min(leastWidth(measures[index]!), width);
    if (widths.length && (used + least > width || sectionStarts.has(index)))
      close(place, used + least > width);
    widths.push(least);
    used += least;
  }
  close(indexes.length, false);
  return rows;
}

/** A line behind a string for as long as a note sounds in one measure; ticks of that measure. */
export interface RingTail {
  string: number;
  from: number;
  to: number;
  /** Sounds over from the measure before, or on into the next one. */
  comesOver: boolean;
  goesOn: boolean;
}

/** Cuts the ring of every note at the barlines. One list a written measure, as heard in written order. */
export function ringTails(
  measures: readonly ScoreMeasure[],
  performed: readonly PerformedNote[],
): RingTail[][] {
  const starts: number[] = [0];
  for (const measure of measures) starts.push(starts[starts.length - 1]! + measure.ticks);
  const tails: RingTail[][] = measures.map(() => []);
  for (const note of performed) {
    if (note.note.dead) continue;
    for (let m = note.measure; m < measures.length && starts[m]! < note.ringEnd; m++) {
      tails[m]!.push({
        string: note.note.string,
        from: Math.max(0, note.at - starts[m]!),
        to: Math.min(measures[m]!.ticks, note.ringEnd - starts[m]!),
        comesOver: note.at < starts[m]!,
        goesOn: m + 1 < measures.length && note.ringEnd > starts[m + 1]!,
      });
    }
  }
  return tails;
}
