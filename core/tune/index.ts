/**
 * The source: what a tune is, apart from any way of playing it.
 */

export * from './blank';
export * from './form';
export * from './grouping';
export * from './harmonise';
export { heardChords } from './heard';
export * from './identify';
export * from './keyFinding';
export * from './kinds';
export * from './match';
export * from './melody';
export * from './model';
export * from './secondVoice';
export * from './sheet';
export * from './transpose';
export * from './voices';
