/**
 * Chord shapes: the search over the fretboard, what a shape is, changes through a progression, and other holds.
 */

export * from './describe';
export * from './equivalents';
export * from './progression';
export * from './search';
export * from './usual';
