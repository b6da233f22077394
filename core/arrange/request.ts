/** What is asked of the arranger, and what it answers. */
import type { ProgressionWishes } from '../capo';
import type { Hand } from '../hand';
import type { InstrumentId, Setup } from '../instrument';
import type { Arrangement, ArrangeSettings, Style } from '../score';
import type { Keep } from './kept/keep';

export interface ArrangeRequest {
  id: string;
  instrument: InstrumentId;
  style: Style;
  /** Fret of the capo, or 'auto' for the best one. */
  capo: number | 'auto';
  hand?: Hand;
  /** Tuning, neck and partial capo; the instrument's standard when left out. */
  setup?: Setup;
  /** The tempo that it is made for; the tune's when left out. */
  quartersPerMinute?: number;
  /** Semitones by which the tune is moved to the key that was planned. */
  transposition?: number;
  /** Shapes chosen by hand, as shape text by the id of the tune's chord. */
  choices?: Readonly<Record<string, string>>;
  /** What was wished of all shapes. */
  wishes?: ProgressionWishes;
  settings?: Partial<ArrangeSettings>;
  /** An arrangement of the same tune of which a part, or what is pinned, stays. */
  keep?: Keep;
}

/** Why a tune can't be arranged as asked. */
export interface ArrangeProblem {
  message: string;
  /** Written measures (from 0) that stand in the way. */
  measures: number[];
  /** What can be done about it. */
  offers: string[];
}

export type ArrangeResult =
  | { arrangement: Arrangement; problem?: undefined }
  | { arrangement?: undefined; problem: ArrangeProblem };
