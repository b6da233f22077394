/** From times as they were played to note values: the grid that fits, triplets beat by beat. */
import { TICKS_PER_QUARTER } from '../../time';

/** The shortest straight note that is written. */
export const MIDI_GRIDS = ['eighth', '16th', '32nd'] as const;
export type MidiGrid = (typeof MIDI_GRIDS)[number];

const STEP: Record<MidiGrid, number> = {
  eighth: TICKS_PER_QUARTER / 2,
  '16th': TICKS_PER_QUARTER / 4,
  '32nd': TICKS_PER_QUARTER / 8,
};
/** The shortest note of a triplet beside it. */
const TRIPLET_STEP: Record<MidiGrid, number> = {
  eighth: TICKS_PER_QUARTER / 3,
  '16th': TICKS_PER_QUARTER / 6,
  '32nd': TICKS_PER_QUARTER / 6,
};

/** A beat is heard in three where that fits so much better than in two (judgement). */
const CLEARLY = 0.6;
/** Beginnings may lie so far beside a grid on average, as a part of a quarter, for it to be taken (judgement). */
const NEAR = 0.06;

/** Where beginnings and ends go, beat by beat. */
export class Raster {
  private readonly inThree = new Set<number>();
  readonly step: number;
  private readonly triplet: number;

  /**
   * @param starts times at which notes begin, in ticks
   * @param triplets whether beats may be divided in three at all: in compound meters they are by themselves
   */
  constructor(starts: readonly number[], grid: MidiGrid, triplets: boolean) {
    this.step = STEP[grid];
    this.triplet = TRIPLET_STEP[grid];
    if (!triplets) return;
    const byBeat = new Map<number, number[]>();
    for (const start of starts) {
      // A beginning a little before a beat belongs to it.
      const beat = Math.floor((start + this.step / 2) / TICKS_PER_QUARTER);
      byBeat.set(beat, [...(byBeat.get(beat) ?? []), start]);
    }
    for (const [beat, own] of byBeat) {
      const away = (step: number) =>
        own.reduce((sum, start) => sum + Math.abs(start - Math.round(start / step) * step), 0);
      const straight = away(this.step);
      if (straight > own.length * this.step * 0.05 && away(this.triplet) < straight * CLEARLY)
        this.inThree.add(beat);
    }
  }

  /** Whether the beat (from 0) is divided in three. */
  three(beat: number): boolean {
    return this.inThree.has(beat);
  }

  private stepAt(time: number): number {
    return this.inThree.has(Math.floor((time + this.step / 2) / TICKS_PER_QUARTER))
      ? this.triplet
      : this.step;
  }

  round(time: number): number {
    const step = this.stepAt(time);
    return Math.round(time / step) * step;
  }

  /** The shortest note that is written at a time. */
  shortest(time: number): number {
    return this.stepAt(time);
  }
}

/** The coarsest grid on which nothing that was played one after the other falls together, and all lies near. */
export function gridFor(starts: readonly number[], triplets: boolean): MidiGrid {
  const distinct = [...new Set(starts)].sort((a, b) => a - b);
  for (const grid of MIDI_GRIDS) {
    const raster = new Raster(distinct, grid, triplets);
    const placed = distinct.map(start => raster.round(start));
    const apart = distinct.every(
      (start, i) =>
        i === 0 || placed[i] !== placed[i - 1] || start - distinct[i - 1]! < TICKS_PER_QUARTER / 20,
    );
    const away = distinct.reduce((sum, start, i) => sum + Math.abs(start - placed[i]!), 0) / distinct.length;
    if (apart && away <= NEAR * TICKS_PER_QUARTER) return grid;
  }
  return '32nd';
}
