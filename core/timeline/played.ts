/** Notes as they are played: struck once, with their ties joined, in the order of the road. */
import { type Arrangement, noteMidi, type ScoreNote } from '../score';

/** A note on the road. Ticks run from the start of what is played. */
export interface PlayedNote {
  note: ScoreNote;
  /** Ids of the written notes that it joins, the struck one first. */
  ids: string[];
  /** Written measure, and its place on the road. */
  measure: number;
  position: number;
  at: number;
  /** End as written, ties joined. */
  writtenEnd: number;
  midi: number;
}

/**
 * The notes of an arrangement as they are played.
 *
 * @param order written measures in playing order
 * @example playedNotes(arrangement, [0, 0]).length // 16
 */
export function playedNotes(
  { measures, setup }: Pick<Arrangement, 'measures' | 'setup'>,
  order: readonly number[],
): PlayedNote[] {
  const played: PlayedNote[] = [];
  const lastOnString: (PlayedNote | undefined)[] = [];
  let at = 0;
  for (const [position, index] of order.entries()) {
    const measure = measures[index]!;
    const notes = [...measure.notes].sort((a, b) => a.start - b.start || a.string - b.string);
    for (const note of notes) {
      const start = at + note.start;
      const before = lastOnString[note.string];
      // A second ending goes on from another measure than the one written before it: what sounds there counts.
      if (note.tie && before && before.writtenEnd === start && before.note.fret === note.fret) {
        before.writtenEnd = start + note.ticks;
        before.ids.push(note.id);
        continue;
      }
      const entry: PlayedNote = {
        note,
        ids: [note.id],
        measure: index,
        position,
        at: start,
        writtenEnd: start + note.ticks,
        midi: noteMidi(setup, note),
      };
      lastOnString[note.string] = entry;
      played.push(entry);
    }
    at += measure.ticks;
  }
  return played;
}
