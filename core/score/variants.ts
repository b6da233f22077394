/** Other ways to play a passage, kept beside the one that stands in the score. */
import { mendLinks } from './links';
import { type Arrangement, measureIndex, type ScoreMeasure } from './model';

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

/**
 * An arrangement in which a variant stands in the place of what it stands in for; undefined where its measures are gone or
 * have another length by now.
 *
 * @example withVariant(arrangement, 'v1') // undefined
 */
export function withVariant(arrangement: Arrangement, variantId: string): Arrangement | undefined {
  const variant = arrangement.variants?.find(({ id }) => id === variantId);
  const places = variant?.measures.map(id => measureIndex(arrangement, id)) ?? [];
  const fits = places.every(
    (index, i) => index >= 0 && arrangement.measures[index]!.ticks === variant!.content[i]?.ticks,
  );
  if (!variant || !fits) return undefined;
  const measures = arrangement.measures.map((measure): ScoreMeasure => {
    const at = variant.measures.indexOf(measure.id);
    if (at < 0) return { ...measure, notes: measure.notes.map(note => ({ ...note })) };
    const { rests: _rests, strokes: _strokes, ...rest } = measure;
    const content = variant.content[at]!;
    return { ...rest, ...content, notes: content.notes.map(note => ({ ...note })) };
  });
  mendLinks(measures);
  return { ...arrangement, measures };
}
