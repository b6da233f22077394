export * from './path';
export * from './plucks';
