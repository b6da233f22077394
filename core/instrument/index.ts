/**
 * Instruments, tunings, capo and fretboard geometry.
 *
 * Strings are numbered from 1 = the thinnest, as the trade counts. Frets are counted from the capo
 * (0 = open, or at the capo); a physical fret is counted from the nut. Lengths are in millimetres.
 */
export * from './geometry';
export * from './instruments';
export * from './notes';
export * from './openTuning';
export * from './setup';
export * from './tuning';
