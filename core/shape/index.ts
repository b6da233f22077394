/**
 * Chord shapes: the search over the fretboard.
 */

export * from './progression';
export * from './search';
