/** Edits of what both hands' fingers do. */
import { fingerPassage, inChordShapes, passageOf } from '../fingering';
import { type Finger, fingerName } from '../hand';
import {
  type Arrangement,
  findNote,
  isDead,
  isStruck,
  measureIndex,
  type Pluck,
  type ScoreNote,
  scoreChordAt,
} from '../score';
import { type Definitions, type EditKey, put } from './definition';

const fingerKey = (finger: Finger, key: string): EditKey => ({
  key,
  does: 'finger of the note',
  edit: (_, note) => ({ kind: 'finger', ids: [note.id], values: { finger } }),
});

const pluckKey = (pluck: Pluck): EditKey => ({
  key: pluck,
  does: 'plucked by thumb, index, middle or ring finger; again: as the school has it',
  edit: (_, note) => ({
    kind: 'pluck',
    ids: [note.id],
    values: { pluck: note.pluckPinned && note.pluck === pluck ? null : pluck },
  }),
});

/** Which finger stops a note, and which plucks it. */
export const HAND_EDITS: Definitions<'finger' | 'fingers' | 'refinger' | 'pluck'> = {
  finger: {
    name: 'Finger',
    on: 'notes',
    keys: ([1, 2, 3, 4] as const).flatMap(finger => [
      fingerKey(finger, `alt+${finger}`),
      // Where Alt makes another character of a digit its key is known by its place.
      fingerKey(finger, `alt+Digit${finger}`),
    ]),
    label: ({ values }) => fingerName(values.finger),
    fault: (_, { note }) => (note.fret === 0 || isDead(note) ? 'an open string takes no finger' : undefined),
    each: (_, { note }, { finger }) => {
      note.finger = finger;
      note.pinned = true;
      note.fingerPinned = true;
    },
  },
  fingers: {
    name: 'Other fingers for a measure',
    on: 'measures',
    label: () => 'other fingers',
    all: (draft, { values }) => {
      for (const [id, finger] of Object.entries(values.fingers)) {
        const note = findNote(draft as Arrangement, id)?.note;
        if (!note || (finger ?? undefined) === note.finger) continue;
        put(note, 'finger', finger ?? undefined);
        note.pinned = true;
        put(note, 'fingerPinned', finger !== null);
      }
      return undefined;
    },
  },
  refinger: {
    name: 'Finger anew',
    on: 'measures',
    label: () => 'fingered anew',
    all: (draft, { ids, values }, before) => {
      const indexes = ids.map(id => measureIndex(before, id)).filter(index => index >= 0);
      if (!indexes.length) return 'there is no such measure';
      const range = { from: Math.min(...indexes), to: Math.max(...indexes) };
      const { moments, notes, places } = passageOf(before, range);
      const shaped = places.map(({ measure, start }, i) => ({
        notes: notes[i]!,
        chord: scoreChordAt(before, measure, start),
        measure,
      }));
      const found = fingerPassage(before.setup, before.hand, moments, values.goal, inChordShapes(shaped));
      if (!found) return 'a moment in these measures can not be held as it stands: see the findings';
      const fingers = new Map<string, Finger | undefined>();
      for (const [i, group] of notes.entries())
        for (const [j, note] of group.entries()) fingers.set(note.id, found.fingers[i]![j]);
      for (const measure of draft.measures.slice(range.from, range.to + 1))
        for (const note of measure.notes)
          if (!note.fingerPinned && fingers.has(note.id))
            put(note as ScoreNote, 'finger', fingers.get(note.id));
      return undefined;
    },
  },
  pluck: {
    name: 'Plucked by',
    on: 'notes',
    keys: (['p', 'i', 'm', 'a'] as const).map(pluckKey),
    label: ({ values }) => (values.pluck ? `plucked by ${values.pluck}` : 'plucked as the school has it'),
    fault: (_, { note }) => (isStruck(note) ? undefined : 'this note is not plucked'),
    each: (_, { note }, { pluck }) => {
      if (pluck) {
        note.pluck = pluck;
        note.pluckPinned = true;
      } else delete note.pluckPinned;
    },
  },
};
