/** Starts the built app on a free port for scripts that drive it. */
import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export interface Served {
  url: string;
  close: () => void;
}

export function serveBuiltApp(): Promise<Served> {
  const entry = fileURLToPath(new URL('../server/index.ts', import.meta.url));
  const child = spawn(process.execPath, ['--import', 'tsx', entry], {
    env: { ...process.env, PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((resolve, reject) => {
    child.once('exit', code => reject(new Error(`the server ended with ${code}`)));
    child.stdout.on('data', (data: Buffer) => {
      const url = /http:\/\/localhost:\d+/.exec(data.toString())?.[0];
      if (url) resolve({ url, close: () => child.kill() });
    });
  });
}
