/**
 * The arrangement: its model, queries, and how long its notes ring.
 */

export * from './cut';
export * from './explain';
export * from './graces';
export * from './grip';
export * from './lanes';
export * from './ledger';
export * from './links';
export * from './model';
export * from './neck';
export * from './ornament';
export * from './phrases';
export * from './remarks';
export * from './rhythm';
export * from './role';
export * from './settings';
export * from './sheet';
export * from './snapshot';
export * from './source';
export * from './strokes';
export * from './techniques';
export * from './variants';
export * from './written';
