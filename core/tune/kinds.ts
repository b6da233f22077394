import type { Tune } from './model';

/**
 * Whether a tune is a blues, by the name of its kind: its bass keeps to the root.
 *
 * @example isBlues({ rhythm: 'slow blues' }) // true
 */
export const isBlues = ({ rhythm = '' }: Pick<Tune, 'rhythm'>): boolean => /\bblues/i.test(rhythm);
