/**
 * Sound: what is to be played, rendered to samples.
 */

export * from './counts';
export { type PitchPoint, semitonesAt } from './curve';
export { gripsPerformance } from './grips';
export * from './melody';
export * from './mix';
export * from './performance';
export * from './render';
