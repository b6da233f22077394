/**
 * Everything against everything: any tune, instrument, tuning, capo, style, level, settings and pattern. Thousands of cases
 * in a script of its own (`npm run ground`), a smaller number here.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { forEachCase, groundFaults } from './ground';

const RUNS = Number(process.env.GROUND_RUNS ?? 24);

describe('the ground', () => {
  it(`holds in ${RUNS} cases`, () => {
    fc.assert(
      forEachCase(piece => expect(groundFaults(piece)).toEqual([])),
      { numRuns: RUNS },
    );
  });
});
