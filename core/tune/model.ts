import type { Key, Pitch } from '../pitch';
import { type Meter, measureTicks, type Tuplet } from '../time';

/** A note or rest of the melody. Times are in ticks. */
export interface TuneEvent {
  /** From the start of what is written in the measure. */
  start: number;
  ticks: number;
  /** Melody pitch as written in the source; absent for a rest. */
  pitch?: Pitch;
  /** Further pitches that the source strikes with it, lower ones first. */
  lower?: Pitch[];
  /** Tied to the next event. */
  tie?: boolean;
  slurStarts?: number;
  slurEnds?: number;
  graces?: Pitch[];
  /** Tuplet it belongs to; `group` tells neighbouring tuplets of a measure apart. */
  tuplet?: Tuplet & { group: number };
  /** One syllable a verse, a trailing hyphen where the word goes on. */
  words?: string[];
}

export interface TuneMeasure {
  meter: Meter;
  key: Key;
  /** Length of what is written; less than the meter's in a pickup or a shortened last measure. */
  ticks: number;
  /** Ticks of the full measure that pass before the first event: a pickup starts late. */
  offset: number;
  events: TuneEvent[];
  /** Chord symbols, `start` as in events. */
  chords: { start: number; symbol: string }[];
  repeatStart?: boolean;
  repeatEnd?: boolean;
  /** Passes on which this measure is played, when it stands under an ending bracket. */
  ending?: number[];
  /** Barline at the right: double between sections, final at the end. */
  barline?: 'double' | 'final';
  /** Name given to a section that starts here. */
  section?: string;
}

/** What may be done with a tune. */
export type Rights = 'public-domain' | 'own-work' | 'copyright' | 'unknown';

export interface Tune {
  id: string;
  title: string;
  composer?: string;
  /** Kind of tune as the source names it: reel, jig, waltz … */
  rhythm?: string;
  /** Where it comes from, in the teacher's words. */
  source?: string;
  rights: Rights;
  key: Key;
  meter: Meter;
  quartersPerMinute: number;
  measures: TuneMeasure[];
  /** The text it was read from, so that it can be corrected and read again. */
  abc?: string;
}

/** A measure that is shorter than its meter and starts late in it. */
export function isPickup(measure: TuneMeasure): boolean {
  return measure.offset > 0;
}

/** What is wrong with the lengths in a tune, measure by measure; empty when everything adds up. */
export function lengthFaults(tune: Tune): { measure: number; message: string }[] {
  const faults: { measure: number; message: string }[] = [];
  for (const [index, measure] of tune.measures.entries()) {
    const sum = measure.events.reduce((total, event) => total + event.ticks, 0);
    if (sum !== measure.ticks) faults.push({ measure: index, message: 'its notes do not fill it' });
    if (measure.ticks > measureTicks(measure.meter)) {
      faults.push({ measure: index, message: 'it is longer than its meter' });
    }
  }
  return faults;
}

/**
 * Number printed over each measure: a pickup at the start has none (0), and the second half of a measure
 * that a repeat sign divides is not counted again.
 */
export function measureNumbers(measures: readonly { offset: number }[]): number[] {
  let number = 0;
  return measures.map((measure, index) => {
    if (measure.offset > 0 && index === 0) return 0;
    if (measure.offset === 0) number += 1;
    return number;
  });
}
