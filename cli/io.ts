/** What the commands have in common: reading, writing, and how they end. */
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** The command was called wrongly. */
export class UsageError extends Error {}
/** What it was given can't be read, or not be written where it was told to. */
export class InputError extends Error {}

/** A file as bytes, or an error in words. */
export function readFrom(file: string): Uint8Array {
  try {
    return readFileSync(file);
  } catch {
    throw new InputError(`${file}: the file can't be read`);
  }
}

/** Writes a file, or says why it can't be written. */
export function writeTo(file: string, content: string | Uint8Array): void {
  try {
    writeFileSync(file, content);
  } catch (cause) {
    const { code } = cause as NodeJS.ErrnoException;
    const why =
      code === 'ENOENT'
        ? 'its folder is not there'
        : code === 'EISDIR'
          ? 'it is a folder'
          : code === 'EACCES' || code === 'EPERM' || code === 'EROFS'
            ? 'writing there is not allowed'
            : code === 'ENOSPC'
              ? 'the disk is full'
              : (code ?? 'unknown reason');
    throw new InputError(`${file}: the file can't be written, ${why}`);
  }
}

/** What a call prints to either stream, and its exit code. */
export interface Outcome {
  code: 0 | 1 | 2;
  out: string;
  err: string;
}

const done = (message: string): Outcome => ({ code: 0, out: `${message}\n`, err: '' });

function failed(help: string, error: unknown): Outcome {
  if (error instanceof UsageError) return { code: 2, out: '', err: `${error.message}\n\n${help}\n` };
  if (error instanceof InputError) return { code: 1, out: '', err: `${error.message}\n` };
  throw error;
}

/** Runs a command: 0 done, 1 the input is at fault, 2 the call is. */
export function outcomeOf(help: string, run: () => string): Outcome {
  try {
    return done(run());
  } catch (error) {
    return failed(help, error);
  }
}

/** Runs a command that waits for something, as `outcomeOf`. */
export const outcomeInTime = (help: string, run: () => Promise<string>): Promise<Outcome> =>
  run().then(done, error => failed(help, error));

/** Prints and ends, where a file is what was started. */
export async function runIfStarted(
  file: string,
  main: (argv: string[]) => Outcome | Promise<Outcome>,
): Promise<void> {
  if (process.argv[1] !== fileURLToPath(file)) return;
  const { code, out, err } = await main(process.argv.slice(2));
  process.stdout.write(out);
  process.stderr.write(err);
  process.exitCode = code;
}
