/** Strokes by their words, as dictation and text tab write them. */
import type { Stroke } from '../score';

export const STROKE_WORDS: Readonly<Record<string, Pick<Stroke, 'kind' | 'way'> | undefined>> = {
  down: { kind: 'brush', way: 'down' },
  up: { kind: 'brush', way: 'up' },
  roll: { kind: 'roll', way: 'down' },
  rollup: { kind: 'roll', way: 'up' },
};

/** The word of a stroke. */
export function strokeWord({ kind, way }: Pick<Stroke, 'kind' | 'way'>): string {
  return Object.keys(STROKE_WORDS).find(
    word => STROKE_WORDS[word]!.kind === kind && STROKE_WORDS[word]!.way === way,
  )!;
}
