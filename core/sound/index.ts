/**
 * Sound: what is to be played, rendered to samples.
 */
export * from './performance';
export * from './render';
export * from './melody';
