/** The server as it answers: screens, files, and what is not there. */
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { networkInterfaces } from 'node:os';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('..', import.meta.url));
const dist = `${root}dist`;
const PORT = 4329;
const base = `http://127.0.0.1:${PORT}`;
let server: ChildProcess;
let made = false;

beforeAll(async () => {
  // Where the app is not built, a page in its place will do.
  if (!existsSync(`${dist}/index.html`)) {
    made = true;
    mkdirSync(dist, { recursive: true });
    writeFileSync(`${dist}/index.html`, '<!doctype html><title>Velvet Porch</title>');
  }
  server = spawn(process.execPath, ['--import', 'tsx', 'server/index.ts'], {
    cwd: root,
    env: { ...process.env, PORT: String(PORT), HOST: '' },
  });
  await new Promise<void>((ready, fail) => {
    server.stdout!.on('data', (data: Buffer) => data.toString().includes('is open at') && ready());
    server.on('exit', () => fail(new Error('the server did not start')));
  });
});
afterAll(() => {
  server.kill();
  if (made) rmSync(dist, { recursive: true });
});

const answer = async (path: string) => {
  const response = await fetch(base + path);
  return { status: response.status, text: await response.text() };
};

describe('the server', () => {
  it('has every screen at its address', async () => {
    for (const path of [
      '/',
      '/add',
      '/tune/a',
      '/tune/a/key',
      '/tune/a/source',
      '/arrangement/b',
      '/arrangement/b/lesson/measure-m1',
      '/arrangement/b/handout',
      '/file',
      '/pupils/c',
      '/porch',
      '/porch/d',
      '/tuner',
    ])
      expect([path, (await answer(path)).status]).toEqual([path, 200]);
  });
  it('says of what is not there that it is not there', async () => {
    for (const path of [
      '/nothing.js',
      '/assets/gone.js',
      '/tune/a/nowhere',
      '/etc/passwd',
      '/.git/config',
      '/index.php',
    ])
      expect([path, (await answer(path)).status]).toEqual([path, 404]);
    // A page that is not there says so in the app's own words.
    expect((await answer('/nowhere')).text).toContain('Velvet Porch');
  });
  it('tells nobody where it lies', async () => {
    for (const path of ['/%E0%A4%A', '/assets/%2e%2e%2fpackage.json', '/assets/%00']) {
      const { status, text } = await answer(path);
      expect(status).toBeGreaterThanOrEqual(400);
      expect(text).not.toContain(root);
      expect(text).not.toMatch(/node_modules|at .*:\d+|Error/);
    }
  });
  it('listens on this machine alone', async () => {
    const others = Object.values(networkInterfaces())
      .flat()
      .filter(own => own && !own.internal && own.family === 'IPv4');
    for (const other of others)
      await expect(
        fetch(`http://${other!.address}:${PORT}/`, { signal: AbortSignal.timeout(3000) }),
      ).rejects.toThrow();
    expect((await answer('/')).status).toBe(200);
  });
});
