/** npm test: installs what is missing and runs everything. The last line counts what passed and failed. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { preparePackages, preparePrograms, run } from './prepare.mjs';

preparePackages();
preparePrograms();

let passed = 0;
let failed = 0;

/** A check that passes or fails as a whole. */
function check(name, command, args) {
  console.log(`\n== ${name}`);
  if (run(command, args) === 0) passed += 1;
  else {
    failed += 1;
    console.log(`FAILED: ${name}`);
  }
}

/** A suite that writes its own counts as JSON. A suite that broke before it could count fails as one. */
function suite(name, args, env, read) {
  console.log(`\n== ${name}`);
  const folder = mkdtempSync(join(tmpdir(), 'velvet-porch-'));
  const file = join(folder, 'report.json');
  const code = run('npx', args(file), { env: { ...process.env, ...env(file) } });
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

check('types', 'npx', ['tsc', '-b']);
check('format and lint (biome)', 'npx', ['biome', 'check', '--error-on-warnings', '.']);
check('lint and folder rules (oxlint)', 'npx', ['oxlint', '--deny-warnings']);
check('unused code (knip)', 'npx', ['knip']);
check('build', 'npx', ['vite', 'build', 'web', '--logLevel', 'warn']);
suite(
  'unit tests',
  file => ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile=${file}`],
  () => ({}),
  report => ({ passed: report.numPassedTests, failed: report.numFailedTests }),
);
suite(
  'end-to-end tests',
  () => ['playwright', 'test', '--reporter=list,json'],
  file => ({ PLAYWRIGHT_JSON_OUTPUT_NAME: file }),
  report => ({ passed: report.stats.expected + report.stats.flaky, failed: report.stats.unexpected }),
);

console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
