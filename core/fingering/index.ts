export * from './path';
export * from './pattern';
export * from './plucks';
