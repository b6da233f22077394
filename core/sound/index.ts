/**
 * Sound: what is to be played, rendered to samples.
 */

export * from './melody';
export * from './performance';
export * from './render';
