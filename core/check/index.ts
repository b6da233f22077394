/**
 * Judging an arrangement: what can't be played or does not agree with its tune, ways out of it, and how hard it is.
 */
export * from './difficulty';
export * from './findings';
export * from './remedies';
