/** Techniques given by hand: what a note can have, and the keys for it. */
import { harmonicAt, stringName } from '../instrument';
import {
  type Arrangement,
  has,
  type IntoTechnique,
  intoOf,
  type ScoreNote,
  TECHNIQUES,
  type Technique,
  techniqueOf,
} from '../score';
import type { EditKey } from './definition';

/** A technique that leads from no other note: those that do are `into`. */
export type OwnTechnique = Exclude<Technique, IntoTechnique>;

/** Those that are simply there or not. */
export const SIMPLE_TECHNIQUES = [
  'accent',
  'vibrato',
  'palm-mute',
  'dead',
  'let-ring',
  'damp',
  'tremolo',
] as const;

/** Over these frets above a held one the plucking hand touches for an artificial harmonic. */
export const TOUCHES = [12, 7, 5] as const;

/**
 * Why a note can't have a technique; undefined when it can.
 *
 * @example
 * techniqueFault(arrangement, { id: 'n', role: 'bass', start: 0, ticks: 1, string: 6, fret: 0 }, { kind: 'vibrato' })
 * // 'an open string has no finger on it for that'
 */
export function techniqueFault(
  { setup }: Pick<Arrangement, 'setup'>,
  note: ScoreNote,
  technique: OwnTechnique,
): string | undefined {
  const { kind } = technique;
  if (note.tie !== undefined && kind !== 'let-ring' && kind !== 'damp')
    return 'a note that sounds on from the one before is not sounded again';
  const against = (note.techniques ?? []).find(
    own => own.kind !== kind && TECHNIQUES[kind].against.includes(own.kind),
  );
  if (against) return `${TECHNIQUES[against.kind].name} and ${TECHNIQUES[kind].name} rule each other out`;
  if (kind === 'harmonic') {
    const { touch } = technique;
    if (touch === undefined && harmonicAt(setup, note.string, note.fret) === undefined)
      return `over fret ${note.fret} ${stringName(setup, note.string)} has no natural harmonic`;
    if (touch !== undefined && harmonicAt(setup, note.string, touch) === undefined)
      return `${touch} frets above it there is no harmonic to touch`;
  }
  if (note.fret === 0 && ['bend', 'vibrato', 'slide-in', 'slide-off'].includes(kind))
    return 'an open string has no finger on it for that';
  return undefined;
}

/** A key that gives a technique, or takes it off where the note has just that. */
const techniqueKey = (key: string, technique: OwnTechnique, does: string): EditKey => ({
  key,
  does,
  edit: (_, note) => ({
    kind: 'technique',
    ids: [note.id],
    values: {
      technique,
      on: JSON.stringify(techniqueOf(note, technique.kind)) !== JSON.stringify(technique),
    },
  }),
});

const onOff = (key: string, kind: (typeof SIMPLE_TECHNIQUES)[number]): EditKey =>
  techniqueKey(key, { kind }, `${TECHNIQUES[kind].name} on or off`);

export const TECHNIQUE_KEYS: readonly EditKey[] = [
  onOff('>', 'accent'),
  onOff('v', 'vibrato'),
  onOff('x', 'dead'),
  onOff('shift+M', 'palm-mute'),
  onOff('o', 'let-ring'),
  onOff('d', 'damp'),
  onOff('z', 'tremolo'),
  techniqueKey('b', { kind: 'bend', semitones: 2, shape: 'up' }, 'bent a whole tone, or not'),
  techniqueKey('shift+B', { kind: 'bend', semitones: 1, shape: 'up' }, 'bent a half tone, or not'),
  {
    key: 'w',
    does: 'the way of the bend: up, up and back, bent before the pluck, twice',
    edit: (_, note) => {
      const bend = techniqueOf(note, 'bend');
      const shapes = ['up', 'release', 'pre', 'repeat'] as const;
      const shape = bend ? shapes[(shapes.indexOf(bend.shape) + 1) % shapes.length]! : 'up';
      const technique: OwnTechnique = { kind: 'bend', semitones: bend?.semitones ?? 2, shape };
      return { kind: 'technique', ids: [note.id], values: { technique, on: true } };
    },
  },
  techniqueKey('/', { kind: 'slide-in', way: 'below' }, 'slid into from below, or not'),
  techniqueKey('\\', { kind: 'slide-off', way: 'below' }, 'slid off downwards, or not'),
  {
    key: 'shift+H',
    does: 'harmonic over its fret, else touched twelve frets above; again: pressed',
    edit: ({ setup }, note) => {
      const natural = harmonicAt(setup, note.string, note.fret) !== undefined;
      const technique: OwnTechnique = natural ? { kind: 'harmonic' } : { kind: 'harmonic', touch: 12 };
      return { kind: 'technique', ids: [note.id], values: { technique, on: !has(note, 'harmonic') } };
    },
  },
];

/** A slide whose end is plucked too, or a plain one again. */
export const SHIFT_SLIDE_KEY: EditKey = {
  key: 'shift+S',
  does: 'slid out of the note before and plucked at its end; again: plucked only',
  edit: (_, note) => {
    const into = intoOf(note);
    const again = into?.kind === 'slide' && into.again === true;
    return {
      kind: 'into',
      ids: [note.id],
      values: again ? { into: null } : { into: 'slide', again: true },
    };
  },
};
