/** Installs what a fresh machine lacks. */
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/**
 * Runs a command in the project's folder.
 *
 * @returns its exit code; and what it printed, where `stdio` keeps that
 */
function spawned(command, args, options) {
  return new Promise(resolve => {
    const child = spawn(command, args, { cwd: root, ...options });
    let output = '';
    const add = text => {
      output += text;
    };
    child.stdout?.setEncoding('utf8').on('data', add);
    child.stderr?.setEncoding('utf8').on('data', add);
    child.on('error', error => resolve({ code: 1, output: `${output}${command}: ${error.message}` }));
    child.on('close', code => resolve({ code: code ?? 1, output }));
  });
}

/** Runs a command that prints as it goes; returns its exit code. */
export async function run(command, args, options = {}) {
  const { code, output } = await spawned(command, args, { stdio: 'inherit', ...options });
  if (output) console.error(output);
  return code;
}

/** Runs a command beside others: returns its exit code, and all that it has printed. */
export function runQuietly(command, args) {
  return spawned(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
}

function installed(program) {
  try {
    execFileSync('sh', ['-c', `command -v ${program}`], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

/** The project's npm packages, at the versions of the lock file. */
export async function preparePackages() {
  const done = `${root}node_modules/.package-lock.json`;
  // A lock file that is newer than what was installed asks for other packages.
  if (existsSync(done) && statSync(done).mtimeMs >= statSync(`${root}package-lock.json`).mtimeMs) return;
  if ((await run('npm', ['ci', '--no-audit', '--no-fund'])) !== 0) {
    console.error('The npm packages could not be installed.');
    process.exit(1);
  }
}

/** Programs of Debian that the tests drive: a browser, an XML checker, an independent ABC reader. */
const PROGRAMS = { chromium: 'chromium', xmllint: 'libxml2-utils', abc2midi: 'abcmidi' };

/** The same browser without its windows. The tests run without it, too, but take half as long again. */
const LIGHTER = 'chromium-headless-shell';

export async function preparePrograms() {
  const missing = Object.entries(PROGRAMS)
    .filter(([program]) => !installed(program))
    .map(([, name]) => name);
  const wished = installed(LIGHTER) ? [] : [LIGHTER];
  if (!missing.length && !wished.length) return;
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  // A machine without a network is not kept waiting.
  const patience = [
    '-o',
    'Acquire::Retries=1',
    '-o',
    'Acquire::http::Timeout=20',
    '-o',
    'Acquire::https::Timeout=20',
  ];
  const apt = args => {
    const [command, ...rest] = [...sudo, 'apt-get', ...patience, ...args];
    return run(command, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  const install = names => apt(['install', '-y', '-qq', '--no-install-recommends', '--no-remove', ...names]);
  await apt(['update', '-qq']);
  if ((await install([...missing, ...wished])) === 0) return;
  if (missing.length && (await install(missing)) !== 0) {
    console.error(
      `These Debian packages are needed for the tests and could not be installed: ${missing.join(', ')}`,
    );
    process.exit(1);
  }
}
