/**
 * Chord symbols: reading them, their notes by degree, moving them between keys, and naming notes.
 */
export * from './naming';
export * from './otherNames';
export * from './symbol';
