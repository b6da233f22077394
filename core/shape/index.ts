/**
 * Chord shapes: the search over the fretboard.
 */
export * from './search';
export * from './progression';
