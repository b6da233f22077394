import fc from 'fast-check';

/**
 * Heavy properties are tried so many times as often as they say: `LONG=10 npm test` tries them ten times as often.
 */
const LONG = Number(process.env.LONG ?? 1);

/** Cases of a heavy property. */
export const cases = (usual: number) => Math.round(usual * LONG);

/**
 * A failing property of the arranger would be made smaller for many minutes: it ends at once, told with its seed.
 * `SHRINK=1 npx vitest run FILE` looks for the smallest case.
 */
fc.configureGlobal({ endOnFailure: !process.env.SHRINK });
