/** From times as they were played to note values: the grid that fits, and triplets where they are. */
import { TICKS_PER_QUARTER } from '../../time';
import { lastAtOrBefore } from '../../timeline';
import type { Bar } from './bars';

/** The shortest straight note that is written. */
export const MIDI_GRIDS = ['eighth', '16th', '32nd'] as const;
export type MidiGrid = (typeof MIDI_GRIDS)[number];

const STEP: Record<MidiGrid, number> = {
  eighth: TICKS_PER_QUARTER / 2,
  '16th': TICKS_PER_QUARTER / 4,
  '32nd': TICKS_PER_QUARTER / 8,
};

/** A stretch of time that is divided in two, or in three throughout. */
export interface Span {
  begins: number;
  ends: number;
  three: boolean;
}

/** A stretch is heard in three where that fits so much better than in two (judgement). */
const CLEARLY = 0.6;
/** Beginnings may lie so far beside a grid on average, as a part of a quarter, for it to be taken (judgement). */
const NEAR = 0.06;

/**
 * The beats of a file, in stretches of one length that are counted from each bar: after a pickup of an eighth, and in 7/8,
 * they do not lie where quarters of the file do.
 */
export class Beats {
  /** Where counting begins anew, apart from the beats before it. */
  private readonly anchors: number[] = [];

  /** @param bars in order, one at least */
  constructor(
    bars: readonly Bar[],
    readonly length: number,
  ) {
    for (const [index, { from, ticks, short }] of bars.entries()) {
      // A pickup is the end of a measure.
      const begins = short && index === 0 ? from + (ticks % length) - length : from;
      const before = this.anchors.at(-1);
      if (before === undefined || (begins - before) % length) this.anchors.push(begins);
    }
  }

  /** Where the stretch begins that a time lies in. */
  beginOf(time: number): number {
    const anchor = this.anchors[lastAtOrBefore(this.anchors, time)]!;
    return anchor + Math.floor((time - anchor) / this.length) * this.length;
  }

  /** Where a stretch ends that begins at a time: before a bar it may be cut short. */
  endOf(begins: number): number {
    return Math.min(
      begins + this.length,
      this.anchors[lastAtOrBefore(this.anchors, begins) + 1] ?? Number.POSITIVE_INFINITY,
    );
  }
}

/** What lies no further beside a grid lies on it: files count in ticks of their own. */
export const EXACT = TICKS_PER_QUARTER / 100;

/**
 * Where beginnings and ends go, stretch by stretch: quarter by quarter, in a compound meter eighth by eighth. Three notes
 * over two quarters make one stretch of those.
 */
export class Raster {
  /** By the beginning of their first stretch. */
  private readonly inThree = new Map<number, Span>();
  readonly step: number;
  private readonly beats: Beats;
  /** The shortest note of a triplet. */
  private readonly triplet: number;

  /**
   * @param starts times at which notes begin, in ticks
   * @param triplets whether stretches may be divided in three at all
   * @param compound whether beats are of three eighths by themselves
   * @param bars from which stretches are counted
   */
  constructor(
    starts: readonly number[],
    grid: MidiGrid,
    triplets: boolean,
    compound: boolean,
    bars: readonly Bar[],
  ) {
    this.step = STEP[grid];
    const stretch = compound ? TICKS_PER_QUARTER / 2 : TICKS_PER_QUARTER;
    this.beats = new Beats(bars, stretch);
    this.triplet = stretch / (compound || grid === 'eighth' ? 3 : 6);
    if (!triplets) return;
    const byStretch = new Map<number, number[]>();
    for (const start of starts) {
      const own = this.stretchOf(start);
      byStretch.set(own, [...(byStretch.get(own) ?? []), start]);
    }
    for (const [begins, own] of byStretch) {
      const ends = this.beats.endOf(begins);
      if (ends - begins < stretch) continue;
      const away = (step: number) =>
        own.reduce((sum, start) => sum + Math.abs(start - nearest(start, begins, step)), 0);
      const straight = away(this.step);
      // Of an eighth all three must be there: one that is late makes no triplet.
      if (compound && own.length < 3) continue;
      if (straight > own.length * this.step * 0.05 && away(this.triplet) < straight * CLEARLY)
        this.inThree.set(begins, { begins, ends, three: true });
    }
    if (!compound) this.joinWide(byStretch);
  }

  /** Joins two quarters over which three notes are spread evenly. */
  private joinWide(starts: ReadonlyMap<number, readonly number[]>): void {
    const third = (2 * this.beats.length) / 3;
    for (const begins of [...this.inThree.keys()].sort((a, b) => a - b)) {
      const first = this.inThree.get(begins);
      const second = first && this.inThree.get(first.ends);
      if (!first || !second || first.ends - first.begins > this.beats.length) continue;
      const thirds = [...starts.get(begins)!, ...starts.get(first.ends)!].map(start =>
        Math.round(((nearest(start, begins, this.triplet) - begins) / third) * 6),
      );
      if (thirds.join() !== '0,6,12') continue;
      this.inThree.set(first.ends, first);
      first.ends = second.ends;
    }
  }

  /** A beginning a little before a stretch belongs to it. */
  private stretchOf(time: number): number {
    return this.beats.beginOf(time + this.step / 2);
  }

  /** The stretch in which a time lies. */
  spanAt(time: number): Span {
    const begins = this.beats.beginOf(time);
    return this.inThree.get(begins) ?? { begins, ends: this.beats.endOf(begins), three: false };
  }

  round(time: number): number {
    return nearest(time, this.stretchOf(time), this.shortest(time));
  }

  /** The shortest note that is written at a time. */
  shortest(time: number): number {
    return this.inThree.has(this.stretchOf(time)) ? this.triplet : this.step;
  }
}

/** The nearest of the places that lie a step apart, counted from one of them. */
const nearest = (time: number, from: number, step: number): number =>
  from + Math.round((time - from) / step) * step;

/**
 * The coarsest grid on which all lies as it was written by a program; where none is, the coarsest on which nothing that
 * was played one after the other falls together, and all lies near.
 */
export function gridFor(
  starts: readonly number[],
  triplets: boolean,
  compound: boolean,
  bars: readonly Bar[],
): MidiGrid {
  const distinct = [...new Set(starts)].sort((a, b) => a - b);
  const placed = MIDI_GRIDS.map(grid => {
    const raster = new Raster(distinct, grid, triplets, compound, bars);
    return { grid, at: distinct.map(start => raster.round(start)) };
  });
  const exact = placed.find(({ at }) => distinct.every((start, i) => Math.abs(start - at[i]!) <= EXACT));
  const near = placed.find(({ at }) => {
    const apart = distinct.every(
      (start, i) => i === 0 || at[i] !== at[i - 1] || start - distinct[i - 1]! < TICKS_PER_QUARTER / 20,
    );
    const away = distinct.reduce((sum, start, i) => sum + Math.abs(start - at[i]!), 0) / distinct.length;
    return apart && away <= NEAR * TICKS_PER_QUARTER;
  });
  return (exact ?? near)?.grid ?? '32nd';
}
