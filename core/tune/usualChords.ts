import type { Mode } from '../pitch';

/** What a chord does in its key: home, what leads home, what leads there, or a dominant of another chord. */
export type ChordRole = 'tonic' | 'dominant' | 'subdominant' | { dominantOf: readonly number[] } | undefined;

/**
 * The chords players usually reach for in each mode, as semitones over the tonic, quality, reluctance (0 = at once) and
 * what they do. Common practice; minor tunes take the major or minor fifth-degree chord as their melody asks, and modal
 * ones close over the chord on their flat seventh (mixolydian, dorian) or flat second (phrygian).
 */
export const USUAL_CHORDS: Record<Mode, readonly (readonly [number, string, number, ChordRole?])[]> = {
  major: [
    [0, '', 0, 'tonic'],
    [5, '', 0.2, 'subdominant'],
    [7, '7', 0.1, 'dominant'],
    [9, 'm', 0.55],
    [2, 'm', 0.7, 'subdominant'],
    [4, 'm', 0.8],
    [2, '7', 1.4, { dominantOf: [7] }],
    [9, '7', 1.6, { dominantOf: [2] }],
    [4, '7', 1.6, { dominantOf: [9] }],
    [0, '7', 2, { dominantOf: [5] }],
  ],
  mixolydian: [
    [0, '', 0, 'tonic'],
    [10, '', 0.3, 'dominant'],
    [5, '', 0.2, 'subdominant'],
    [7, '', 0.6, 'dominant'],
    [7, 'm', 0.8, 'dominant'],
    [2, 'm', 0.9],
  ],
  minor: [
    [0, 'm', 0, 'tonic'],
    [10, '', 0.3],
    [3, '', 0.5],
    [5, 'm', 0.5, 'subdominant'],
    [7, '7', 0.4, 'dominant'],
    [7, 'm', 0.7],
    [8, '', 0.6],
    [5, '', 0.9, 'subdominant'],
  ],
  dorian: [
    [0, 'm', 0, 'tonic'],
    [10, '', 0.3, 'dominant'],
    [5, '', 0.5, 'subdominant'],
    [3, '', 0.5],
    [7, '7', 0.6, 'dominant'],
    [7, 'm', 0.7],
    [5, 'm', 0.9, 'subdominant'],
  ],
  phrygian: [
    [0, 'm', 0, 'tonic'],
    [1, '', 0.3, 'dominant'],
    [10, 'm', 0.5],
    [3, '', 0.5],
    [5, 'm', 0.5, 'subdominant'],
    [8, '', 0.5],
  ],
  lydian: [
    [0, '', 0, 'tonic'],
    [7, '', 0.2, 'dominant'],
    [2, '', 0.4],
    [9, 'm', 0.6],
  ],
  locrian: [
    [0, 'dim', 0, 'tonic'],
    [1, '', 0.3, 'dominant'],
    [10, 'm', 0.4],
  ],
};
