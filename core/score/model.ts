import type { Finger, Hand } from '../hand';
import { harmonicAt, noteAt, type Place, type Setup } from '../instrument';
import type { Key } from '../pitch';
import type { Feel, Meter, NoteTuplet } from '../time';
import type { Bars, Rights } from '../tune';
import type { Phrase } from './phrases';
import type { Remark } from './remarks';
import type { ArrangeSettings } from './settings';
import type { Stroke } from './strokes';
import { has, intoOf, type Technique, techniqueOf } from './techniques';
import type { Variant } from './variants';

/** What a note is for: what arranging, mixing and levels go by. */
export const ROLES = ['melody', 'bass', 'inner'] as const;
export type Role = (typeof ROLES)[number];

/** The voice that a note is written in: what stems, rests and print go by. */
export type Voice = 1 | 2 | 3 | 4;

/** Plucking: thumb p, index i, middle m, ring a; or a pick's down- and upstroke. */
export type Pluck = 'p' | 'i' | 'm' | 'a' | 'down' | 'up';

/** What plucks, in words. */
export const PLUCK_NAMES: Readonly<Record<Pluck, string>> = {
  p: 'the thumb',
  i: 'the index',
  m: 'the middle finger',
  a: 'the ring finger',
  down: 'a downstroke',
  up: 'an upstroke',
};

/** How a tune is played; 'pattern' accompanies a song that is sung. */
export type Style = 'fingerstyle' | 'chord-melody' | 'melody' | 'pattern';

/**
 * One note of an arrangement. Its pitch is never stored: it is the string's open note, the capo and the fret.
 */
export interface ScoreNote {
  id: string;
  /** The tune's note that it plays; absent for what the arranger or a hand has added. */
  from?: string;
  role: Role;
  /** Ticks from the start of what is written in the measure. */
  start: number;
  /** Length as written; how long it truly sounds is computed (see ring). */
  ticks: number;
  /** 1 = thinnest. */
  string: number;
  /** From the capo; 0 = open. */
  fret: number;
  finger?: Finger;
  pluck?: Pluck;
  /** Written in another voice than its role has (see `voiceOf`). */
  voice?: Voice;
  /** Id of the note that it sounds on from: not plucked again. */
  tie?: string;
  /** Tuplets it stands in, the outermost first. */
  tuplets?: NoteTuplet[];
  /** Grace notes before it, in their order. */
  graces?: GraceNote[];
  /** How they lead into it: hammered and pulled when left out, else slid, or each plucked (a quick change). */
  graceBy?: 'slide' | 'pick';
  /** How it is sounded beyond a plain pluck. */
  techniques?: Technique[];
  /** Ids of the notes at which slurs of the source end that begin here. */
  slurs?: string[];
  /** What else the arranger could have put here, and why it did not. */
  nextBest?: NextBest;
  /** Changed by hand: generated work leaves it alone. */
  pinned?: boolean;
  /** The finger was set by hand: the solver keeps it. */
  fingerPinned?: boolean;
  /** The plucking finger was set by hand: an exception to the school that stays. */
  pluckPinned?: boolean;
}

/** What the arranger's choice of strings weighs. */
export const COST_PARTS = [
  'place',
  'grip',
  'shape',
  'moves',
  'ring',
  'slur',
  'line',
  'accompaniment',
  'wishes',
  'alike',
] as const;
export type CostPart = (typeof COST_PARTS)[number];

/** An effort by what it is made of; without unit, as all efforts. */
export type Costs = Partial<Record<CostPart, number>>;

/** The best that could have been there in the stead of a note, or of what sounds with the melody there. */
export interface NextBest {
  /** No places: to leave it out. */
  places: Place[];
  /** How much more each part of the effort would have been, or less where negative. */
  more: Costs;
}

/** A grace note: a note of its own, played quickly before the one that carries it. */
export interface GraceNote {
  id: string;
  string: number;
  fret: number;
  finger?: Finger;
}

/** A rest of a voice. Where a voice has neither note nor rest, nothing is printed. */
export interface ScoreRest {
  id: string;
  /** The tune's rest that it is. */
  from?: string;
  voice: Voice;
  start: number;
  ticks: number;
  tuplets?: NoteTuplet[];
}

/**
 * The voice a note is written in: the melody's is the first, all that is under it the second, unless it says another.
 *
 * @example voiceOf({ role: 'bass' }) // 2
 */
export function voiceOf(note: Pick<ScoreNote, 'role' | 'voice'>): Voice {
  return note.voice ?? (note.role === 'melody' ? 1 : 2);
}

/**
 * MIDI note that a note sounds; for a damped stroke, that of its place.
 *
 * @example noteMidi(setup, { string: 2, fret: 1 }) // 60
 */
export function noteMidi(setup: Setup, note: Pick<ScoreNote, 'string' | 'fret' | 'techniques'>): number {
  const harmonic = techniqueOf(note, 'harmonic');
  const stopped = noteAt(setup, note.string, note.fret);
  if (!harmonic) return stopped;
  if (harmonic.touch === undefined) return harmonicAt(setup, note.string, note.fret) ?? stopped;
  // Touched above a held fret the string sounds as far above it as it would above its open note.
  const open = noteAt(setup, note.string, 0);
  return stopped + (harmonicAt(setup, note.string, harmonic.touch) ?? open) - open;
}

/**
 * Whether the plucking hand strikes a note: neither tied on nor sounded by the fretting hand.
 *
 * @example isStruck({ tie: 'n1' }) // false
 */
export function isStruck(note: Pick<ScoreNote, 'tie' | 'techniques'>): boolean {
  const into = intoOf(note);
  return !note.tie && (!into || (into.kind === 'slide' && into.again === true));
}

/**
 * Whether a note is a damped stroke, without pitch.
 *
 * @example isDead({ techniques: [{ kind: 'dead' }] }) // true
 */
export function isDead(note: Pick<ScoreNote, 'techniques'>): boolean {
  return has(note, 'dead');
}

/** A chord over a measure. Its sounding name is the shape's name moved up by the capo. */
export interface ScoreChord {
  id: string;
  /** The tune's chord that it is. */
  from?: string;
  start: number;
  /** Name of the shape the hand makes. */
  shape: string;
  /** Name of what is heard. */
  sounding: string;
  /** Frets of the grip chosen for it, string 1 first; null = not played. */
  frets?: (number | null)[];
  /** Fingers of that grip, string 1 first. */
  fingers?: (number | null)[];
  /** Added by the arranger to lead into the next chord. */
  passing?: boolean;
  /** Set by a hand in the arrangement: it stays when the notes are made anew. */
  byHand?: boolean;
}

export interface ScoreMeasure extends Bars {
  id: string;
  /**
   * The tune's measure that it plays, and the marks of what that held then (see `sourceMark`, empty when not known) and of
   * its bars and words (see `formMark`, absent when not known).
   */
  from?: { id: string; mark: string; form?: string };
  meter: Meter;
  /** Key as it sounds. */
  key: Key;
  ticks: number;
  offset: number;
  chords: ScoreChord[];
  /** Syllables under notes, one a verse. */
  words: { start: number; verses: string[] }[];
  notes: ScoreNote[];
  rests?: ScoreRest[];
  /** Moments that are not struck at once but string by string. */
  strokes?: Stroke[];
  /** What the teacher wants to be remembered. */
  remarks?: Remark[];
}

/** Something in which an arrangement differs from its source. */
export interface LedgerLine {
  id: string;
  /** Ids of the measures it is about; none for the whole. */
  measures: string[];
  /** What differs, without its place: "a grace note is left out". */
  text: string;
}

export interface Arrangement {
  id: string;
  /** Next free number for the ids of its parts. */
  nextId: number;
  tuneId: string;
  /** The tune's title. */
  title: string;
  /** What the teacher calls this arrangement among those of its tune: "Easy, for beginners". */
  name?: string;
  composer?: string;
  rights: Rights;
  setup: Setup;
  style: Style;
  hand: Hand;
  /** What it was last arranged with; absent in arrangements from before there was a choice. */
  settings?: ArrangeSettings;
  quartersPerMinute: number;
  /** How the parts of a beat are played; straight when left out. */
  feel?: Feel;
  /** Semitones by which the whole tune was moved: a multiple of 12. */
  octaveShift: number;
  /** Semitones by which the tune was moved to another key before that; absent for none. */
  transposition?: number;
  measures: ScoreMeasure[];
  /** Ids of the sections in the order in which they are played, where that is not as written. */
  order?: string[];
  /** Other ways to play some of its measures. */
  variants?: Variant[];
  /** Passages that have a name. */
  phrases?: Phrase[];
  /** The teacher's remark on the piece. */
  remark?: string;
  /** Why this capo and these shapes. */
  reasons: string[];
  /** Everything that differs from the source. */
  ledger: LedgerLine[];
}

export const STYLES: Style[] = ['fingerstyle', 'chord-melody', 'melody', 'pattern'];

/** Place of a note: measure (from 0) and note. */
export interface NotePlace {
  measure: number;
  note: ScoreNote;
}

/** Notes that begin together. */
export interface Moment {
  measure: number;
  /** Ticks from the start of what is written in the measure. */
  start: number;
  notes: ScoreNote[];
}

/**
 * The moments of one measure, in order; tied notes strike nothing but are part of them.
 *
 * @example momentsOf(arrangement.measures[0], 0).length // 4
 */
export function momentsOf(measure: Pick<ScoreMeasure, 'notes'>, index: number): Moment[] {
  const byStart = new Map<number, ScoreNote[]>();
  for (const note of measure.notes) {
    const group = byStart.get(note.start);
    if (group) group.push(note);
    else byStart.set(note.start, [note]);
  }
  return [...byStart.entries()]
    .sort((a, b) => a[0] - b[0])
    .map(([start, notes]) => ({ measure: index, start, notes: notes.sort((a, b) => a.string - b.string) }));
}

/**
 * Where a measure stands (from 0), by its id; −1 for one that is not there any more.
 *
 * @example measureIndex(arrangement, arrangement.measures[1].id) // 1
 */
export function measureIndex(arrangement: Pick<Arrangement, 'measures'>, id: string): number {
  return arrangement.measures.findIndex(measure => measure.id === id);
}

/**
 * A note with its measure and their places; undefined where no note has the id.
 *
 * @example findNote(arrangement, arrangement.measures[1].notes[0].id).measure // 1
 */
export function findNote(arrangement: Pick<Arrangement, 'measures'>, id: string): NotePlace | undefined {
  for (const [measure, { notes }] of arrangement.measures.entries()) {
    const note = notes.find(n => n.id === id);
    if (note) return { measure, note };
  }
  return undefined;
}

/**
 * The melody's notes in written order, tied parts included.
 *
 * @example playedMelody(arrangement).length // 9
 */
export function playedMelody(arrangement: Pick<Arrangement, 'measures'>): ScoreNote[] {
  return arrangement.measures.flatMap(measure =>
    measure.notes.filter(note => note.role === 'melody').sort((a, b) => a.start - b.start),
  );
}
