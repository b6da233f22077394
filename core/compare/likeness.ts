/** Which measures and sections of an arrangement are like an earlier one, and in what they differ. */
import type { Setup } from '../instrument';
import {
  type Arrangement,
  cutMeasure,
  type PlacedPhrase,
  phraseSpan,
  phrasesOf,
  type ScoreMeasure,
} from '../score';
import { measureNumbers, measureSpan, type Section, sectionLabels, sectionsOf } from '../tune';
import { capital } from '../words';
import { type Difference, differencesOf } from './differences';
import { firstAlike, playedAlike } from './sameness';

/** A measure that is like another one. */
export interface Likeness {
  /** Place of the measure that it is like, from 0. */
  as: number;
  /** Empty where it is played just the same. */
  differences: Difference[];
}

/** Of how many moments at most one may be another, for two measures to count as alike; judgement. */
const ONE_IN = 3;

const moments = ({ notes }: ScoreMeasure) => new Set(notes.map(note => note.start)).size;

/** What was found of two measures; they are never changed, so it stays true. */
const known = new WeakMap<
  ScoreMeasure,
  WeakMap<ScoreMeasure, { setup: Setup; found: Difference[] | undefined }>
>();

function nearness(setup: Setup, other: ScoreMeasure, own: ScoreMeasure): Difference[] | undefined {
  const ofOwn = known.get(own) ?? new WeakMap();
  known.set(own, ofOwn);
  const before = ofOwn.get(other);
  if (before?.setup === setup) return before.found;
  const found = compared(setup, other, own);
  ofOwn.set(other, { setup, found });
  return found;
}

/** In what a measure differs from another one that it is like; undefined where it is not. */
function compared(setup: Setup, other: ScoreMeasure, own: ScoreMeasure): Difference[] | undefined {
  if (other.ticks !== own.ticks || other.offset !== own.offset || !other.notes.length) return undefined;
  const size = Math.max(moments(other), moments(own));
  // What is not played at enough of the same moments need not be looked at note by note.
  if (Math.abs(moments(other) - moments(own)) > size / ONE_IN) return undefined;
  const differences = differencesOf(setup, other, own);
  const places = new Set(differences.map(({ place }) => place)).size;
  return places <= Math.floor(size / ONE_IN) ? differences : undefined;
}

/**
 * The earlier measure that a measure is most like, with what differs; undefined where it is new.
 *
 * @example likenessOf(arrangement, 0) // undefined
 */
export function likenessOf(
  { setup, measures }: Pick<Arrangement, 'setup' | 'measures'>,
  index: number,
): Likeness | undefined {
  const own = measures[index];
  if (!own?.notes.length) return undefined;
  let best: Likeness | undefined;
  for (let as = 0; as < index; as++) {
    const differences = nearness(setup, measures[as]!, own);
    if (!differences || (best && best.differences.length <= differences.length)) continue;
    best = { as, differences };
    if (!differences.length) break;
  }
  return best;
}

/** Most differences that are told one by one. */
const TOLD = 3;

/**
 * "As measure 3, but beat 4: fret 5 on string 2 instead of fret 3."
 *
 * @example likenessWords(arrangement, { as: 2, differences: [] }) // 'Just like measure 3.'
 */
export function likenessWords(
  { measures }: Pick<Arrangement, 'measures'>,
  { as, differences }: Likeness,
): string {
  const other = measureSpan(measureNumbers(measures), as, as);
  if (!differences.length) return `Just like ${other}.`;
  const told = differences.slice(0, TOLD).map(({ text }) => text);
  const more = differences.length - told.length;
  return `As ${other}, but ${told.join('; ')}${more ? `; and ${more} more` : ''}.`;
}

/** A section that is like an earlier one. */
export interface SectionLikeness {
  section: Section;
  as: Section;
  /** Places of the measures in it that are not as in the other one. */
  differ: number[];
}

/**
 * The sections that are for the most part as an earlier one, measure by measure.
 *
 * @example likeSections(arrangement) // []
 */
export function likeSections(arrangement: Pick<Arrangement, 'measures'>): SectionLikeness[] {
  const sections = sectionsOf(arrangement.measures);
  const alike = firstAlike(arrangement);
  return sections.flatMap((section, i) => {
    const size = section.to - section.from;
    const candidates = sections
      .slice(0, i)
      .filter(other => other.to - other.from === size)
      .map(as => ({
        section,
        as,
        differ: Array.from({ length: size }, (_, k) => k)
          .filter(k => alike[section.from + k] !== alike[as.from + k])
          .map(k => section.from + k),
      }))
      .filter(({ differ }) => differ.length * 2 <= size)
      .sort((a, b) => a.differ.length - b.differ.length);
    return candidates.slice(0, 1);
  });
}

/** A passage that is like an earlier stretch of measures. */
export interface PhraseLikeness {
  phrase: PlacedPhrase;
  /** Place of the first measure of that stretch. */
  as: number;
  /** Places of the measures in it that are not as in the other one. */
  differ: number[];
}

/**
 * The named passages that are for the most part as an earlier stretch of as many measures.
 *
 * @example likePhrases(arrangement) // []
 */
export function likePhrases(arrangement: Pick<Arrangement, 'measures' | 'phrases'>): PhraseLikeness[] {
  const { measures } = arrangement;
  const alike = firstAlike(arrangement);
  /** Whether so much of two measures is played alike. */
  const same = (own: number, other: number, from: number, to: number) =>
    from === 0 && to === measures[own]!.ticks
      ? alike[own] === alike[other]
      : playedAlike(cutMeasure(measures[own]!, from, to), cutMeasure(measures[other]!, from, to));
  return phrasesOf(arrangement).flatMap(phrase => {
    const { first, last, begins, ends } = phrase;
    const size = last - first + 1;
    let best: PhraseLikeness | undefined;
    for (let as = 0; as + size <= first; as++) {
      const differ = Array.from({ length: size }, (_, k) => first + k).filter(
        index =>
          !same(
            index,
            as + index - first,
            index === first ? begins : 0,
            index === last ? ends : measures[index]!.ticks,
          ),
      );
      if (differ.length * 2 < size && (!best || differ.length < best.differ.length))
        best = { phrase, as, differ };
    }
    return best ?? [];
  });
}

/**
 * "The lick is as measures 1–2, but measure 6 differs."
 *
 * @example phraseWords(arrangement, { phrase: { name: 'the end', first: 1, last: 1, begins: 0, ends: arrangement.measures[0].ticks }, as: 0, differ: [] })
 * // 'The end is just like measure 1.'
 */
export function phraseWords(
  { measures }: Pick<Arrangement, 'measures'>,
  { phrase: { name, first, last, begins, ends }, as, differ }: PhraseLikeness,
): string {
  const other = phraseSpan({ measures }, { first: as, last: as + last - first, begins, ends });
  return differ.length
    ? `${capital(name)} is as ${other}, but ${differWords(measureNumbers(measures), differ)}.`
    : `${capital(name)} is just like ${other}.`;
}

/** "measures 11, 15 differ". */
function differWords(numbers: readonly number[], differ: readonly number[]): string {
  const list = differ.map(index => numbers[index]).join(', ');
  return differ.length > 1 ? `measures ${list} differ` : `measure ${list} differs`;
}

/**
 * "B is as A, but measure 15 differs." Sections of one name are told apart.
 *
 * @example sectionWords(arrangement, { section: { name: 'B' }, as: { name: 'A' }, differ: [] }) // 'B is just like A.'
 */
export function sectionWords(
  { measures }: Pick<Arrangement, 'measures'>,
  { section, as, differ }: SectionLikeness,
): string {
  const sections = sectionsOf(measures);
  const labels = sectionLabels(measures);
  const label = ({ id, name }: Section) => labels[sections.findIndex(own => own.id === id)] ?? name;
  if (!differ.length) return `${label(section)} is just like ${label(as)}.`;
  return `${label(section)} is as ${label(as)}, but ${differWords(measureNumbers(measures), differ)}.`;
}
