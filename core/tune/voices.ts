/** The further voices of a source, beside its melody. */
import type { Tune, TuneMeasure } from './model';

/** Further voices that a tune keeps at most. */
export const MOST_VOICES = 15;

/**
 * The further voices of a source that a tune keeps: as many as it can, first ones first.
 *
 * @param tell is told how many are left out, where there are more
 * @example keptVoices(['alto', 'tenor'], text => console.log(text)) // ['alto', 'tenor']
 */
export function keptVoices<Voice>(voices: readonly Voice[], tell: (text: string) => void): readonly Voice[] {
  const more = voices.length - MOST_VOICES;
  if (more > 0)
    tell(
      `${more === 1 ? 'one voice' : `${more} voices`} beyond the ${MOST_VOICES} that a tune keeps beside its melody`,
    );
  return voices.slice(0, MOST_VOICES);
}

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
