import fc from 'fast-check';

/**
 * A failing property of the arranger would be made smaller for many minutes: it ends at once, told with its seed.
 * `SHRINK=1 npx vitest run FILE` looks for the smallest case.
 */
fc.configureGlobal({ endOnFailure: !process.env.SHRINK });
