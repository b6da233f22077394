/** Ids for the parts of an arrangement: what stays of the present one keeps its own. */
import { IdGiver } from '../../identity';
import type { ScoreMeasure, ScoreNote } from '../../score';
import type { Tune } from '../../tune';
import type { Kept } from './keep';

/** Takes the first of a list that fits, out of the list. */
function takeFrom<T>(list: T[], fits: (item: T) => boolean): T | undefined {
  const index = list.findIndex(fits);
  return index < 0 ? undefined : list.splice(index, 1)[0];
}

const SAME: ((old: ScoreNote, note: ScoreNote) => boolean)[] = [
  (old, note) => old.start === note.start && old.role === note.role && old.string === note.string,
  (old, note) => old.start === note.start && old.role === note.role && old.from === note.from,
];

/**
 * Names measures, chords and notes. A first arrangement takes the ids of the tune's measures; made anew, a measure, chord
 * or note that stands where one stood keeps that one's id, so that lessons, remarks and pins still find it.
 *
 * @returns what gives further ids, to be kept in the record
 */
export function identifyParts(
  measures: readonly ScoreMeasure[],
  tune: Pick<Tune, 'measures' | 'nextId'>,
  kept: Kept | undefined,
): IdGiver {
  const ids = new IdGiver(kept ? kept.present.nextId : tune.nextId);
  for (const [index, measure] of measures.entries()) {
    const before = kept?.before(index);
    measure.id = kept ? (before?.id ?? ids.give('measure')) : tune.measures[index]!.id;
    const chords = [...(before?.chords ?? [])];
    measure.chords = measure.chords.map(chord => {
      const own =
        takeFrom(chords, old => chord.from !== undefined && old.from === chord.from) ??
        takeFrom(chords, old => old.start === chord.start && old.sounding === chord.sounding);
      return { ...chord, id: own?.id ?? ids.give('chord') };
    });
    // Notes that were put back have their ids already.
    const placed = new Set(measure.notes.map(note => note.id));
    const notes = (before?.notes ?? []).filter(old => !placed.has(old.id));
    // The very same note first, then one that only moved to another string.
    for (const same of SAME)
      for (const note of measure.notes)
        if (!note.id) note.id = takeFrom(notes, old => same(old, note))?.id ?? '';
    const graces = new Map(before?.notes.map(note => [note.id, note.graces]));
    for (const note of measure.notes) {
      note.id ||= ids.give('note');
      const own = [...(graces.get(note.id) ?? [])];
      for (const grace of note.graces ?? [])
        grace.id ||=
          takeFrom(own, old => old.string === grace.string && old.fret === grace.fret)?.id ??
          ids.give('grace');
    }
    const rests = [...(before?.rests ?? [])];
    for (const rest of measure.rests ?? [])
      rest.id ||= takeFrom(rests, old => old.start === rest.start)?.id ?? ids.give('rest');
  }
  return ids;
}
