/**
 * The fretting hand: reach in millimetres, grips, their effort, and how fingers move between them.
 */
export * from './effort';
export * from './model';
export * from './moves';
