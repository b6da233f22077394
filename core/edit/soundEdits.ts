/** Edits of how a note is sounded. */
import { graceFingers } from '../fingering';
import { IdGiver } from '../identity';
import {
  type Arrangement,
  dropTechniques,
  findNote,
  type Graces,
  gracesOf,
  gracesText,
  gripOf,
  INTOS,
  intoFault,
  intoOf,
  isDead,
  isStruck,
  lastOn,
  type NotePlace,
  noteBefore,
  placeOfGrace,
  putGraces,
  putTechnique,
  type ScoreNote,
  type Stroke,
  soundingAt,
  strokeAt,
  strokeWords,
  TECHNIQUES,
} from '../score';
import type { Definitions, EditKey } from './definition';
import { gracesFault } from './entry';
import { SHIFT_SLIDE_KEY, TECHNIQUE_KEYS, techniqueFault } from './techniques';

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
    frets.map(spot => placeOfGrace(note, spot)),
  );
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

/** Most grace notes of a note. */
const MOST_GRACES = 24;

/** How a note is sounded: out of which, by which technique, with what around it. */
export const SOUND_EDITS: Definitions<'tie' | 'into' | 'technique' | 'ornament' | 'stroke' | 'graces'> = {
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
  graces: {
    name: 'Grace notes',
    on: 'notes',
    label: ({ values: { frets } }) =>
      frets.length
        ? `grace note${frets.length > 1 ? 's' : ''} ${gracesText(frets).replaceAll(' ', ', ')}`
        : 'grace notes taken off',
    fault: (arrangement, { note, measure }, { frets }) => {
      if (isDead(note)) return 'a damped stroke has no grace notes';
      if (note.tie !== undefined) return 'a note that is tied on has no grace notes';
      if (frets.length > MOST_GRACES) return `a note has at most ${MOST_GRACES} grace notes`;
      const [last] = frets.slice(-1);
      if (last === note.fret) return 'the last grace note lies on the fret of the note itself';
      const others = soundingAt(arrangement.measures[measure]!, note.start).filter(own => own.id !== note.id);
      const taken = frets.find(
        spot => typeof spot !== 'number' && others.some(own => own.string === spot.string),
      );
      if (typeof taken === 'object') return `another note sounds on string ${taken.string} there`;
      return gracesFault(arrangement, note, frets);
    },
    each: (draft, { note, measure }, { frets, by }, before) => {
      const ids = new IdGiver(draft.nextId);
      const graces = { frets: [...frets], ...(by && { by }) };
      putGraces(note, graces, () => ids.give('grace'));
      const fingers = fingersOf(before, measure, findNote(before, note.id)!.note, graces);
      for (const [i, grace] of (note.graces ?? []).entries()) if (fingers?.[i]) grace.finger = fingers[i];
      draft.nextId = ids.nextId;
      note.pinned = true;
    },
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
};
