/**
 * The source: what a tune is, apart from any way of playing it.
 */
export * from './model';
export * from './form';
export * from './melody';
export * from './harmonise';
