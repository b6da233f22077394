/**
 * The long form of the property over everything: `npm run ground -- 2000 7` tries 2,000 cases from seed 7 and prints what
 * does not hold, each kind with its first case.
 */
import fc from 'fast-check';
import { anyCase, groundFaults } from '../core/testing/ground';

const runs = Number(process.argv[2] ?? 1000);
const seed = Number(process.argv[3] ?? Date.now() % 1e9);
const kinds = new Map<string, { times: number; first: string }>();
let held = 0;
const begun = performance.now();
for (const [index, piece] of fc.sample(anyCase, { numRuns: runs, seed }).entries()) {
  const capo = piece.capo === 'auto' ? ('auto' as const) : piece.setup.capo;
  let faults: string[];
  try {
    faults = groundFaults({ ...piece, capo });
  } catch (error) {
    faults = [`thrown: ${error instanceof Error ? error.stack?.split('\n').slice(0, 4).join(' ') : error}`];
  }
  if (!faults.length) held += 1;
  for (const fault of faults) {
    const kind = fault.slice(0, fault.indexOf(':'));
    const known = kinds.get(kind);
    if (known) known.times += 1;
    else {
      const { tune, style, setup, settings, hand } = piece;
      kinds.set(kind, {
        times: 1,
        first: `case ${index}: ${fault}\n${JSON.stringify({ style, setup, capo, hand, settings })}\n${tune.abc}${JSON.stringify({ feel: tune.feel, bars: tune.measures.map(({ marks, passes, repeatEnd, ending, tempos, fermatas }) => ({ marks, passes, repeatEnd, ending, tempos, fermatas })) })}`,
      });
    }
  }
}
const seconds = (performance.now() - begun) / 1000;
console.log(`${held} of ${runs} cases hold (seed ${seed}, ${seconds.toFixed(0)} s)`);
for (const [kind, { times, first }] of kinds) console.log(`\n${kind}, ${times} times. ${first}`);
process.exitCode = kinds.size ? 1 : 0;
