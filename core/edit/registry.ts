/**
 * Every edit of an arrangement, as data: `{ kind, ids, values }`. One list knows for each what it is called, which keys
 * give it, why it can't be done, and how it is done. Keys, help, menus, undo labels and the test that edits at random
 * all read this list.
 */
import type { Draft } from 'immer';
import { fingerPassage, graceFingers, passageOf } from '../fingering';
import { type Finger, fingerName } from '../hand';
import { IdGiver } from '../identity';
import { fretOfNote, harmonicAt, highestFret, stringName } from '../instrument';
import { type Key, keyFifths, keyName, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  dropTechniques,
  findNote,
  type Graces,
  gracesOf,
  gripOf,
  has,
  INTOS,
  type Into,
  intoFault,
  intoOf,
  isDead,
  isStruck,
  lastOn,
  measureIndex,
  type NotePlace,
  noteBefore,
  noteMidi,
  type Ornament,
  type Pluck,
  putGraces,
  putTechnique,
  ROLES,
  type Role,
  type ScoreNote,
  type Stroke,
  soundingAt,
  strokeAt,
  strokeWords,
  TECHNIQUES,
  type WrittenMeasure,
} from '../score';
import type { Feel, Meter } from '../time';
import { fretFault, insertNote, type NewNote, tripletOf } from './entry';
import {
  type BarsValues,
  changeBars,
  changeChord,
  changeKey,
  changeMeter,
  changeRemark,
  changeWord,
} from './frame';
import { addMeasures, removeMeasures } from './measures';
import { movePassage, type PassageGoal } from './passage';
import { clashOn, draftNote, place } from './places';
import { record } from './record';
import { type OwnTechnique, SHIFT_SLIDE_KEY, TECHNIQUE_KEYS, techniqueFault } from './techniques';
import { writeMeasures } from './write';

/** What each kind of edit is told. `null` gives a thing back to what is usual. */
export interface EditValues {
  fret: { fret: number };
  string: { string: number };
  place: { string: number; fret: number; harmonic?: boolean };
  finger: { finger: Finger };
  fingers: { fingers: Readonly<Record<string, Finger | null>> };
  refinger: { goal: 'total' | 'worst' };
  length: { ticks: number };
  tie: { on: boolean };
  pin: { pinned: boolean };
  /** `again`: the end of a slide is plucked too. */
  into: { into: Into | null; again?: boolean };
  pluck: { pluck: Pluck | null };
  technique: { technique: OwnTechnique; on: boolean };
  ornament: { ornament: Ornament };
  insert: NewNote;
  /** `behind`: as new measures behind the one named, instead of over it. */
  write: { measures: readonly WrittenMeasure[]; behind?: boolean };
  stroke: { stroke: Pick<Stroke, 'kind' | 'way'> | null };
  passage: { role?: Role; goal: PassageGoal };
  role: { role: Role };
  remove: Record<never, never>;
  'add-measures': { count: number; before: boolean };
  'remove-measures': Record<never, never>;
  bars: BarsValues;
  meter: { meter: Meter };
  key: { key: Key };
  chord: { start: number; name: string | null };
  word: { start: number; verse: number; text: string };
  /** On a note of the measure named, on the measure, or without one on the piece. */
  remark: { note?: string; text: string };
  feel: { feel: Feel };
  take: { proposal: Arrangement; what: string };
}
export type EditKind = keyof EditValues;

/** An edit: what is done (kind and values) to which notes or measures (ids). */
export type Edit = { [K in EditKind]: { kind: K; ids: readonly string[]; values: EditValues[K] } }[EditKind];
type EditOf<K extends EditKind> = Extract<Edit, { kind: K }>;

/** A key that gives an edit of the note at the cursor. */
export interface EditKey {
  /** As hotkey handlers write it: "shift+ArrowUp". */
  key: string;
  /** What it does, for the help. Keys with the same words are told together. */
  does: string;
  /** The edit of a note; what a key takes back the second time depends on the note. */
  edit: (arrangement: Arrangement, note: ScoreNote) => Edit;
}

interface Definition<K extends EditKind> {
  /** In menus. */
  name: string;
  /** What its ids are. */
  on: 'notes' | 'measures' | 'whole';
  keys?: readonly EditKey[];
  /** For undo: "fret 3 on string 2". */
  label: (edit: EditOf<K>, arrangement: Arrangement) => string;
  /** Why it can't be done to a note; undefined when it can. */
  fault?: (arrangement: Arrangement, found: NotePlace, values: EditValues[K]) => string | undefined;
  /** Does it to one note. */
  each?: (draft: Draft<Arrangement>, found: NotePlace, values: EditValues[K], before: Arrangement) => void;
  /** Whether links may have to be put right afterwards: those of its notes, of the notes it names, or all. */
  moves?: true | 'all' | ((edit: EditOf<K>, before: Arrangement) => readonly string[]);
  /** Does it to all at once; says why when it can't be done. */
  all?: (draft: Draft<Arrangement>, edit: EditOf<K>, before: Arrangement) => string | undefined;
}

/** Name of what a note sounds, in the key of its measure. */
function soundName(arrangement: Arrangement, { measure }: NotePlace, midi: number): string {
  return pitchName(spellMidi(midi, keyFifths(arrangement.measures[measure]!.key)), true);
}

/** Sets or takes out a field that is only there when it means something. */
function put<K extends keyof ScoreNote>(note: ScoreNote, field: K, value: ScoreNote[K] | undefined): void {
  if (value === undefined || value === false) delete note[field];
  else note[field] = value;
}

/** What the fretting hand can sound a note out of: the note up to it on its string, else the last one before. */
const sourceOf = (arrangement: Arrangement, { note, measure }: NotePlace) =>
  noteBefore(arrangement, measure, note) ?? lastOn(arrangement, measure, note);

/** Fingers for the grace notes of an ornament; undefined where none is free. */
function fingersOf(
  { setup, hand, measures }: Arrangement,
  measure: number,
  note: ScoreNote,
  { frets, by }: Graces,
) {
  const others = soundingAt(measures[measure]!, note.start).filter(other => other.id !== note.id);
  const { graceBy: _, ...plain } = note;
  return graceFingers(
    setup,
    hand,
    gripOf(others),
    { ...plain, ...(by && { graceBy: by }) },
    frets.map(fret => ({ string: note.string, fret })),
  );
}

const firstOf = (arrangement: Arrangement, ids: readonly string[]) =>
  findNote(arrangement, ids[0] ?? '')?.note;

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

/** What a change of bars is called for undo. */
function barsLabel({ section, tempo, fermata, ending, passes, barline, ...repeats }: BarsValues): string {
  if (section !== undefined) return section?.trim() ? `section ${section.trim()}` : 'section taken off';
  if (tempo !== undefined) return tempo === null ? 'tempo taken off' : 'tempo';
  if (fermata) return fermata.on ? 'fermata' : 'fermata taken off';
  if (ending !== undefined) return 'ending';
  if (passes !== undefined) return 'number of repeats';
  if (barline !== undefined) return 'bar line';
  return (repeats.repeatStart ?? repeats.repeatEnd) ? 'repeat sign' : 'repeat sign taken off';
}

const strokeKey = (key: string, stroke: Pick<Stroke, 'kind' | 'way'>): EditKey => ({
  key,
  does:
    stroke.kind === 'brush'
      ? 'what is struck together brushed down or up; again: at once'
      : 'what is struck together rolled string by string; again: at once',
  edit: (arrangement, note) => {
    const { measure } = findNote(arrangement, note.id)!;
    const own = strokeAt(arrangement.measures[measure]!, note.start);
    const same = own?.kind === stroke.kind && own.way === stroke.way;
    return { kind: 'stroke', ids: [note.id], values: { stroke: same ? null : stroke } };
  },
});

export const EDITS: { [K in EditKind]: Definition<K> } = {
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
      const { moments, notes } = passageOf(before, range);
      const found = fingerPassage(before.setup, before.hand, moments, values.goal);
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
      const { tuplets } = tripletOf(others, note.start, ticks);
      // A length that its own tuplets make stays within them.
      if (tuplets && !note.tuplets) draftNote(draft, measure, note.id)!.tuplets = tuplets;
      else if (note.tuplets && !tuplets) delete note.tuplets;
    },
  },
  tie: {
    name: 'Sounds on from the note before',
    on: 'notes',
    keys: [
      {
        key: 'j',
        does: 'joined to the note before on its string, not plucked again; again: plucked',
        edit: (_, note) => ({ kind: 'tie', ids: [note.id], values: { on: note.tie === undefined } }),
      },
    ],
    label: ({ values }) => (values.on ? 'tied' : 'plucked again'),
    fault: (arrangement, { note, measure }, { on }) => {
      if (!on) return undefined;
      const before = noteBefore(arrangement, measure, note);
      if (!before || isDead(before)) return 'no note sounds on its string up to it';
      return before.fret === note.fret
        ? undefined
        : `the note before lies on fret ${before.fret}: a tie keeps its fret`;
    },
    each: (_, { note, measure }, { on }, before) => {
      if (!on) {
        delete note.tie;
        return;
      }
      const source = noteBefore(before, measure, note)!;
      note.tie = source.id;
      if (source.finger) note.finger = source.finger;
      // It is not sounded anew: what is done in sounding a note goes.
      const kept = (note.techniques ?? []).filter(t => t.kind === 'let-ring' || t.kind === 'damp');
      if (kept.length) note.techniques = kept;
      else delete note.techniques;
      delete note.graces;
      delete note.graceBy;
      delete note.pluck;
      delete note.pluckPinned;
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
  into: {
    name: 'Sounded by hammer-on, pull-off or slide',
    on: 'notes',
    keys: [
      {
        key: 'h',
        does: 'hammered or pulled out of the note before; again: plucked',
        edit: (arrangement, note) => {
          const found = findNote(arrangement, note.id)!;
          const before = sourceOf(arrangement, found);
          const into = intoOf(note) ? null : intoFault(before, note, 'hammer') ? 'pull' : 'hammer';
          return { kind: 'into', ids: [note.id], values: { into } };
        },
      },
      {
        key: 's',
        does: 'slid out of the note before; again: plucked',
        edit: (_, note) => ({
          kind: 'into',
          ids: [note.id],
          values: { into: intoOf(note) ? null : 'slide' },
        }),
      },
      SHIFT_SLIDE_KEY,
    ],
    label: ({ values }) => (values.again ? 'slide, plucked at its end' : (values.into ?? 'plucked')),
    fault: (arrangement, found, { into }) =>
      into ? intoFault(sourceOf(arrangement, found), found.note, into) : undefined,
    each: (_, { note, measure }, { into, again }, before) => {
      dropTechniques(note, INTOS);
      note.pinned = true;
      if (!into) return;
      const from = sourceOf(before, { note, measure })!.id;
      const struck = into === 'slide' && again === true;
      putTechnique(note, struck ? { kind: into, from, again } : { kind: into, from });
      if (struck) return;
      delete note.pluck;
      delete note.pluckPinned;
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
  technique: {
    name: 'Technique',
    on: 'notes',
    keys: TECHNIQUE_KEYS,
    label: ({ values }) => `${TECHNIQUES[values.technique.kind].name}${values.on ? '' : ' taken off'}`,
    fault: (arrangement, { note }, { technique, on }) =>
      on ? techniqueFault(arrangement, note, technique) : undefined,
    // What is sounded out of a note that is damped now, or touched, leads nowhere.
    moves: true,
    each: (_, { note }, { technique, on }) => {
      if (on) putTechnique(note, technique);
      else dropTechniques(note, [technique.kind]);
      note.pinned = true;
    },
  },
  ornament: {
    name: 'Ornament',
    on: 'notes',
    label: ({ values }) => (values.ornament === 'none' ? 'ornament taken off' : values.ornament),
    fault: (arrangement, { note, measure }, { ornament }) => {
      const graces = gracesOf(arrangement, arrangement.measures[measure]!, note, ornament);
      if (!graces) return `string ${note.string} has no room or finger for that ornament here`;
      return fingersOf(arrangement, measure, note, graces)
        ? undefined
        : 'no finger is free for that ornament here';
    },
    each: (draft, { note, measure }, { ornament }, before) => {
      const ids = new IdGiver(before.nextId);
      const plain = findNote(before, note.id)!.note;
      const graces = gracesOf(before, before.measures[measure]!, plain, ornament)!;
      putGraces(note, graces, () => ids.give('grace'));
      const fingers = fingersOf(before, measure, plain, graces);
      for (const [i, grace] of (note.graces ?? []).entries()) if (fingers?.[i]) grace.finger = fingers[i];
      draft.nextId = ids.nextId;
      note.pinned = true;
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
  write: {
    name: 'Write measures',
    on: 'measures',
    label: ({ values }) =>
      values.measures.length === 1 ? 'a measure written' : `${values.measures.length} measures written`,
    moves: 'all',
    all: (draft, { ids, values }, before) => writeMeasures(draft, ids[0] ?? '', values, before),
  },
  stroke: {
    name: 'Rolled or brushed',
    on: 'notes',
    keys: [
      strokeKey('g', { kind: 'brush', way: 'down' }),
      strokeKey('shift+G', { kind: 'brush', way: 'up' }),
      strokeKey('y', { kind: 'roll', way: 'down' }),
      strokeKey('shift+Y', { kind: 'roll', way: 'up' }),
    ],
    label: ({ values }) => (values.stroke ? strokeWords(values.stroke) : 'struck at once'),
    fault: ({ measures }, { measure, note }, { stroke }) =>
      stroke && measures[measure]!.notes.filter(n => n.start === note.start && isStruck(n)).length < 2
        ? 'only one string is struck at this moment'
        : undefined,
    each: (draft, { measure, note }, { stroke }) => {
      const own = draft.measures[measure]!;
      const others = (own.strokes ?? []).filter(({ start }) => start !== note.start);
      const strokes = [...others, ...(stroke ? [{ start: note.start, ...stroke }] : [])];
      if (strokes.length) own.strokes = strokes.sort((a, b) => a.start - b.start);
      else delete own.strokes;
    },
  },
  passage: {
    name: 'Move a passage',
    on: 'measures',
    label: ({ values: { goal } }) =>
      'string' in goal
        ? `a passage onto string ${goal.string}`
        : 'position' in goal
          ? `a passage into position ${goal.position}`
          : `a passage ${goal.octaves > 0 ? 'higher' : 'lower'}`,
    moves: 'all',
    all: (draft, { ids, values }, before) => movePassage(draft, ids, values, before),
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
  'add-measures': {
    name: 'Empty measures',
    on: 'measures',
    label: ({ values }) => (values.count === 1 ? 'a measure put in' : `${values.count} measures put in`),
    moves: 'all',
    all: (draft, { ids, values }, before) => addMeasures(draft, ids[0] ?? '', values, before),
  },
  'remove-measures': {
    name: 'Take measures out',
    on: 'measures',
    label: ({ ids }) => (ids.length === 1 ? 'a measure taken out' : `${ids.length} measures taken out`),
    moves: 'all',
    all: (draft, { ids }, before) => removeMeasures(draft, ids, before),
  },
  bars: {
    name: 'Bars, section, repeats, tempo',
    on: 'measures',
    label: ({ values }) => barsLabel(values),
    all: (draft, { ids, values }, before) => changeBars(draft, ids[0] ?? '', values, before),
  },
  meter: {
    name: 'Meter',
    on: 'measures',
    label: ({ values: { meter } }) => `meter ${meter.beats}/${meter.unit}`,
    all: (draft, { ids, values }, before) => changeMeter(draft, ids, values.meter, before),
  },
  key: {
    name: 'Key from here on',
    on: 'measures',
    label: ({ values: { key } }) => `key ${keyName(key)}`,
    all: (draft, { ids, values }, before) => changeKey(draft, ids[0] ?? '', values.key, before),
  },
  chord: {
    name: 'Chord',
    on: 'measures',
    label: ({ values: { name } }) => (name?.trim() ? `chord ${name.trim()}` : 'chord taken off'),
    all: (draft, { ids, values }, before) => changeChord(draft, ids[0] ?? '', values, before),
  },
  word: {
    name: 'Word',
    on: 'measures',
    label: ({ values: { text } }) => (text.trim() ? `word “${text.trim()}”` : 'word taken off'),
    all: (draft, { ids, values }, before) => changeWord(draft, ids[0] ?? '', values, before),
  },
  remark: {
    name: 'Remark',
    on: 'measures',
    label: ({ values: { text } }) => (text.trim() ? 'a remark' : 'remark taken off'),
    all: (draft, { ids, values }, before) => changeRemark(draft, ids[0], values, before),
  },
  feel: {
    name: 'Feel',
    on: 'whole',
    label: ({ values }) => `${values.feel} feel`,
    all: (draft, { values: { feel } }) => {
      if (feel === 'straight') delete draft.feel;
      else draft.feel = feel;
      return undefined;
    },
  },
  take: {
    name: 'Take a proposal over',
    on: 'whole',
    label: ({ values }) => values.what,
    // Measures in which nothing differs stay the very same records, so that what shows them need not draw again.
    all: (draft, { values: { proposal } }, before) => {
      const present = new Map(before.measures.map((measure, index) => [JSON.stringify(measure), index]));
      const { measures, id: _id, tuneId: _tuneId, ...rest } = proposal;
      Object.assign(draft, rest);
      const own = [...draft.measures];
      draft.measures = measures.map(measure => {
        // What is made anew knows nothing of the teacher's remarks: they stay with their measures.
        const remarks = measure.remarks ?? before.measures.find(m => m.id === measure.id)?.remarks;
        const kept = remarks ? { ...measure, remarks } : measure;
        const same = present.get(JSON.stringify(kept));
        return same === undefined ? (kept as Draft<typeof measure>) : own[same]!;
      });
      return undefined;
    },
  },
};
