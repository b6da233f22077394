/**
 * Turns one file into another without a browser: what is dictated, typed as tab, written in ABC or as a song, or kept in a
 * bundle.
 */
import { basename, extname } from 'node:path';
import { parseArgs } from 'node:util';
import { arrange } from '#core/arrange';
import { freshPlan, type TunePlan, takenKey } from '#core/capo';
import { applyEdit, startHistory } from '#core/edit';
import {
  type FileRemark,
  fileRemarkWords,
  type Piece,
  pieceOf,
  type Reading,
  readAbc,
  readDictation,
  readScoreFile,
  readSong,
  readTab,
  SCORE_ENDINGS,
  type SongHeld,
  setupSaid,
  type TextRemark,
  writeChordPro,
  writeMidi,
  writeMusicXml,
  writeSongText,
  writeTab,
  writeWav,
} from '#core/formats';
import { emptyBundle, readBundle, writeBundle } from '#core/formats/bundle';
import { textOf } from '#core/formats/encoding';
import { INSTRUMENTS, type InstrumentId, standardSetup } from '#core/instrument';
import type { Arrangement } from '#core/score';
import { countIn, performanceOf, renderPerformance } from '#core/sound';
import { type Meter, parseMeter } from '#core/time';
import { playingOrder } from '#core/timeline';
import { type Tune, transposeTune } from '#core/tune';
import { InputError, type Outcome, outcomeOf, readFrom, runIfStarted, UsageError, writeTo } from './io';

const HELP = `Usage: npm run convert -- IN --to OUT [options]

Reads IN and writes it to OUT; what they are is told by their endings.

  IN                 .txt dictation, .tab text tab, .abc a tune (its melody laid out on the strings),
                     .cho (or .chopro .chordpro .crd .pro) a song in words and chords, .musicxml (or .xml .mxl) a
                     score, .mid the notes of a track, .json the app's bundle
  --to OUT           .musicxml (or .xml), .mid, .tab, .json (bundle), .wav,
                     .cho (ChordPro) or .txt (words and chords, for a message)
  --fingers          finger what has no fingers yet
  --piece N          which of several tunes, arrangements, players, parts or tracks in IN, counted from 1
                     (1; of a score the first with tablature, of a .mid the highest)
  --instrument NAME  where IN names none: ${Object.keys(INSTRUMENTS).join(' | ')}
  --meter M          where IN names none, such as 3/4
  --tempo PERCENT    of a .wav, 100 as written                                      (100)
  --count-in         clicks before a .wav
  --help             this text

Exit: 0 done, with a report of what was guessed and left out; 1 IN can't be read (line and column), 2 wrong usage.`;

const RATE = 44100;

/** A piece as it was read, with what there is to be told of the reading. */
interface Read {
  tune: Tune;
  arrangement: Arrangement;
  /** What is settled of key, capo and shapes, where that says more than the arrangement. */
  plan?: TunePlan;
  report: string[];
}

function readArguments(argv: string[]) {
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        to: { type: 'string' },
        fingers: { type: 'boolean', default: false },
        piece: { type: 'string' },
        instrument: { type: 'string' },
        meter: { type: 'string' },
        tempo: { type: 'string', default: '100' },
        'count-in': { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (cause) {
    throw new UsageError(cause instanceof Error ? cause.message : String(cause));
  }
}

type Values = ReturnType<typeof readArguments>['values'];

const remark = (file: string, what: string, { line, column, message }: TextRemark) =>
  `  ${what}: ${basename(file)}:${line}:${column}: ${message}`;

/** A piece out of a reading; a text that asks something back can't be converted. */
function pieceFrom(file: string, reading: Reading, given: ReturnType<typeof givenBy>): Read {
  const { questions, guesses, leftOut } = reading;
  if (questions.length)
    throw new InputError(questions.map(q => `${file}:${q.line}:${q.column}: ${q.message}`).join('\n'));
  const name = basename(file, extname(file));
  const piece: Piece = pieceOf(reading, { tuneId: name, id: `${name}-written`, title: name, given });
  if (piece.error !== undefined) throw new InputError(`${file}:1:1: ${piece.error}`);
  return {
    tune: piece.tune,
    arrangement: piece.arrangement,
    report: [
      ...[...guesses, ...piece.guesses].map(g => remark(file, 'taken to be meant', g)),
      ...leftOut.map(l => remark(file, 'left out', l)),
    ],
  };
}

/** What one of the players of a text tab plays. */
function fromTab(file: string, text: string, values: Values, number: number): Read {
  const given = givenBy(values);
  const reading = readTab(text, { ...given, player: number - 1 });
  const { names } = reading.players ?? { names: [] };
  if (names.length && number > names.length)
    throw new InputError(`${file}:1:1: there are ${names.length} players in this file, no ${number}`);
  return pieceFrom(file, reading, given);
}

/** A tune whose melody is laid out on the strings. */
function laidOut(file: string, tune: Tune, values: Values, report: string[]): Read {
  const made = arrange(tune, {
    id: `${tune.id}-written`,
    instrument: instrumentOf(values) ?? 'guitar',
    style: 'melody',
    capo: 0,
  });
  if (made.problem) throw new InputError(`${file}:1:1: ${made.problem.message}`);
  return { tune, arrangement: made.arrangement, report };
}

const fileRemarks = ({ guesses, leftOut }: { guesses: FileRemark[]; leftOut: FileRemark[] }) => [
  ...guesses.map(guess => `  taken to be meant: ${fileRemarkWords(guess)}`),
  ...leftOut.map(lost => `  left out: ${fileRemarkWords(lost)}`),
];

/** A score or a track of MIDI. */
function fromScore(file: string, bytes: Uint8Array, values: Values, number: number | undefined): Read {
  const name = basename(file, extname(file));
  const instrument = instrumentOf(values);
  const read = readScoreFile(file, bytes, {
    tuneId: name,
    id: `${name}-written`,
    title: name,
    ...(instrument && { instrument }),
    ...(number !== undefined && { part: number - 1 }),
  });
  if (read.error)
    throw new InputError(`${file}:${read.error.line}:${read.error.column}: ${read.error.message}`);
  const { tune, arrangement } = read;
  const report = fileRemarks(read);
  return arrangement ? { tune, arrangement, report } : laidOut(file, tune, values, report);
}

function fromAbc(file: string, text: string, values: Values, number: number): Read {
  let book: ReturnType<typeof readAbc>;
  try {
    book = readAbc(text);
  } catch (cause) {
    throw new InputError(
      `${file}:1:1: ${cause instanceof RangeError ? cause.message : "the file can't be read"}`,
    );
  }
  const entry = book[number - 1];
  if (!entry)
    throw new InputError(
      `${file}:1:1: ${book.length ? `there are ${book.length} tunes in this file, no ${number}` : 'there is no tune in this file (a tune begins with X:)'}`,
    );
  const errors = entry.problems.filter(p => p.severity === 'error');
  if (errors.length)
    throw new InputError(errors.map(p => `${file}:${p.line}:${p.column}: ${p.message}`).join('\n'));
  return laidOut(
    file,
    entry.tune,
    values,
    entry.problems.map(p => remark(file, 'doubtful', p)),
  );
}

/** A song, accompanied as it says. */
function fromSong(file: string, text: string, values: Values): Read {
  const song = readSong(text);
  const { tune, capo, strum, sectionPatterns, choices, questions, guesses, leftOut } = song;
  if (!tune)
    throw new InputError(
      questions.map(q => `${file}:${q.line}:${q.column}: ${q.message}`).join('\n') ||
        `${file}:1:1: there is no chord in this file`,
    );
  const named = { ...tune, id: basename(file, extname(file)) };
  const asked = instrumentOf(values);
  const setup = asked ? standardSetup(asked) : setupSaid(song, standardSetup('guitar'));
  const made = arrange(named, {
    id: `${named.id}-written`,
    instrument: setup.instrument,
    setup,
    style: 'pattern',
    capo,
    choices,
    settings: { ...(strum && { pattern: strum.pattern }), sectionPatterns },
  });
  if (made.problem) throw new InputError(`${file}:1:1: ${made.problem.message}`);
  const patterns = { ...(strum && { pattern: strum.pattern }), sectionPatterns };
  const plan = freshPlan(named.id);
  return {
    tune: named,
    arrangement: made.arrangement,
    plan: { ...plan, ...takenKey({ ...plan, setup: made.arrangement.setup }), choices, ...patterns },
    report: [
      ...guesses.map(g => remark(file, 'taken to be meant', g)),
      ...leftOut.map(l => remark(file, 'left out', l)),
    ],
  };
}

/** How a song is written that is held as in an arrangement. */
function heldAs({ setup, settings }: Arrangement): SongHeld {
  return {
    setup,
    capo: setup.capo,
    ...(settings?.pattern && { strum: settings.pattern }),
    ...(settings?.sectionPatterns && { strums: settings.sectionPatterns }),
  };
}

function fromBundle(file: string, text: string, number: number): Read {
  const { bundle, error, ...rest } = readBundle(text) as Extract<
    ReturnType<typeof readBundle>,
    { bundle: object }
  >;
  if (!bundle) throw new InputError(`${file}:1:1: ${error as unknown as string}`);
  const arrangement = bundle.arrangements[number - 1];
  const tune = bundle.tunes.find(t => t.id === arrangement?.tuneId);
  if (!arrangement || !tune)
    throw new InputError(
      `${file}:1:1: there are ${bundle.arrangements.length} arrangements in this bundle, no ${number}`,
    );
  return { tune, arrangement, report: rest.rejected.map(r => `  left out: ${r.name}: ${r.message}`) };
}

function instrumentOf({ instrument }: Values): InstrumentId | undefined {
  if (instrument === undefined) return undefined;
  if (!Object.hasOwn(INSTRUMENTS, instrument)) throw new UsageError(`there is no instrument "${instrument}"`);
  return instrument as InstrumentId;
}

function meterOf({ meter }: Values): Meter | undefined {
  if (meter === undefined) return undefined;
  const read = parseMeter(meter);
  if (!read) throw new UsageError(`--meter is written as 3/4, not "${meter}"`);
  return read;
}

type Reader = (file: string, bytes: Uint8Array, values: Values, number: number | undefined) => Read;
type TextReader = (file: string, text: string, values: Values, number: number) => Read;

const TEXT_READERS: Record<string, TextReader> = {
  '.txt': (file, text, values) => pieceFrom(file, readDictation(text, givenBy(values)), givenBy(values)),
  '.tab': fromTab,
  '.abc': fromAbc,
  ...Object.fromEntries(['.cho', '.chopro', '.chordpro', '.crd', '.pro'].map(ending => [ending, fromSong])),
  '.json': (file, text, _, number) => fromBundle(file, text, number),
};

const READERS: Record<string, Reader> = {
  ...Object.fromEntries(
    Object.entries(TEXT_READERS).map(([ending, read]): [string, Reader] => [
      ending,
      (file, bytes, values, number = 1) => read(file, textOf(bytes), values, number),
    ]),
  ),
  ...Object.fromEntries(SCORE_ENDINGS.map(ending => [ending, fromScore])),
};

/** What the options say of a text that says nothing itself. */
function givenBy(values: Values) {
  const instrument = instrumentOf(values);
  const meter = meterOf(values);
  return { ...(instrument && { setup: standardSetup(instrument) }), ...(meter && { meter }) };
}

/** Writes a piece; what can't be written goes into the report. */
const WRITERS: Record<string, (read: Read, values: Values) => string | Uint8Array> = {
  '.musicxml': musicXml,
  '.xml': musicXml,
  '.mid': ({ arrangement }) => writeMidi(arrangement),
  '.tab': ({ arrangement, report }) => {
    const { text, leftOut } = writeTab(arrangement);
    report.push(...leftOut.map(({ measure, reason }) => leftOutLine(measure, reason)));
    return text;
  },
  '.cho': ({ tune, arrangement }) =>
    writeChordPro(transposeTune(tune, arrangement.transposition ?? 0), heldAs(arrangement)),
  '.txt': ({ tune, arrangement }) =>
    writeSongText(transposeTune(tune, arrangement.transposition ?? 0), heldAs(arrangement)),
  '.json': ({ tune, arrangement, plan }) =>
    writeBundle({
      ...emptyBundle(),
      tunes: [tune],
      arrangements: [arrangement],
      ...(plan && { plans: [plan] }),
    }),
  '.wav': ({ arrangement }, values) => {
    const percent = Number(values.tempo);
    if (!(percent >= 10 && percent <= 400)) throw new UsageError('--tempo is 10 to 400 percent');
    const order = playingOrder(arrangement);
    const { samples } = renderPerformance(performanceOf(arrangement, order, percent), arrangement.setup, {
      sampleRate: RATE,
      click: false,
      countIn: values['count-in'] ? countIn(arrangement, order[0] ?? 0, percent) : [],
    });
    return writeWav(samples, RATE);
  },
};

const leftOutLine = (measure: number, reason: string) => `  left out: measure ${measure + 1}: ${reason}`;

function musicXml({ arrangement, report }: Read): string {
  return writeMusicXml(arrangement, (measure, reason) => report.push(leftOutLine(measure, reason)));
}

/** The arrangement with fingers for every note that has none. */
function fingered(arrangement: Arrangement): Arrangement {
  const done = applyEdit(startHistory(arrangement), {
    kind: 'refinger',
    ids: arrangement.measures.map(measure => measure.id),
    values: { goal: 'total' },
  });
  if ('error' in done) throw new InputError(`the fingers can't be found: ${done.error}`);
  return done.present;
}

/** The arrangement with the fingers that were said only. */
function asSaid(arrangement: Arrangement): Arrangement {
  return {
    ...arrangement,
    measures: arrangement.measures.map(measure => ({
      ...measure,
      notes: measure.notes.map(({ finger, ...note }) =>
        finger && note.fingerPinned ? { ...note, finger } : note,
      ),
    })),
  };
}

function run(argv: string[]): string {
  const { values, positionals } = readArguments(argv);
  if (values.help) return HELP;
  const [file, ...more] = positionals;
  if (!file || more.length) throw new UsageError('exactly one file to be read is needed');
  if (!values.to) throw new UsageError('--to OUT is needed');
  const reader = READERS[extname(file).toLowerCase()];
  const writer = WRITERS[extname(values.to).toLowerCase()];
  if (!reader) throw new UsageError(`IN ends in ${Object.keys(READERS).join(', ')}`);
  if (!writer) throw new UsageError(`--to ends in ${Object.keys(WRITERS).join(', ')}`);
  const number = values.piece === undefined ? undefined : Number(values.piece);
  if (number !== undefined && (!Number.isInteger(number) || number < 1))
    throw new UsageError('--piece counts from 1');
  const read = reader(file, readFrom(file), values, number);
  const text = ['.txt', '.tab'].includes(extname(file).toLowerCase());
  const arrangement = values.fingers
    ? fingered(read.arrangement)
    : text
      ? asSaid(read.arrangement)
      : read.arrangement;
  writeTo(values.to, writer({ ...read, arrangement }, values));
  const notes = arrangement.measures.reduce((sum, measure) => sum + measure.notes.length, 0);
  return [
    `${read.tune.title}: ${arrangement.setup.instrument}, capo ${arrangement.setup.capo}, ${arrangement.measures.length} measures, ${notes} notes -> ${values.to}`,
    ...read.report,
  ].join('\n');
}

/** Does what `npm run convert` does, without ending the process. */
export function main(argv: string[]): Outcome {
  return outcomeOf(HELP, () => run(argv));
}

await runIfStarted(import.meta.url, main);
