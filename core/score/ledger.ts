/** The ledger: everything in which an arrangement differs from its source. */
import type { IdGiver } from '../identity';
import { measureNumbers } from '../tune';
import { capital } from '../words';
import type { Arrangement, LedgerLine } from './model';

/** A line before it has an id; its measures are named by place (from 0). */
export interface LedgerDraft {
  /** Empty for what holds for the whole. */
  measures: number[];
  /** What differs, without its place and without a full stop. */
  text: string;
}

/**
 * The whole line in words: "Measures 2, 5: a grace note is left out."
 *
 * @example
 * ledgerWords(arrangement, { id: 'l1', text: 'the melody is moved', measures: [arrangement.measures[1].id] })
 * // 'Measure 2: the melody is moved.'
 */
export function ledgerWords(arrangement: Pick<Arrangement, 'measures'>, line: LedgerLine): string {
  const numbers = measureNumbers(arrangement.measures);
  const places = line.measures.flatMap(id => {
    const index = arrangement.measures.findIndex(measure => measure.id === id);
    return index < 0 ? [] : [numbers[index] === 0 ? 'pickup' : String(numbers[index])];
  });
  const unique = [...new Set(places)];
  if (!unique.length) return `${capital(line.text)}.`;
  if (unique.length === 1)
    return `${unique[0] === 'pickup' ? 'Pickup' : `Measure ${unique[0]}`}: ${line.text}.`;
  return `Measures ${unique.map(place => (place === 'pickup' ? 'the pickup' : place)).join(', ')}: ${line.text}.`;
}

/**
 * Every line of an arrangement's ledger in words.
 *
 * @example
 * ledgerTexts({ measures: [], ledger: [{ id: 'l1', text: 'the melody is moved', measures: [] }] })
 * // ['The melody is moved.']
 */
export function ledgerTexts(arrangement: Pick<Arrangement, 'measures' | 'ledger'>): string[] {
  return arrangement.ledger.map(line => ledgerWords(arrangement, line));
}

/** Drafts as lines; one that stood before, word for word about the same measures, keeps its id. */
export function ledgerLines(
  drafts: readonly LedgerDraft[],
  measures: readonly { id: string }[],
  before: readonly LedgerLine[],
  ids: IdGiver,
): LedgerLine[] {
  const key = (line: Pick<LedgerLine, 'measures' | 'text'>) => `${line.measures.join()} ${line.text}`;
  const known = new Map(before.map(line => [key(line), line.id]));
  return drafts.map(draft => {
    const line = { measures: draft.measures.map(index => measures[index]!.id), text: draft.text };
    const id = known.get(key(line));
    known.delete(key(line));
    return { id: id ?? ids.give('line'), ...line };
  });
}
