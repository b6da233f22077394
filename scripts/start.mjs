/** npm start: installs what is missing, builds, and serves the app. */
import { preparePackages, root, run } from './prepare.mjs';

await preparePackages();
if ((await run('npx', ['vite', 'build', 'web', '--logLevel', 'warn'])) !== 0) process.exit(1);
const { spawn } = await import('node:child_process');
const server = spawn(process.execPath, ['--import', 'tsx', 'server/index.ts'], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', code => process.exit(code ?? 0));
