/**
 * Sound: what is to be played, rendered to samples.
 */

export { type PitchPoint, semitonesAt } from './curve';
export * from './melody';
export * from './performance';
export * from './render';
