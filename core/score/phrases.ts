/** Passages that the teacher has named: "the first lick". */
import { beatName } from '../time';
import { measureNumbers, measureSpan } from '../tune';
import { type Arrangement, measureIndex, momentsOf } from './model';

export interface Phrase {
  id: string;
  name: string;
  /** Ids of its first and last measure. */
  from: string;
  to: string;
  /** Tick of its first measure at which it begins, where that is not the measure's own beginning. */
  start?: number;
  /** Tick of its last measure before which it ends, where that is not the measure's own end. */
  end?: number;
}

/** A named passage with where it is. */
export interface PlacedPhrase extends Phrase {
  /** Places of its first and last measure. */
  first: number;
  last: number;
  /** Ticks of the first measure at which it begins, and of the last one before which it ends. */
  begins: number;
  ends: number;
}

/**
 * The named passages whose measures are there, in the order of the score.
 *
 * @example phrasesOf(arrangement) // []
 */
export function phrasesOf(arrangement: Pick<Arrangement, 'measures' | 'phrases'>): PlacedPhrase[] {
  const { measures, phrases = [] } = arrangement;
  return phrases
    .flatMap(phrase => {
      const first = measureIndex(arrangement, phrase.from);
      const last = measureIndex(arrangement, phrase.to);
      if (first < 0 || last < first) return [];
      const { start = 0, end = Number.POSITIVE_INFINITY } = phrase;
      // A measure may have become shorter than where it began or ended.
      const begins = start < measures[first]!.ticks ? start : 0;
      const ends = Math.min(end, measures[last]!.ticks);
      return first === last && begins >= ends ? [] : [{ ...phrase, first, last, begins, ends }];
    })
    .sort((a, b) => a.first - b.first || a.begins - b.begins || a.last - b.last || a.ends - b.ends);
}

/**
 * Where a passage lies, in words: "measures 3–4", "beat 3 of measure 3 to the & of beat 1 of measure 4".
 *
 * @example phraseSpan(arrangement, { first: 0, last: 2, begins: 0, ends: arrangement.measures[2].ticks }) // 'measures 1–3'
 */
export function phraseSpan(
  { measures }: Pick<Arrangement, 'measures'>,
  { first, last, begins, ends }: Pick<PlacedPhrase, 'first' | 'last' | 'begins' | 'ends'>,
): string {
  const numbers = measureNumbers(measures);
  const end = measures[last]!;
  if (begins === 0 && ends === end.ticks) return measureSpan(numbers, first, last);
  const beat = (index: number, tick: number) =>
    beatName(measures[index]!.meter, measures[index]!.offset + tick);
  const from = begins > 0 || first === last ? beat(first, begins) : '';
  // It ends with the last thing that is struck in it.
  const struck = momentsOf(end, last).findLast(({ start }) => start < ends)?.start ?? 0;
  const to = ends < end.ticks || first === last ? beat(last, struck) : '';
  const own = (index: number, words: string) =>
    [words, measureSpan(numbers, index, index)].filter(Boolean).join(' of ');
  if (first !== last) return `${own(first, from)} to ${own(last, to)}`;
  return own(first, from === to ? from : `${from} to ${to}`);
}
