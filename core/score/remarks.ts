/** Remarks of the teacher: on the piece, a measure, or a note in it. */
import type { Arrangement, ScoreMeasure, ScoreNote } from './model';

/** Longest remark, in characters. */
export const MOST_REMARK = 2000;

/** What a teacher wants to be remembered. */
export interface Remark {
  id: string;
  /** Id of the note that it is about; of the measure as a whole where left out, or where that note is gone. */
  note?: string;
  text: string;
}

/** A remark with where it belongs. */
export interface PlacedRemark extends Remark {
  /** Place of the measure, from 0. */
  measure: number;
  /** The note, where it is about one that is there. */
  at?: ScoreNote;
}

/**
 * The remarks of a measure, in the order of their notes; those on the whole of it first.
 *
 * @example remarksOf({ notes: [], remarks: [{ id: 'k1', text: 'softly' }] }, 4) // [{ id: 'k1', text: 'softly', measure: 4 }]
 */
export function remarksOf(
  { notes, remarks = [] }: Pick<ScoreMeasure, 'notes' | 'remarks'>,
  measure: number,
): PlacedRemark[] {
  return remarks
    .map(remark => {
      const at = remark.note === undefined ? undefined : notes.find(note => note.id === remark.note);
      return { ...remark, measure, ...(at && { at }) };
    })
    .sort((a, b) => (a.at?.start ?? -1) - (b.at?.start ?? -1));
}

/**
 * All remarks of some measures (by place), in order.
 *
 * @example remarksIn(arrangement, [0, 1]) // []
 */
export function remarksIn(
  { measures }: Pick<Arrangement, 'measures'>,
  indexes: readonly number[],
): PlacedRemark[] {
  return indexes.flatMap(index => (measures[index] ? remarksOf(measures[index], index) : []));
}
