/** A piece out of a text that tells one: a tune without source, and the arrangement that is written on it. */
import { emptyArrangement } from '../arrange';
import { applyEdit, startHistory } from '../edit';
import { INSTRUMENTS, type Setup, standardSetup } from '../instrument';
import { type Key, keyName, spellMidi } from '../pitch';
import { type Arrangement, noteMidi, type Style, type WrittenMeasure } from '../score';
import { type Meter, measureTicks } from '../time';
import { blankTune, findKeys, type Rights, type Tune } from '../tune';
import { firstQuestion, type Reading, type TextRemark } from './reading';

/** What a piece needs beside what its text says. */
export interface PieceRequest {
  tuneId: string;
  id: string;
  /** Where the text has none. */
  title?: string;
  /** What the text was read with, where it says nothing itself. */
  given?: { setup?: Setup; meter?: Meter };
  style?: Style;
  rights?: Rights;
  quartersPerMinute?: number;
}

/** A piece with what was taken for granted, or why there is none. */
export type Piece =
  | { tune: Tune; arrangement: Arrangement; guesses: TextRemark[]; error?: undefined }
  | { error: string };

/**
 * Makes a piece of what was read.
 *
 * @example
 * pieceOf(readDictation('key: G\ns1 W 3'), { tuneId: 't', id: 'a' }).arrangement.measures[0].notes[0].fret // 3
 */
export function pieceOf({ heading, measures, pickup, questions }: Reading, request: PieceRequest): Piece {
  const question = firstQuestion({ questions });
  if (question !== undefined) return { error: question };
  if (!measures.length) return { error: 'nothing is written here yet' };
  const guesses: TextRemark[] = [];
  const guess = (message: string) => guesses.push({ line: 1, column: 1, message });
  const { given } = request;
  const instrument = heading.instrument ?? given?.setup?.instrument ?? 'guitar';
  const usual = given?.setup?.instrument === instrument ? given.setup : standardSetup(instrument);
  const setup: Setup = {
    ...usual,
    capo: heading.capo ?? usual.capo,
    ...(heading.tuning && { tuning: heading.tuning }),
  };
  const meter = heading.meter ?? given?.meter ?? { beats: 4, unit: 4 };
  const tempo = heading.quartersPerMinute ?? request.quartersPerMinute ?? 80;
  if (heading.quartersPerMinute === undefined && request.quartersPerMinute === undefined)
    guess(`no tempo is said: ${tempo} quarters a minute are taken`);
  const full = measureTicks(meter);
  const lengths = measures.map((measure, i) => (i === 0 && pickup ? pickup : Math.min(full, measure.ticks)));
  const blank = blankTune({
    id: request.tuneId,
    title: heading.title ?? request.title ?? 'Untitled',
    meter,
    key: heading.key ?? { tonic: 'C', mode: 'major' },
    quartersPerMinute: tempo,
    measures: measures.length,
    rights: request.rights ?? 'unknown',
  });
  const tune: Tune = {
    ...blank,
    ...(heading.composer && { composer: heading.composer }),
    measures: blank.measures.map((measure, i) => {
      const ticks = lengths[i]!;
      // A part of a measure that another completes begins where that one ended.
      const offset = i === 0 ? full - ticks : lengths[i - 1]! + ticks === full ? lengths[i - 1]! : 0;
      return {
        ...measure,
        ticks,
        offset: ticks < full ? offset : 0,
        events: measure.events.map(e => ({ ...e, ticks })),
      };
    }),
  };
  const style = request.style ?? (INSTRUMENTS[instrument].tuning.length >= 6 ? 'fingerstyle' : 'melody');
  const written = (own: Tune) => arrangementWith(own, { id: request.id, setup, style, measures });
  const first = written(tune);
  if ('error' in first) return first;
  const key = heading.key ?? keyOf(first);
  if (!heading.key) guess(`no key is said: ${keyName(key)} is taken from the notes`);
  const named: Tune = { ...tune, key, measures: tune.measures.map(measure => ({ ...measure, key })) };
  const arrangement = heading.key ? first : written(named);
  if ('error' in arrangement) return arrangement;
  return {
    tune: heading.feel ? { ...named, feel: heading.feel } : named,
    arrangement: heading.feel ? { ...arrangement, feel: heading.feel } : arrangement,
    guesses,
  };
}

/** An arrangement of a tune with just these notes; why it can't be written, as an error. */
export function arrangementWith(
  tune: Tune,
  {
    id,
    setup,
    style,
    measures,
  }: { id: string; setup: Setup; style: Style; measures: readonly WrittenMeasure[] },
): Arrangement | { error: string } {
  const { instrument, capo } = setup;
  const empty = emptyArrangement(tune, { id, instrument, setup, style, capo });
  const done = applyEdit(startHistory(empty), {
    kind: 'write',
    ids: [empty.measures[0]!.id],
    values: { measures: [...measures] },
  });
  return 'error' in done ? done : done.present;
}

/** The likeliest key of what is written, by its melody. */
function keyOf({ measures, setup }: Arrangement): Key {
  const heard = measures.map(({ id, meter, key, ticks, offset, notes }) => ({
    id,
    meter,
    key,
    ticks,
    offset,
    chords: [],
    events: notes
      .filter(note => note.role === 'melody')
      .sort((a, b) => a.start - b.start)
      .map(note => ({
        id: note.id,
        start: note.start,
        ticks: note.ticks,
        pitch: spellMidi(noteMidi(setup, note), 0),
      })),
  }));
  return findKeys({ measures: heard })[0]?.key ?? { tonic: 'C', mode: 'major' };
}
