/**
 * What is written turned into what is played, once for all: the road through repeats and jumps, the clock of tempo and
 * feel, notes with their ties joined.
 */
export * from './clock';
export * from './played';
export * from './road';
export * from './writtenOut';
