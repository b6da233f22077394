export * from './leftHand';
export * from './path';
export * from './pattern';
export * from './plucks';
