/** Edits of which notes there are, where on the strings they lie, how long they are and what they are for. */
import { fretOfNote, harmonicAt, highestFret, stringName } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  findNote,
  has,
  isDead,
  measureIndex,
  type NotePlace,
  noteMidi,
  ROLES,
} from '../score';
import { type Definitions, type EditKey, put } from './definition';
import { fretFault, insertNote, tupletAt } from './entry';
import { takeNextBest } from './nextBest';
import { clashOn, draftNote, place } from './places';
import { record } from './record';

/** Name of what a note sounds, in the key of its measure. */
function soundName(arrangement: Arrangement, { measure }: NotePlace, midi: number): string {
  return pitchName(spellMidi(midi, keyFifths(arrangement.measures[measure]!.key)), true);
}

const firstOf = (arrangement: Arrangement, ids: readonly string[]) =>
  findNote(arrangement, ids[0] ?? '')?.note;

const stringKey = (key: string, by: 1 | -1): EditKey => ({
  key,
  does: 'the note to the next string, same pitch',
  edit: (_, note) => ({ kind: 'string', ids: [note.id], values: { string: note.string + by } }),
});

const removeKey = (key: string): EditKey => ({
  key,
  does: 'take the note out',
  edit: (_, note) => ({ kind: 'remove', ids: [note.id], values: {} }),
});

/** Which notes there are, and where. */
export const NOTE_EDITS: Definitions<
  'fret' | 'string' | 'place' | 'length' | 'insert' | 'remove' | 'next-best' | 'role' | 'pin' | 'voice'
> = {
  fret: {
    name: 'Fret',
    on: 'notes',
    label: ({ ids, values }, a) => `string ${firstOf(a, ids)?.string} to fret ${values.fret}`,
    fault: (arrangement, { note }, { fret }) =>
      fretFault(arrangement, fret) ?? (isDead(note) ? 'a damped stroke has no fret' : undefined),
    each: (draft, { note }, { fret }, before) => place(draft, before, note.id, note.string, fret),
    moves: true,
  },
  string: {
    name: 'To another string, same pitch',
    on: 'notes',
    keys: [stringKey('shift+ArrowUp', -1), stringKey('shift+ArrowDown', 1)],
    label: ({ values }) => `to string ${values.string}`,
    fault: (arrangement, { note, measure }, { string }) => {
      const { setup } = arrangement;
      if (!setup.tuning[string - 1]) return `there is no string ${string}`;
      if (isDead(note)) return 'a damped stroke has no pitch to keep';
      const fret = fretOfNote(setup, string, noteMidi(setup, note));
      if (fret === undefined) return `string ${string} is too high for this note`;
      if (fret > highestFret(setup)) return `string ${string} has no fret ${fret}`;
      if (clashOn(arrangement, measure, { ...note, string }))
        return `string ${string} already sounds at this moment`;
      return undefined;
    },
    each: (draft, { note }, { string }, before) =>
      place(draft, before, note.id, string, fretOfNote(before.setup, string, noteMidi(before.setup, note))!),
    moves: true,
  },
  place: {
    name: 'To another place, pressed or as a harmonic',
    on: 'notes',
    label: ({ values }) =>
      `${values.harmonic ? 'harmonic on' : 'to'} string ${values.string} fret ${values.fret}`,
    fault: (arrangement, { note, measure }, { string, fret, harmonic }) => {
      const { setup } = arrangement;
      if (!setup.tuning[string - 1]) return `there is no string ${string}`;
      if (!Number.isInteger(fret) || fret < 0 || fret > highestFret(setup))
        return `${stringName(setup, string)} has no fret ${fret}`;
      if (harmonic && harmonicAt(setup, string, fret) === undefined)
        return `over fret ${fret} ${stringName(setup, string)} has no natural harmonic`;
      if (clashOn(arrangement, measure, { ...note, string }))
        return `string ${string} already sounds at this moment`;
      return undefined;
    },
    moves: true,
    each: (draft, found, { string, fret, harmonic = false }, before) => {
      const was = noteMidi(before.setup, found.note);
      const touched = has(found.note, 'harmonic');
      const now = noteMidi(before.setup, {
        string,
        fret,
        ...(harmonic && { techniques: [{ kind: 'harmonic' as const }] }),
      });
      place(draft, before, found.note.id, string, fret, harmonic);
      const name = soundName(before, found, was);
      if (harmonic && !touched) record(draft, found.measure, `${name} is played as a harmonic`);
      if (now !== was && (now - was) % 12 === 0)
        record(draft, found.measure, `${name} is played an octave ${now > was ? 'higher' : 'lower'}`);
    },
  },
  length: {
    name: 'Length',
    on: 'notes',
    moves: true,
    label: () => 'length of a note',
    fault: ({ measures }, { note, measure }, { ticks }) => {
      if (!Number.isInteger(ticks) || ticks < 1) return `a note can't be ${ticks} ticks long`;
      if (note.start + ticks > measures[measure]!.ticks)
        return 'a note ends at its barline: a tied note goes on after it';
      const next = measures[measure]!.notes.find(
        n => n.string === note.string && n.start > note.start && n.start < note.start + ticks,
      );
      return next && 'its string is struck again before that';
    },
    each: (draft, { note, measure }, { ticks }, before) => {
      note.ticks = ticks;
      const { notes, ...rest } = before.measures[measure]!;
      const others = { ...rest, notes: notes.filter(other => other.id !== note.id) };
      const { tuplets } = tupletAt(others, note.start, ticks);
      // A length that its own tuplets make stays within them.
      if (tuplets && !note.tuplets) draftNote(draft, measure, note.id)!.tuplets = tuplets;
      else if (note.tuplets && !tuplets) delete note.tuplets;
    },
  },
  insert: {
    name: 'One more note',
    on: 'measures',
    label: ({ values }) => `fret ${values.fret} on string ${values.string}`,
    // A note that is cut short by it may have led on.
    moves: ({ ids, values }, before) =>
      before.measures[measureIndex(before, ids[0]!)]?.notes
        .filter(note => note.string === values.string)
        .map(note => note.id) ?? [],
    all: (draft, { ids, values }, before) => insertNote(draft, ids[0] ?? '', values, before),
  },
  remove: {
    name: 'Take out',
    on: 'notes',
    keys: [removeKey('Delete'), removeKey('Backspace')],
    label: () => 'note taken out',
    moves: true,
    each: (draft, found, _, before) => {
      const measure = draft.measures[found.measure]!;
      const { note } = found;
      measure.notes = measure.notes.filter(n => n.id !== note.id);
      // What a hand has written itself differs from nothing.
      if (note.pinned && !note.from) return;
      const name = soundName(before, found, noteMidi(before.setup, note));
      record(
        draft,
        found.measure,
        `the ${note.role === 'inner' ? 'inner note' : note.role} ${name} is left out`,
      );
    },
  },
  'next-best': {
    name: 'What was weighed as next best',
    on: 'notes',
    label: () => 'the next best instead',
    moves: 'all',
    all: (draft, { ids }, before) => takeNextBest(draft, ids[0] ?? '', before),
  },
  role: {
    name: 'Melody, bass or inner note',
    on: 'notes',
    keys: [
      {
        key: 'r',
        does: 'melody, bass or inner note, in turn',
        edit: (_, note) => ({
          kind: 'role',
          ids: [note.id],
          values: { role: ROLES[(ROLES.indexOf(note.role) + 1) % ROLES.length]! },
        }),
      },
    ],
    label: ({ values }) => (values.role === 'inner' ? 'inner note' : values.role),
    each: (_, { note }, { role }) => {
      note.role = role;
      note.pinned = true;
    },
  },
  voice: {
    name: 'Voice in which it is written',
    on: 'notes',
    label: ({ values: { voice } }) => (voice ? `voice ${voice}` : 'voice as usual'),
    each: (_, { note }, { voice }) => {
      if (voice) note.voice = voice;
      else delete note.voice;
    },
  },
  pin: {
    name: 'Pin against arranging anew',
    on: 'notes',
    label: ({ values }) => (values.pinned ? 'pinned' : 'unpinned'),
    each: (_, { note }, { pinned }) => {
      put(note, 'pinned', pinned);
      put(note, 'fingerPinned', pinned && note.finger !== undefined);
    },
  },
};
