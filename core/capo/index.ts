/**
 * Key and capo planning: which key the shapes stand in, where the capo goes, and what then sounds.
 */
export * from './changes';
export * from './chart';
export * from './choices';
export * from './melody';
export * from './otherKey';
export * from './otherTuning';
export * from './plan';
export * from './planner';
export { candidateShapes } from './progression';
export * from './voice';
