/** What was read of a part of a MusicXML document, in the units of the app. */
import type { Finger } from '../../hand';
import type { Pitch } from '../../pitch';
import type { PlacedPhrase, Pluck, ScoreChord, StrokeKind, StrokeWay, Technique } from '../../score';
import type { Feel, NoteTuplet } from '../../time';
import type { UnnamedMeasure } from '../../tune';

/** A note or rest of a part. */
export interface PartNote {
  /** Ticks from the start of its measure. */
  start: number;
  ticks: number;
  /** As it sounds; absent for a rest. */
  pitch?: Pitch;
  voice: string;
  staff: number;
  /** Struck together with the one before. */
  together: boolean;
  stem?: 'up' | 'down';
  tuplets?: NoteTuplet[];
  /** It sounds on from the note before at its pitch, or into the next. */
  tieFrom: boolean;
  tieOn: boolean;
  graces: PartNote[];
  string?: number;
  fret?: number;
  finger?: Finger;
  pluck?: Pluck;
  /** Numbers of the slurs that begin and end here. */
  slurStarts: string[];
  slurEnds: string[];
  techniques: Technique[];
  stroke?: { kind: StrokeKind; way: StrokeWay };
  fermata: boolean;
  /** A syllable a verse. */
  words: string[];
}

/** A measure of a part. */
export type PartMeasure = Omit<UnnamedMeasure, 'events' | 'others'> & {
  notes: PartNote[];
  /** Name of the section that this one is played as. */
  as?: string;
  /** Grips that are drawn with chord names, string 1 first. */
  grips?: ({ start: number } & Pick<ScoreChord, 'frets' | 'fingers'>)[];
};

export type PartPhrase = Pick<PlacedPhrase, 'name' | 'first' | 'begins' | 'last' | 'ends'>;

/** A part of a document. */
export interface ScorePart {
  id: string;
  name: string;
  measures: PartMeasure[];
  /** Open strings, string 1 first, where it is written for strings. */
  tuning?: string[];
  capo?: number;
  feel?: Feel;
  /** Passages under a bracket with a name, by places of measures and ticks within them. */
  phrases: PartPhrase[];
  /** Staves that are tablature, and how many lines one has. */
  tabStaves: ReadonlySet<number>;
  lines?: number;
  /** Whether some key has no mode. */
  modeUnsaid: boolean;
}
