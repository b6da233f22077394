/**
 * A lesson from an arrangement: one step for each measure that is new, with the count and what each finger does,
 * and steps that put together what was learned so far.
 */
export * from './choices';
export * from './ladder';
export * from './outline';
export * from './practised';
export type { LessonProgress } from './progress';
export * from './steps';
export * from './words';
