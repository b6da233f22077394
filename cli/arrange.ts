/**
 * Arranges a tune file without a browser.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { parseArgs } from 'node:util';
import { arrange } from '#core/arrange';
import { checkArrangement } from '#core/check';
import { readAbc, writeMidi, writeMusicXml } from '#core/formats';
import { writeBundle } from '#core/formats/bundle';
import { INSTRUMENTS, type InstrumentId } from '#core/instrument';
import { type Arrangement, STYLES, type Style } from '#core/score';
import { measureNumbers, type Tune } from '#core/tune';

const HELP = `Usage: npm run arrange -- TUNE.abc --to OUT [options]

Arranges a tune in ABC notation and writes it to OUT.

  --to OUT               .musicxml (or .xml), .mid or .json (the app's bundle)
  --tune N               number (X:) of the tune in a tune book; the first when left out
  --instrument NAME      ${Object.keys(INSTRUMENTS).join(' | ')}            (guitar)
  --style NAME           ${STYLES.join(' | ')}  (fingerstyle)
  --capo auto|N          fret of the capo                (auto)
  --help                 this text

Exit: 0 done, 1 the tune can't be read or arranged, 2 wrong usage.`;

class UsageError extends Error {}
class InputError extends Error {}

const WRITERS: Record<string, (arrangement: Arrangement, tune: Tune) => string | Uint8Array> = {
  '.musicxml': arrangement => writeMusicXml(arrangement),
  '.xml': arrangement => writeMusicXml(arrangement),
  '.mid': arrangement => writeMidi(arrangement),
  '.midi': arrangement => writeMidi(arrangement),
  '.json': (arrangement, tune) =>
    writeBundle({ tunes: [tune], arrangements: [arrangement], lessons: [], plans: [] }),
};

function readArguments(argv: string[]) {
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        tune: { type: 'string' },
        instrument: { type: 'string', default: 'guitar' },
        style: { type: 'string', default: 'fingerstyle' },
        capo: { type: 'string', default: 'auto' },
        to: { type: 'string' },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (cause) {
    throw new UsageError(cause instanceof Error ? cause.message : String(cause));
  }
}

/** Runs the command; returns the text to print. */
export function run(argv: string[]): string {
  const { values, positionals } = readArguments(argv);
  if (values.help) return HELP;
  const [file, ...more] = positionals;
  if (!file || more.length) throw new UsageError('exactly one ABC file is needed');
  if (!Object.hasOwn(INSTRUMENTS, values.instrument))
    throw new UsageError(`there is no instrument "${values.instrument}"`);
  if (!(STYLES as string[]).includes(values.style))
    throw new UsageError(`there is no style "${values.style}"`);
  if (values.capo !== 'auto' && !/^\d{1,2}$/.test(values.capo))
    throw new UsageError(`--capo takes "auto" or a fret, not "${values.capo}"`);
  const capo = values.capo === 'auto' ? 'auto' : Number(values.capo);
  if (capo !== 'auto' && capo > 12) throw new UsageError(`--capo ${capo} is beyond fret 12`);
  if (!values.to) throw new UsageError('--to OUT is needed');
  const write = WRITERS[extname(values.to).toLowerCase()];
  if (!write) throw new UsageError(`--to must end in ${Object.keys(WRITERS).join(', ')}`);

  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch {
    throw new InputError(`${file}: the file can't be read`);
  }
  const book = readAbc(text);
  if (!book.length)
    throw new InputError(`${file}:1:1: there is no tune in this file (a tune begins with X:)`);
  const entry = values.tune === undefined ? book[0]! : book.find(e => e.tune.id === `abc-${values.tune}`);
  if (!entry)
    throw new InputError(
      `${file}: there is no tune ${values.tune}; it has ${book.map(e => e.tune.id.slice(4)).join(', ')}`,
    );
  const { tune, problems } = entry;
  const errors = problems.filter(problem => problem.severity === 'error');
  if (errors.length)
    throw new InputError(errors.map(p => `${file}:${p.line}:${p.column}: ${p.message}`).join('\n'));

  const result = arrange(tune, {
    id: basename(values.to),
    instrument: values.instrument as InstrumentId,
    style: values.style as Style,
    capo,
  });
  if (result.problem) {
    const numbers = measureNumbers(tune.measures);
    const where = result.problem.measures.length
      ? ` (measure ${result.problem.measures.map(m => numbers[m]).join(', ')})`
      : '';
    throw new InputError(
      [`${file}: ${tune.title}: ${result.problem.message}${where}`, ...result.problem.offers].join('\n  '),
    );
  }
  const { arrangement } = result;
  writeFileSync(values.to, write(arrangement, tune));
  const findings = checkArrangement(arrangement, tune).length;
  const notes = arrangement.measures.reduce((sum, measure) => sum + measure.notes.length, 0);
  const doubts = problems.length
    ? `, ${problems.length} doubtful place${problems.length > 1 ? 's' : ''} in the source`
    : '';
  return `${tune.title}: ${values.instrument}, ${values.style}, capo ${arrangement.setup.capo}, ${arrangement.measures.length} measures, ${notes} notes, ${findings} findings${doubts} -> ${values.to}`;
}

try {
  console.log(run(process.argv.slice(2)));
} catch (error) {
  if (!(error instanceof UsageError) && !(error instanceof InputError)) throw error;
  console.error(error.message);
  if (error instanceof UsageError) console.error(`\n${HELP}`);
  process.exitCode = error instanceof UsageError ? 2 : 1;
}
