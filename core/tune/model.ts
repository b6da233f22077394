import type { Key, Pitch } from '../pitch';
import { type Feel, type Meter, measureTicks, type NoteTuplet } from '../time';

/** A note or rest of the melody. Times are in ticks. */
export interface TuneEvent {
  id: string;
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
  /** Tuplets it stands in, the outermost first. */
  tuplets?: NoteTuplet[];
  /** One syllable a verse, a trailing hyphen where the word goes on. */
  words?: string[];
  /** Words that are sung up to it, before the first chord of their line, one string a verse. */
  lead?: string[];
  /** A line of words begins here. */
  line?: boolean;
  /** Signs at it, by the names that ABC has for them: "accent", "staccato", "trill", "upbow" … */
  signs?: string[];
  /** Remarks at it, such as "slowly". */
  remarks?: string[];
}

/** A chord symbol over the melody. */
export interface TuneChord {
  id: string;
  /** Ticks from the start of what is written in its measure. */
  start: number;
  symbol: string;
}

/** A part of the form, such as A or Verse. It begins at the measure that carries it. */
export interface SectionMark {
  id: string;
  name: string;
  /** Id of the section that it is played as; the measures written here then take the place of its last ones. */
  as?: string;
}

/** A mark of the road through a piece. `segno` and `coda` stand where a measure begins, all others where it ends. */
export const ROAD_MARKS = [
  'segno',
  'coda',
  'to-coda',
  'fine',
  'da-capo',
  'dal-segno',
  'last-time-end',
] as const;
export type RoadMark = (typeof ROAD_MARKS)[number];

/** Another tempo from a place on; one that is reached slowly begins to change so many ticks before. */
export interface TempoChange {
  /** Ticks from the start of what is written in its measure. */
  start: number;
  quartersPerMinute: number;
  /** Ticks over which the tempo before slows down or speeds up to it, ending at `start`; at once when left out. */
  over?: number;
}

/** What stands at and over the bar lines: what the road and the clock of a piece are made of. */
export interface Bars {
  repeatStart?: boolean;
  repeatEnd?: boolean;
  /** How often the strain that this repeat sign closes is played in all; twice when left out. */
  passes?: number;
  /** Passes on which this measure is played, when it stands under an ending bracket. */
  ending?: number[];
  /** Played without a steady beat: nothing is clicked, and no feel bends it. */
  free?: boolean;
  /** Barline at the right: double between sections, final at the end. */
  barline?: 'double' | 'final';
  /** The section that starts here. */
  section?: SectionMark;
  marks?: RoadMark[];
  tempos?: TempoChange[];
  /** Places (ticks from the start of what is written) at which a fermata holds what sounds. */
  fermatas?: number[];
}

/** A further voice of the source beside the melody. */
export interface OtherVoice {
  name?: string;
  events: TuneEvent[];
}

export interface TuneMeasure extends Bars {
  id: string;
  meter: Meter;
  key: Key;
  /** Length of what is written; less than the meter's in a pickup or a shortened last measure. */
  ticks: number;
  /** Ticks of the full measure that pass before the first event: a pickup starts late. */
  offset: number;
  events: TuneEvent[];
  chords: TuneChord[];
  /** Further voices of the source, in its order. */
  others?: OtherVoice[];
}

/** What may be done with a tune. */
export type Rights = 'public-domain' | 'own-work' | 'copyright' | 'unknown';

export interface Tune {
  id: string;
  /** Next free number for the ids of its parts. */
  nextId: number;
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
  /** How the parts of a beat are played; straight when left out. */
  feel?: Feel;
  measures: TuneMeasure[];
  /** Ids of the sections in the order in which they are played, where that is not as written. */
  order?: string[];
  /** Lines of words that stand under no notes. */
  verses?: string[];
  /** The text it was read from, so that it can be corrected and read again. */
  abc?: string;
  /** The same, where it was read from words and chords. */
  song?: string;
}

/**
 * A measure that is shorter than its meter and starts late in it.
 *
 * @example isPickup(tune.measures[0]) // false
 */
export function isPickup(measure: TuneMeasure): boolean {
  return measure.offset > 0;
}

/**
 * What is wrong with the lengths in a tune, measure by measure; empty when everything adds up.
 *
 * @example lengthFaults(tune) // []
 */
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
 *
 * @example measureNumbers([{ offset: 30 }, { offset: 0 }, { offset: 0 }]) // [0, 1, 2]
 */
export function measureNumbers(measures: readonly { offset: number }[]): number[] {
  let number = 0;
  return measures.map((measure, index) => {
    if (measure.offset > 0 && index === 0) return 0;
    if (measure.offset === 0) number += 1;
    return number;
  });
}

/**
 * "the pickup and measures 1–4", from indexes of written measures.
 *
 * @example measureSpan([1, 2, 3, 4], 1, 3) // 'measures 2–4'
 */
export function measureSpan(numbers: readonly number[], from: number, to: number): string {
  const first = numbers[from]!;
  const last = numbers[to]!;
  if (first === 0)
    return last === 0 ? 'the pickup' : `the pickup and measure${last > 1 ? `s 1–${last}` : ' 1'}`;
  return first === last ? `measure ${first}` : `measures ${first}–${last}`;
}

/** A chord for a place and how much worse the whole becomes with it than at best. */
export interface ChordOption {
  symbol: string;
  /** 0 for the first choice. */
  loss: number;
}

/** Where a chord may be written: at the start of a measure, or inside it where its melody changes chords. */
export interface ChordPlace {
  /** Index of the measure. */
  measure: number;
  /** Ticks from the start of what is written in the measure. */
  start: number;
  /** Best first. */
  options: ChordOption[];
}
