/**
 * Chord shapes: the search over the fretboard, what a shape is, changes through a progression, their fingers, and other holds.
 */

export * from './describe';
export { shapeEffort } from './effort';
export * from './equivalents';
export * from './fingers';
export * from './progression';
export * from './search';
export * from './usual';
