/**
 * Techniques: how a note is sounded beyond a plain pluck. One list says of each what it is called, how it is printed and
 * what it rules out; tables of the same keys say how it is heard (`sound`), exported (`formats`) and told (`lesson`), and
 * the compiler and a test see to it that none is forgotten.
 */
import type { ScoreNote } from './model';

/** Stands for a note that is not numbered yet, in a link that `mendLinks` resolves to the note before on the string. */
export const UNLINKED = '?';

/** How far and in which way a string is bent. */
export const BEND_SHAPES = ['up', 'release', 'pre', 'repeat'] as const;
export type BendShape = (typeof BEND_SHAPES)[number];

/** A technique of a note, told apart by its kind. `from` is the id of the note out of which it is sounded. */
export type Technique =
  | { kind: 'hammer' | 'pull'; from: string }
  /** `again`: the note at its end is plucked too (a shift slide). */
  | { kind: 'slide'; from: string; again?: boolean }
  | { kind: 'slide-in' | 'slide-off'; way: 'below' | 'above' }
  | { kind: 'bend'; semitones: number; shape: BendShape }
  /** `touch`: frets above the held one at which the plucking hand touches the string; natural where left out. */
  | { kind: 'harmonic'; touch?: number }
  | { kind: 'vibrato' | 'palm-mute' | 'dead' | 'accent' | 'let-ring' | 'damp' | 'tremolo' };
export type TechniqueKind = Technique['kind'];
type TechniqueOf<K extends TechniqueKind> = Technique extends infer T
  ? T extends Technique
    ? K extends T['kind']
      ? T & { kind: K }
      : never
    : never
  : never;

interface TechniqueEntry {
  /** In menus and in the lesson's words. */
  name: string;
  /** Printed at the note. */
  sign: string;
  /** What the sign means, for the foot of a handout. */
  meaning: string;
  /** Kinds that can't stand at the same note. */
  against: readonly TechniqueKind[];
}

const INTO_KINDS = ['hammer', 'pull', 'slide'] as const;

/** Every technique by its kind. */
export const TECHNIQUES: { readonly [K in TechniqueKind]: TechniqueEntry } = {
  hammer: {
    name: 'hammer-on',
    sign: 'H',
    meaning: 'H is hammered on',
    against: ['pull', 'slide', 'slide-in', 'dead', 'harmonic', 'tremolo'],
  },
  pull: {
    name: 'pull-off',
    sign: 'P',
    meaning: 'P is pulled off',
    against: ['hammer', 'slide', 'slide-in', 'dead', 'harmonic', 'tremolo'],
  },
  slide: {
    name: 'slide',
    sign: 'sl',
    meaning: 'a slanting line is a slide',
    against: ['hammer', 'pull', 'slide-in', 'dead', 'harmonic'],
  },
  'slide-in': {
    name: 'slide into it',
    sign: '↗',
    meaning: '↗ or ↘ before a number slides into it',
    against: [...INTO_KINDS, 'dead', 'harmonic', 'tremolo'],
  },
  'slide-off': {
    name: 'slide off it',
    sign: '↘',
    meaning: '↗ or ↘ behind a number slides off it',
    against: ['dead', 'harmonic', 'let-ring'],
  },
  bend: {
    name: 'bend',
    sign: '⤴',
    meaning: '⤴ is bent a whole tone, ⤴½ a half',
    against: ['dead', 'harmonic'],
  },
  harmonic: {
    name: 'harmonic',
    sign: '‹›',
    meaning: '‹ › is a harmonic: touch, don’t press',
    against: [...INTO_KINDS, 'slide-in', 'slide-off', 'bend', 'dead', 'palm-mute', 'tremolo'],
  },
  vibrato: { name: 'vibrato', sign: '∿', meaning: '∿ is vibrato', against: ['dead'] },
  'palm-mute': {
    name: 'palm mute',
    sign: 'PM',
    meaning: 'PM is muted by the palm',
    against: ['dead', 'let-ring', 'harmonic', 'tremolo'],
  },
  dead: {
    name: 'damped stroke',
    sign: 'x',
    meaning: 'x is damped',
    against: [
      ...INTO_KINDS,
      'slide-in',
      'slide-off',
      'bend',
      'harmonic',
      'vibrato',
      'palm-mute',
      'let-ring',
      'damp',
      'tremolo',
    ],
  },
  accent: { name: 'accent', sign: '>', meaning: '> is accented', against: [] },
  'let-ring': {
    name: 'let ring',
    sign: 'LR',
    meaning: 'LR rings on',
    against: ['damp', 'dead', 'palm-mute', 'slide-off'],
  },
  damp: {
    name: 'stopped short',
    sign: '·',
    meaning: 'a dot stops the note at its end',
    against: ['let-ring', 'dead'],
  },
  tremolo: {
    name: 'tremolo',
    sign: '///',
    meaning: '/// is tremolo: struck again and again as long as the note lasts',
    against: ['hammer', 'pull', 'slide-in', 'dead', 'harmonic', 'palm-mute'],
  },
};

const BEND_SIZES: Readonly<Record<number, string>> = { 1: '½', 2: '', 3: '1½' };

/**
 * The sign of a bend with its size in whole tones; a whole tone needs none.
 *
 * @example bendSign(1) // '⤴½'
 */
export function bendSign(semitones: number): string {
  return `${TECHNIQUES.bend.sign}${BEND_SIZES[semitones] ?? semitones / 2}`;
}

export const TECHNIQUE_KINDS = Object.keys(TECHNIQUES) as TechniqueKind[];

/**
 * The technique of a kind that a note has.
 *
 * @example techniqueOf({ techniques: [{ kind: 'slide', from: 'n1' }] }, 'slide') // { kind: 'slide', from: 'n1' }
 */
export function techniqueOf<K extends TechniqueKind>(
  note: Pick<ScoreNote, 'techniques'>,
  kind: K,
): TechniqueOf<K> | undefined {
  return note.techniques?.find((t): t is TechniqueOf<K> => t.kind === kind);
}

/**
 * Whether a note has a technique.
 *
 * @example has({ techniques: [{ kind: 'accent' }] }, 'accent') // true
 */
export function has(note: Pick<ScoreNote, 'techniques'>, kind: TechniqueKind): boolean {
  return note.techniques?.some(t => t.kind === kind) ?? false;
}

/** Gives a note a technique in place of those that can't stand beside it. */
export function putTechnique(note: Pick<ScoreNote, 'techniques'>, technique: Technique): void {
  const { against } = TECHNIQUES[technique.kind];
  const others = (note.techniques ?? []).filter(t => t.kind !== technique.kind && !against.includes(t.kind));
  // Always in the order of the list, so that the same techniques are the same record.
  note.techniques = [...others, technique].sort(
    (a, b) => TECHNIQUE_KINDS.indexOf(a.kind) - TECHNIQUE_KINDS.indexOf(b.kind),
  );
}

/** Takes techniques off a note. */
export function dropTechniques(note: Pick<ScoreNote, 'techniques'>, kinds: readonly TechniqueKind[]): void {
  const rest = (note.techniques ?? []).filter(t => !kinds.includes(t.kind));
  if (rest.length) note.techniques = rest;
  else delete note.techniques;
}

/** How the fretting hand sounds a note without a pluck. */
export const INTOS = INTO_KINDS;
export type Into = (typeof INTOS)[number];

/** A technique that leads from one note to another. */
export type IntoTechnique = Extract<Technique, { from: string }>;

/**
 * How the fretting hand gets into a note from another one on its string, with the id of that one.
 *
 * @example intoOf({ techniques: [{ kind: 'hammer', from: 'n1' }] }) // { kind: 'hammer', from: 'n1' }
 */
export function intoOf(note: Pick<ScoreNote, 'techniques'>): IntoTechnique | undefined {
  return note.techniques?.find((t): t is IntoTechnique => 'from' in t);
}
