/** What the arranger can be asked for. */
import { INSTRUMENTS, type InstrumentId } from '../instrument';
import type { Arrangement, Style } from './model';

/**
 * How much is played: 1 the melody alone, 2 with one bass note a chord, 3 with the accompaniment of the style,
 * 4 with fills in the gaps. A lower level is the same hands with fewer notes, so that nothing is unlearned.
 */
export const LEVELS = [1, 2, 3, 4] as const;
export type Level = (typeof LEVELS)[number];

/**
 * What the thumb does: the root on every beat; root and fifth (or third) in turn; roots on strong beats; steps that
 * lead into the next chord; one open string of the key all through; what a picking pattern gives it; nothing.
 */
export const BASS_SCHOOLS = [
  'steady',
  'alternating',
  'strong',
  'walking',
  'drone',
  'pattern',
  'none',
] as const;
export type BassSchool = (typeof BASS_SCHOOLS)[number];
/** Schools of which the root can take turns with the fifth where a chord stays: see `bassTurns`. */
export const BASSES_IN_TURN: ReadonlySet<BassSchool> = new Set<BassSchool>(['pattern', 'strong']);

/** Where a chord melody has grips: at chord changes and first beats, on strong beats, under every note. */
export const DENSITIES = ['changes', 'strong', 'every'] as const;
export type Density = (typeof DENSITIES)[number];

/** What takes turns with the root in an alternating bass: the fifth, the third, or fifth and another over three strings. */
export const ALTERNATIONS = ['fifth', 'third', 'three'] as const;
export type Alternation = (typeof ALTERNATIONS)[number];

/**
 * What a chord melody sets with the melody: grips under it; one note a third or sixth below; one on the next thinner
 * string; an open string that drones.
 */
export const DOUBLINGS = ['grips', 'thirds', 'sixths', 'thinner', 'drone'] as const;
export type Doubling = (typeof DOUBLINGS)[number];

/** Schools of the plucking hand; see `assignPlucks`. */
export const PLUCK_SCHOOLS = ['by-string', 'thumb-index', 'thumb-two', 'pick', 'pick-fingers'] as const;
export type PluckSchool = (typeof PLUCK_SCHOOLS)[number];

/** How much the melody is ornamented by itself. */
export const ORNAMENTING = ['plain', 'some', 'many'] as const;
export type Ornamenting = (typeof ORNAMENTING)[number];

/** What the arranger was asked for beside style, set-up and hand. */
export interface ArrangeSettings {
  level: Level;
  /** Difficulty of a measure at most: the level is lowered measure by measure where it is more; any when left out. */
  hardest?: number;
  bass: BassSchool;
  /** Of the bass 'alternating'; the fifth when left out. */
  alternation?: Alternation;
  density: Density;
  /** Of a chord melody; grips when left out. */
  doubling?: Doubling;
  /** Whether chords that pass are added to a chord melody, chosen by voice leading. */
  passing?: boolean;
  /** Most notes of a grip, melody included: 2 to 4. */
  voices: number;
  school: PluckSchool;
  /** Jigs and other compound meters with a pick: down-up-down in each group of three, or strictly alternating. */
  jig: 'group' | 'alternate';
  /** Lays the melody across strings so that neighbouring notes ring into each other. */
  ringing?: boolean;
  /** False leaves out what a tuning that is open to the key lets ring by itself: drones, fills and turns on open strings. */
  drones?: boolean;
  /** Plays the melody up the neck, about the eighth fret, where it does not ring across strings. */
  high?: boolean;
  /** Long notes of the melody in tremolo, where nothing else is struck under them. */
  tremolo?: boolean;
  /** Grace notes added to the melody; plain when left out. */
  ornaments?: Ornamenting;
  /** Picking pattern or strum of the style 'pattern' and of the bass 'pattern'; the usual one when left out. */
  pattern?: string;
  /** The pattern begins again where the chord changes inside a measure; else it runs on. */
  patternRestarts?: boolean;
  /** Of `BASSES_IN_TURN`: where a chord stays its root takes turns with its fifth; else each is the root. */
  bassTurns?: boolean;
  /** Sections that have a pattern of their own, by id. */
  sectionPatterns?: Record<string, string>;
  /** Measures that have a pattern of their own, by the id of the tune's measure. */
  measurePatterns?: Record<string, string>;
  /** Of the style 'pattern': before a chord changes the bass runs by step from its root to the next. */
  rootRuns?: boolean;
}

/**
 * What is arranged where nothing else is asked.
 *
 * @param style what is arranged: fingers pluck a bass under a melody on every instrument
 * @example usualSettings('mandolin').school // 'pick'
 */
export function usualSettings(instrument: InstrumentId, style?: Style): ArrangeSettings {
  const { kind } = INSTRUMENTS[instrument];
  return {
    level: 3,
    bass: 'alternating',
    density: 'changes',
    voices: 4,
    school: kind === 'guitar' || style === 'fingerstyle' ? 'by-string' : 'pick',
    jig: 'group',
  };
}

/**
 * What an arrangement was made with.
 *
 * @example settingsOf({ setup, settings: undefined }).school // 'by-string'
 */
export function settingsOf(arrangement: Pick<Arrangement, 'setup' | 'settings'>): ArrangeSettings {
  return { ...usualSettings(arrangement.setup.instrument), ...arrangement.settings };
}
