/** Practice: pupils, what they learn, sittings, the tempo ladder, reviews, progress, the calendar. */
export * from './calendar';
export * from './climb';
export * from './model';
export * from './progress';
export * from './review';
export * from './table';
export * from './today';
