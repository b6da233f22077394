/** Strokes: what begins together and is not struck at once but string by string. */
import { isStruck, type ScoreMeasure, type ScoreNote } from './model';

/** A roll goes slowly enough to be heard note by note (an arpeggio); a brush is one quick sweep. */
export const STROKE_KINDS = ['roll', 'brush'] as const;
export type StrokeKind = (typeof STROKE_KINDS)[number];
/** Down goes from the thickest to the thinnest string. */
export const STROKE_WAYS = ['down', 'up'] as const;
export type StrokeWay = (typeof STROKE_WAYS)[number];

/** How the moment at a tick of a measure is struck. */
export interface Stroke {
  start: number;
  kind: StrokeKind;
  way: StrokeWay;
}

/**
 * The notes of a moment in the order in which a stroke takes them; empty where none is said, or less than two are struck.
 *
 * @example strokeOrder({ notes: [], strokes: [{ start: 0, kind: 'brush', way: 'down' }] }, 0) // []
 */
export function strokeOrder(measure: Pick<ScoreMeasure, 'notes' | 'strokes'>, start: number): ScoreNote[] {
  const stroke = strokeAt(measure, start);
  if (!stroke) return [];
  const struck = measure.notes.filter(note => note.start === start && isStruck(note));
  if (struck.length < 2) return [];
  return struck.sort((a, b) => (stroke.way === 'down' ? b.string - a.string : a.string - b.string));
}

/**
 * The stroke of a moment.
 *
 * @example strokeAt({ strokes: [] }, 0) // undefined
 */
export function strokeAt({ strokes = [] }: Pick<ScoreMeasure, 'strokes'>, start: number): Stroke | undefined {
  return strokes.find(stroke => stroke.start === start);
}

/**
 * "brushed down", "rolled up".
 *
 * @example strokeWords({ kind: 'brush', way: 'down' }) // 'brushed down'
 */
export function strokeWords({ kind, way }: Pick<Stroke, 'kind' | 'way'>): string {
  return `${kind === 'brush' ? 'brushed' : 'rolled'} ${way}`;
}
