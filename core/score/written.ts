/** Music as it is said or read: notes of measures that have no ids yet. */
import type { Finger } from '../hand';
import type { NoteTuplet } from '../time';
import type { GraceSpot } from './graces';
import type { Pluck, Role, ScoreNote, Voice } from './model';
import type { Stroke } from './strokes';
import type { Technique } from './techniques';

/** A note before it is part of an arrangement. What leads to another note leads from `UNLINKED`: the one before on its string. */
export interface WrittenNote {
  /** Ticks from the start of its measure. */
  start: number;
  ticks: number;
  string: number;
  fret: number;
  /** As usual for its string where it is not said. */
  role?: Role;
  finger?: Finger;
  pluck?: Pluck;
  /** It sounds on from the note before on its string. */
  tie?: boolean;
  tuplets?: NoteTuplet[];
  /** Grace notes before it. */
  graces?: GraceSpot[];
  graceBy?: NonNullable<ScoreNote['graceBy']>;
  techniques?: Technique[];
}

/** A measure before it is part of an arrangement. */
export interface WrittenMeasure {
  /** Length in ticks of what is written. */
  ticks: number;
  notes: WrittenNote[];
  rests?: { voice: Voice; start: number; ticks: number; tuplets?: NoteTuplet[] }[];
  strokes?: Stroke[];
  /** Repeat signs at its left and right, and how often the strain that closes here is played in all. */
  repeat?: { start?: boolean; end?: boolean; passes?: number };
  /** Passes on which it is played. */
  ending?: number[];
  /** Name of the section that begins with it. */
  section?: string;
  /** Syllables under notes, one a verse. */
  words?: { start: number; verses: string[] }[];
  /** Chord names, as the shapes are called. */
  chords?: { start: number; name: string }[];
}
