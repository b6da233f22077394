/** From times as they were played to note values: the grid that fits, and triplets where they are. */
import { TICKS_PER_QUARTER } from '../../time';

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

/** What lies no further beside a grid lies on it: files count in ticks of their own. */
export const EXACT = TICKS_PER_QUARTER / 100;

/**
 * Where beginnings and ends go, stretch by stretch: quarter by quarter, in a compound meter eighth by eighth. Three notes
 * over two quarters make one stretch of those.
 */
export class Raster {
  private readonly inThree = new Map<number, Span>();
  readonly step: number;
  private readonly stretch: number;
  /** The shortest note of a triplet. */
  private readonly triplet: number;

  /**
   * @param starts times at which notes begin, in ticks
   * @param triplets whether stretches may be divided in three at all
   * @param compound whether beats are of three eighths by themselves
   */
  constructor(starts: readonly number[], grid: MidiGrid, triplets: boolean, compound = false) {
    this.step = STEP[grid];
    this.stretch = compound ? TICKS_PER_QUARTER / 2 : TICKS_PER_QUARTER;
    this.triplet = this.stretch / (compound || grid === 'eighth' ? 3 : 6);
    if (!triplets) return;
    const byStretch = new Map<number, number[]>();
    for (const start of starts) {
      const own = this.indexOf(start);
      byStretch.set(own, [...(byStretch.get(own) ?? []), start]);
    }
    for (const [index, own] of byStretch) {
      const away = (step: number) =>
        own.reduce((sum, start) => sum + Math.abs(start - Math.round(start / step) * step), 0);
      const straight = away(this.step);
      // Of an eighth all three must be there: one that is late makes no triplet.
      if (compound && own.length < 3) continue;
      if (straight > own.length * this.step * 0.05 && away(this.triplet) < straight * CLEARLY)
        this.inThree.set(index, {
          begins: index * this.stretch,
          ends: (index + 1) * this.stretch,
          three: true,
        });
    }
    if (!compound) this.joinWide(byStretch);
  }

  /** Joins two quarters over which three notes are spread evenly. */
  private joinWide(starts: ReadonlyMap<number, readonly number[]>): void {
    const third = (2 * this.stretch) / 3;
    for (const index of [...this.inThree.keys()].sort((a, b) => a - b)) {
      const [first, second] = [this.inThree.get(index), this.inThree.get(index + 1)];
      if (!first || !second || first.ends - first.begins > this.stretch) continue;
      const thirds = [...starts.get(index)!, ...starts.get(index + 1)!].map(start =>
        Math.round(((Math.round(start / this.triplet) * this.triplet - first.begins) / third) * 6),
      );
      if (thirds.join() !== '0,6,12') continue;
      first.ends = second.ends;
      this.inThree.set(index + 1, first);
    }
  }

  /** A beginning a little before a stretch belongs to it. */
  private indexOf(time: number): number {
    return Math.floor((time + this.step / 2) / this.stretch);
  }

  /** The stretch in which a time lies. */
  spanAt(time: number): Span {
    const index = Math.floor(time / this.stretch);
    const begins = index * this.stretch;
    return this.inThree.get(index) ?? { begins, ends: begins + this.stretch, three: false };
  }

  round(time: number): number {
    const step = this.shortest(time);
    return Math.round(time / step) * step;
  }

  /** The shortest note that is written at a time. */
  shortest(time: number): number {
    return this.inThree.has(this.indexOf(time)) ? this.triplet : this.step;
  }
}

/**
 * The coarsest grid on which all lies as it was written by a program; where none is, the coarsest on which nothing that
 * was played one after the other falls together, and all lies near.
 */
export function gridFor(starts: readonly number[], triplets: boolean, compound: boolean): MidiGrid {
  const distinct = [...new Set(starts)].sort((a, b) => a - b);
  const placed = MIDI_GRIDS.map(grid => {
    const raster = new Raster(distinct, grid, triplets, compound);
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
