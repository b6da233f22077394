/** Passages that the teacher has named: "the first lick". */
import { type Arrangement, measureIndex } from './model';

export interface Phrase {
  id: string;
  name: string;
  /** Ids of its first and last measure. */
  from: string;
  to: string;
}

/** A named passage with where it is: places of its first and last measure. */
export interface PlacedPhrase extends Phrase {
  first: number;
  last: number;
}

/**
 * The named passages whose measures are there, in the order of the score.
 *
 * @example phrasesOf(arrangement) // []
 */
export function phrasesOf(arrangement: Pick<Arrangement, 'measures' | 'phrases'>): PlacedPhrase[] {
  return (arrangement.phrases ?? [])
    .map(phrase => ({
      ...phrase,
      first: measureIndex(arrangement, phrase.from),
      last: measureIndex(arrangement, phrase.to),
    }))
    .filter(({ first, last }) => first >= 0 && last >= first)
    .sort((a, b) => a.first - b.first || a.last - b.last);
}
