/**
 * The arrangement: its model, queries, how long its notes ring, and edits.
 */
export * from './model';
export * from './grip';
export * from './ring';
export * from './edit';
export * from './sameness';
