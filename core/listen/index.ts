/** Listening: pitches, tuning, and following what is played. */
export * from './bass';
export * from './follow';
export * from './pitch';
export * from './simulate';
export * from './tuner';
