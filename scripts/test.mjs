/** npm test: installs what is missing and runs everything. The last line counts what passed and failed. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { preparePackages, preparePrograms, run, runQuietly } from './prepare.mjs';

// Programs are on their way while what needs only packages is checked.
const programs = preparePrograms();
await preparePackages();

let passed = 0;
let failed = 0;

/**
 * Checks that each pass or fail as a whole, one after the other; what one has to say is shown when it is done, since several
 * rows of them run side by side.
 */
async function checks(...row) {
  for (const [name, ...args] of row) {
    const { code, output } = await runQuietly('npx', args);
    console.log(`\n== ${name}\n${output}`);
    if (code === 0) passed += 1;
    else {
      failed += 1;
      console.log(`FAILED: ${name}`);
    }
  }
}

/** A suite that writes its own counts as JSON. A suite that broke before it could count fails as one. */
async function suite(name, args, env, read) {
  console.log(`\n== ${name}`);
  const folder = mkdtempSync(join(tmpdir(), 'velvet-porch-'));
  const file = join(folder, 'report.json');
  const code = await run('npx', args(file), { env: { ...process.env, ...env(file) } });
  let counts = { passed: 0, failed: 0 };
  try {
    counts = read(JSON.parse(readFileSync(file, 'utf8')));
  } catch (error) {
    console.log(`no report: ${error.message}`);
  }
  passed += counts.passed;
  failed += counts.failed;
  if (code !== 0 && counts.failed === 0) failed += 1;
  if (code === 0 && counts.passed === 0) failed += 1;
  rmSync(folder, { recursive: true, force: true });
}

await Promise.all([
  checks(['types', 'tsc', '-b'], ['unused code (knip)', 'knip']),
  checks(
    ['format and lint (biome)', 'biome', 'check', '--error-on-warnings', '.'],
    ['lint and folder rules (oxlint)', 'oxlint', '--deny-warnings'],
    ['build', 'vite', 'build', 'web', '--logLevel', 'warn'],
  ),
  programs,
]);
await suite(
  'unit tests',
  file => ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile=${file}`],
  () => ({}),
  report => ({ passed: report.numPassedTests, failed: report.numFailedTests }),
);
await suite(
  'end-to-end tests',
  () => ['playwright', 'test', '--reporter=list,json'],
  file => ({ PLAYWRIGHT_JSON_OUTPUT_NAME: file }),
  report => ({ passed: report.stats.expected + report.stats.flaky, failed: report.stats.unexpected }),
);
// How the page looked when its test failed, for whoever can read no more than what is printed.
const RESULTS = 'test-results';
const pages = existsSync(RESULTS)
  ? readdirSync(RESULTS, { recursive: true }).filter(file => file.endsWith('error-context.md'))
  : [];
for (const file of pages) console.log(`\n== ${file}\n${readFileSync(join(RESULTS, file), 'utf8')}`);

console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
