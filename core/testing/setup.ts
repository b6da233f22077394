import fc from 'fast-check';

/**
 * Heavy properties are tried so many times as often as they say: `LONG=10 npm test` tries them ten times as often.
 */
const LONG = Number(process.env.LONG ?? 1);

/** Cases of a heavy property. */
export const cases = (usual: number) => Math.round(usual * LONG);

/** Every so many of a long list, all of it where it is tried long. */
export const oneIn = <T>(every: number, list: readonly T[]): T[] =>
  list.filter((_, i) => LONG > 1 || i % every === 0);

/**
 * A failing property of the arranger would be made smaller for many minutes: it ends at once, told with its seed.
 * `SHRINK=1 npx vitest run FILE` looks for the smallest case.
 */
const endOnFailure = !process.env.SHRINK;

/**
 * `npm test` tries the same cases every time, so that it tells of a change and not of its luck; the long forms, which
 * are for finding what nobody thought of, try others every time. `SEED=… npx vitest run FILE` tries those of a report.
 */
const seed = process.env.SEED ? Number(process.env.SEED) : LONG === 1 ? 20_260_728 : undefined;
fc.configureGlobal({ endOnFailure, ...(seed !== undefined && { seed }) });
