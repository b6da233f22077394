/** The further voices of a source, beside its melody. */
import type { Tune, TuneMeasure } from './model';

/**
 * The names of a tune's further voices, in their order; undefined for one that has none.
 *
 * @example voiceNames({ measures: [] }) // []
 */
export function voiceNames({ measures }: Pick<Tune, 'measures'>): (string | undefined)[] {
  const length = measures.reduce((most, { others }) => Math.max(most, others?.length ?? 0), 0);
  return Array.from(
    { length },
    (_, i) => measures.find(({ others }) => others?.[i]?.name)?.others?.[i]?.name,
  );
}

/**
 * The measures of a further voice, with its notes in place of the melody's, without chords.
 *
 * @param voice from 0
 * @example voiceMeasures(tune, 0).length // as many as the tune has
 */
export function voiceMeasures({ measures }: Pick<Tune, 'measures'>, voice: number): TuneMeasure[] {
  return measures.map(({ others = [], fermatas: _fermatas, ...measure }) => ({
    ...measure,
    events: others[voice]?.events ?? [],
    chords: [],
  }));
}
