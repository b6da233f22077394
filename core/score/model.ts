import type { Finger, Hand } from '../hand';
import { harmonicAt, noteAt, type Setup } from '../instrument';
import type { Key } from '../pitch';
import type { Meter, Tuplet } from '../time';
import type { Rights } from '../tune';
import type { ArrangeSettings } from './settings';

export type Voice = 'melody' | 'bass' | 'inner';

/** Plucking: thumb p, index i, middle m, ring a; or a pick's down- and upstroke. */
export type Pluck = 'p' | 'i' | 'm' | 'a' | 'down' | 'up';

/** How a tune is played; 'pattern' accompanies a song that is sung. */
export type Style = 'fingerstyle' | 'chord-melody' | 'melody' | 'pattern';

/**
 * One note of an arrangement. Its pitch is never stored: it is the string's open note, the capo and the fret.
 */
export interface ScoreNote {
  id: string;
  voice: Voice;
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
  /** Sounds on from the note before on this string: not plucked again. */
  tied?: boolean;
  tuplet?: Tuplet & { group: number };
  /** Grace notes before it, as frets on its string. */
  graces?: number[];
  /** How they lead into it: hammered and pulled when left out, else slid, or each plucked (a quick change). */
  graceBy?: 'slide' | 'pick';
  /** Sounded by the fretting hand out of the note before on its string: not plucked. */
  into?: Into;
  /** Natural harmonic: the string is touched over the fret, not pressed. */
  harmonic?: boolean;
  /** Damped stroke without pitch, printed x. */
  dead?: boolean;
  accent?: boolean;
  slurStarts?: number;
  slurEnds?: number;
  /** Changed by hand: generated work leaves it alone. */
  pinned?: boolean;
  /** The plucking finger was set by hand: an exception to the school that stays. */
  pluckPinned?: boolean;
}

/** How the fretting hand sounds a note without a pluck. */
export const INTOS = ['hammer', 'pull', 'slide'] as const;
export type Into = (typeof INTOS)[number];

/** MIDI note that a note sounds; for a damped stroke, that of its place. */
export function noteMidi(setup: Setup, note: Pick<ScoreNote, 'string' | 'fret' | 'harmonic'>): number {
  const harmonic = note.harmonic ? harmonicAt(setup, note.string, note.fret) : undefined;
  return harmonic ?? noteAt(setup, note.string, note.fret);
}

/** Whether the plucking hand strikes a note: neither tied on nor sounded by the fretting hand. */
export function isStruck(note: Pick<ScoreNote, 'tied' | 'into'>): boolean {
  return !note.tied && !note.into;
}

/** A chord over a measure. Its sounding name is the shape's name moved up by the capo. */
export interface ScoreChord {
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
}

export interface ScoreMeasure {
  meter: Meter;
  /** Key as it sounds. */
  key: Key;
  ticks: number;
  offset: number;
  repeatStart?: boolean;
  repeatEnd?: boolean;
  ending?: number[];
  barline?: 'double' | 'final';
  section?: string;
  chords: ScoreChord[];
  /** Syllables under notes, one a verse. */
  words: { start: number; verses: string[] }[];
  notes: ScoreNote[];
}

export interface Arrangement {
  id: string;
  tuneId: string;
  title: string;
  composer?: string;
  rights: Rights;
  setup: Setup;
  style: Style;
  hand: Hand;
  /** What it was last arranged with; absent in arrangements from before there was a choice. */
  settings?: ArrangeSettings;
  quartersPerMinute: number;
  /** Semitones by which the whole tune was moved: a multiple of 12. */
  octaveShift: number;
  /** Semitones by which the tune was moved to another key before that; absent for none. */
  transposition?: number;
  measures: ScoreMeasure[];
  /** Why this capo and these shapes. */
  reasons: string[];
  /** Everything that differs from the source, in words. */
  ledger: string[];
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

/** The moments of one measure, in order; tied notes strike nothing but are part of them. */
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

export function findNote(arrangement: Pick<Arrangement, 'measures'>, id: string): NotePlace | undefined {
  for (const [measure, { notes }] of arrangement.measures.entries()) {
    const note = notes.find(n => n.id === id);
    if (note) return { measure, note };
  }
  return undefined;
}

/** The melody's notes in written order, tied parts included. */
export function playedMelody(arrangement: Pick<Arrangement, 'measures'>): ScoreNote[] {
  return arrangement.measures.flatMap(measure =>
    measure.notes.filter(note => note.voice === 'melody').sort((a, b) => a.start - b.start),
  );
}
