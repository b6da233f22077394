/** Other ways to play a passage, kept beside the one that stands in the score. */
import type { ScoreMeasure } from './model';

/** Variants that an arrangement may hold. */
export const MOST_VARIANTS = 99;

/** What is played in a measure, without what stands at its bars. */
export type Content = Pick<ScoreMeasure, 'ticks' | 'chords' | 'notes' | 'rests' | 'strokes'>;

/** Another way to play some measures that follow each other. */
export interface Variant {
  id: string;
  /** "easy form", "or play this instead". */
  name: string;
  /** What the way that stands in the score is called beside it. */
  present: string;
  /** Ids of the measures that it can stand in for. */
  measures: string[];
  /** One for each of the measures. */
  content: Content[];
  /** Played by itself the last time that its measures come. */
  last?: boolean;
}

/**
 * What a measure holds, to be kept apart from it.
 *
 * @example contentOf(measure).notes // its notes
 */
export function contentOf({ ticks, chords, notes, rests, strokes }: ScoreMeasure): Content {
  return { ticks, chords, notes, ...(rests && { rests }), ...(strokes && { strokes }) };
}
