/** npm run bench: installs what is missing, builds, and measures the computation and the app in a browser. */
import { preparePackages, preparePrograms, run } from './prepare.mjs';

await preparePackages();
await preparePrograms();
if ((await run('npx', ['vite', 'build', 'web', '--logLevel', 'warn'])) !== 0) process.exit(1);
const computation = await run('npx', ['tsx', 'scripts/bench.ts', ...process.argv.slice(2)]);
const committee = await run('npx', ['tsx', 'scripts/committee.ts']);
const browser = await run('npx', ['tsx', 'scripts/benchBrowser.ts']);
process.exit(computation || committee || browser);
