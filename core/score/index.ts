/**
 * The arrangement: its model, queries, how long its notes ring, and edits.
 */

export * from './edit';
export * from './explain';
export * from './grip';
export * from './model';
export * from './ornament';
export * from './refinger';
export * from './ring';
export * from './role';
export * from './sameness';
export * from './settings';
export * from './technique';
