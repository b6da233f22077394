/**
 * What is the same and what differs: between two measures, among the measures and sections of an arrangement, and
 * between two versions of one; in words.
 */
export * from './aligned';
export * from './differences';
export * from './likeness';
export * from './sameness';
export * from './versions';
