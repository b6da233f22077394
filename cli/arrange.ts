/**
 * Arranges a tune file without a browser.
 */
import { basename, extname } from 'node:path';
import { parseArgs } from 'node:util';
import { type ArrangeRequest, arrange } from '#core/arrange';
import { checkArrangement } from '#core/check';
import { readAbc, withKindOfTitle, writeMidi, writeMusicXml } from '#core/formats';
import { emptyBundle, writeBundle } from '#core/formats/bundle';
import { textOf } from '#core/formats/encoding';
import { HAND_SIZES } from '#core/hand';
import { INSTRUMENTS, type InstrumentId, parseTuning, standardSetup } from '#core/instrument';
import {
  ALTERNATIONS,
  type Arrangement,
  BASS_SCHOOLS,
  DENSITIES,
  DOUBLINGS,
  LEVELS,
  ORNAMENTING,
  PLUCK_SCHOOLS,
  STYLES,
  type Style,
} from '#core/score';
import { measureNumbers, type Tune } from '#core/tune';
import { InputError, type Outcome, outcomeOf, readFrom, runIfStarted, UsageError, writeTo } from './io';

const HELP = `Usage: npm run arrange -- TUNE.abc --to OUT [options]

Arranges a tune in ABC notation and writes it to OUT.

  --to OUT               .musicxml (or .xml), .mid or .json (the app's bundle)
  --tune N               number (X:) of the tune in a tune book; the first when left out
  --instrument NAME      ${Object.keys(INSTRUMENTS).join(' | ')}            (guitar)
  --style NAME           ${STYLES.join(' | ')}  (fingerstyle)
  --capo auto|N          fret of the capo                (auto)
  --level N              ${LEVELS.join(' | ')}
  --bass NAME            ${BASS_SCHOOLS.join(' | ')}
  --alternation NAME     of the bass "alternating": ${ALTERNATIONS.join(' | ')}
  --doubling NAME        what a chord melody sets with the melody: ${DOUBLINGS.join(' | ')}
  --passing              passing chords in a chord melody
  --density NAME         grips of a chord melody: ${DENSITIES.join(' | ')}
  --voices N             most notes of a grip: 2 | 3 | 4
  --school NAME          ${PLUCK_SCHOOLS.join(' | ')}
  --jig NAME             pick strokes of jigs: group | alternate
  --ornaments NAME       ${ORNAMENTING.join(' | ')}
  --ringing              lay the melody across strings
  --tremolo              long notes of the melody in tremolo
  --turns, --no-turns    under a pattern root and fifth in turn where a chord stays, or the root alone (as the tune asks)
  --no-drones            in an open tuning no open strings by themselves
  --pattern TEXT         strings to pluck under the style or bass "pattern", such as "B 3 2 1"
  --tuning NOTES         thickest string first, such as "D A D G A D"
  --transpose=N          semitones from the written key, such as --transpose=-2
  --hand SIZE            ${HAND_SIZES.join(' | ')}           (medium)
  --all                  every tune of the book, into one bundle (OUT must end in .json)
  --help                 this text

Exit: 0 done, 1 the tune can't be read or arranged, 2 wrong usage.`;

const WRITERS: Record<string, (arrangement: Arrangement, tune: Tune) => string | Uint8Array> = {
  '.musicxml': arrangement => writeMusicXml(arrangement),
  '.xml': arrangement => writeMusicXml(arrangement),
  '.mid': arrangement => writeMidi(arrangement),
  '.midi': arrangement => writeMidi(arrangement),
  '.json': (arrangement, tune) =>
    writeBundle({ ...emptyBundle(), tunes: [tune], arrangements: [arrangement] }),
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
        level: { type: 'string' },
        bass: { type: 'string' },
        alternation: { type: 'string' },
        doubling: { type: 'string' },
        passing: { type: 'boolean', default: false },
        density: { type: 'string' },
        voices: { type: 'string' },
        school: { type: 'string' },
        jig: { type: 'string' },
        ornaments: { type: 'string' },
        ringing: { type: 'boolean', default: false },
        tremolo: { type: 'boolean', default: false },
        turns: { type: 'boolean', default: false },
        'no-turns': { type: 'boolean', default: false },
        'no-drones': { type: 'boolean', default: false },
        pattern: { type: 'string' },
        tuning: { type: 'string' },
        transpose: { type: 'string' },
        hand: { type: 'string', default: 'medium' },
        all: { type: 'boolean', default: false },
        to: { type: 'string' },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (cause) {
    throw new UsageError(cause instanceof Error ? cause.message : String(cause));
  }
}

type Values = ReturnType<typeof readArguments>['values'];

/** A value that must be one of a list. */
function oneOf<T extends string | number>(name: string, value: string, list: readonly T[]): T {
  const found = list.find(item => String(item) === value);
  if (found === undefined) throw new UsageError(`--${name} is one of ${list.join(', ')}, not "${value}"`);
  return found;
}

/** What the arranger is asked for, from the options. */
function requestOf(values: Values): Omit<ArrangeRequest, 'id'> {
  if (!Object.hasOwn(INSTRUMENTS, values.instrument))
    throw new UsageError(`there is no instrument "${values.instrument}"`);
  if (!(STYLES as string[]).includes(values.style))
    throw new UsageError(`there is no style "${values.style}"`);
  if (values.capo !== 'auto' && !/^\d{1,2}$/.test(values.capo))
    throw new UsageError(`--capo takes "auto" or a fret, not "${values.capo}"`);
  const capo = values.capo === 'auto' ? 'auto' : Number(values.capo);
  if (capo !== 'auto' && capo > 12) throw new UsageError(`--capo ${capo} is beyond fret 12`);
  const instrument = values.instrument as InstrumentId;
  const request: Omit<ArrangeRequest, 'id'> = {
    instrument,
    style: values.style as Style,
    capo,
    hand: { size: oneOf('hand', values.hand, HAND_SIZES) },
    settings: {
      ...(values.level !== undefined && { level: oneOf('level', values.level, LEVELS) }),
      ...(values.bass !== undefined && { bass: oneOf('bass', values.bass, BASS_SCHOOLS) }),
      ...(values.alternation !== undefined && {
        alternation: oneOf('alternation', values.alternation, ALTERNATIONS),
      }),
      ...(values.doubling !== undefined && { doubling: oneOf('doubling', values.doubling, DOUBLINGS) }),
      ...(values.passing && { passing: true }),
      ...(values.density !== undefined && { density: oneOf('density', values.density, DENSITIES) }),
      ...(values.voices !== undefined && { voices: oneOf('voices', values.voices, [2, 3, 4]) }),
      ...(values.school !== undefined && { school: oneOf('school', values.school, PLUCK_SCHOOLS) }),
      ...(values.jig !== undefined && { jig: oneOf('jig', values.jig, ['group', 'alternate'] as const) }),
      ...(values.ornaments !== undefined && { ornaments: oneOf('ornaments', values.ornaments, ORNAMENTING) }),
      ...(values.ringing && { ringing: true }),
      ...(values.tremolo && { tremolo: true }),
      ...((values.turns || values['no-turns']) && { bassTurns: values.turns }),
      ...(values['no-drones'] && { drones: false }),
      ...(values.pattern !== undefined && { pattern: values.pattern }),
    },
  };
  if (values.tuning !== undefined) {
    const tuning = parseTuning(values.tuning, instrument);
    if ('error' in tuning) throw new UsageError(`--tuning: ${tuning.error}`);
    request.setup = { ...standardSetup(instrument), tuning };
  }
  if (values.transpose !== undefined) {
    const semitones = Number(values.transpose);
    if (!Number.isInteger(semitones) || Math.abs(semitones) > 24)
      throw new UsageError(`--transpose takes whole semitones from -24 to 24, not "${values.transpose}"`);
    request.transposition = semitones;
  }
  return request;
}

/** Arranges one tune; a tune that can't be is an input error. */
function arranged(file: string, tune: Tune, request: ArrangeRequest): Arrangement {
  const result = arrange(tune, request);
  if (!result.problem) return result.arrangement;
  const numbers = measureNumbers(tune.measures);
  const where = result.problem.measures.length
    ? ` (measure ${result.problem.measures.map(m => numbers[m]).join(', ')})`
    : '';
  throw new InputError(
    [`${file}: ${tune.title}: ${result.problem.message}${where}`, ...result.problem.offers].join('\n  '),
  );
}

/** Findings that hold at any tempo. */
function findingCount(arrangement: Arrangement, tune: Tune): number {
  return checkArrangement(arrangement, tune).filter(finding => finding.severity !== 'advice').length;
}

/** Runs the command; returns the text to print. */
function run(argv: string[]): string {
  const { values, positionals } = readArguments(argv);
  if (values.help) return HELP;
  const [file, ...more] = positionals;
  if (!file || more.length) throw new UsageError('exactly one ABC file is needed');
  const request = requestOf(values);
  if (!values.to) throw new UsageError('--to OUT is needed');
  const ending = extname(values.to).toLowerCase();
  const write = WRITERS[ending];
  if (!write) throw new UsageError(`--to must end in ${Object.keys(WRITERS).join(', ')}`);
  if (values.all && ending !== '.json') throw new UsageError('--all writes a bundle: --to must end in .json');

  const text = textOf(readFrom(file));
  let book: ReturnType<typeof readAbc>;
  try {
    book = readAbc(text);
  } catch (cause) {
    throw new InputError(
      `${file}: ${cause instanceof RangeError ? cause.message : "the file can't be read"}`,
    );
  }
  if (!book.length)
    throw new InputError(`${file}:1:1: there is no tune in this file (a tune begins with X:)`);
  const sound = ({ tune, problems }: (typeof book)[number]) => {
    const errors = problems.filter(problem => problem.severity === 'error');
    if (errors.length)
      throw new InputError(errors.map(p => `${file}:${p.line}:${p.column}: ${p.message}`).join('\n'));
    return withKindOfTitle(tune);
  };
  if (values.all) {
    const tunes = book.map(sound);
    const arrangements = tunes.map(tune => arranged(file, tune, { ...request, id: `${tune.id}-arranged` }));
    writeTo(values.to, writeBundle({ ...emptyBundle(), tunes, arrangements }));
    const findings = arrangements.reduce((sum, a, i) => sum + findingCount(a, tunes[i]!), 0);
    return `${tunes.length} tunes: ${values.instrument}, ${values.style}, ${findings} findings -> ${values.to}`;
  }
  const entry = values.tune === undefined ? book[0]! : book.find(e => e.tune.id === `abc-${values.tune}`);
  if (!entry)
    throw new InputError(
      `${file}: there is no tune ${values.tune}; it has ${book.map(e => e.tune.id.slice(4)).join(', ')}`,
    );
  const tune = sound(entry);
  const { problems } = entry;
  const arrangement = arranged(file, tune, { ...request, id: basename(values.to) });
  writeTo(values.to, write(arrangement, tune));
  const findings = findingCount(arrangement, tune);
  const notes = arrangement.measures.reduce((sum, measure) => sum + measure.notes.length, 0);
  const doubts = problems.length
    ? `, ${problems.length} doubtful place${problems.length > 1 ? 's' : ''} in the source`
    : '';
  return `${tune.title}: ${values.instrument}, ${values.style}, capo ${arrangement.setup.capo}, ${arrangement.measures.length} measures, ${notes} notes, ${findings} findings${doubts} -> ${values.to}`;
}

/** Does what `npm run arrange` does, without ending the process. */
export function main(argv: string[]): Outcome {
  return outcomeOf(HELP, () => run(argv));
}

await runIfStarted(import.meta.url, main);
