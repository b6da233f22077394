/** Texts that people write, whichever of the two ways they are written in, and what becomes of an arrangement with them. */
import { applyEdit, startHistory } from '../edit';
import { type Arrangement, measureIndex, type WrittenMeasure } from '../score';
import { meterName, sameMeter } from '../time';
import { splitTuneBook } from './abc';
import { readDictation } from './dictation';
import type { Reading } from './reading';
import { readSong } from './song';
import { readTab } from './tab';
import { systemsOf } from './tab/lines';

/** Systems of rows that a text holds; two rows alone are rather something else. */
const tabSystems = (text: string) =>
  systemsOf(text.split(/\r?\n/, 5000)).systems.filter(({ rows }) => rows.length > 2).length;

/**
 * What a text is, by what stands in it: a tune book in ABC, a text tab, a song in chords and words; undefined where it is
 * none of them. A song may hold a lick as tab.
 *
 * @example kindOfText('G       C\nDown by the brook') // 'song'
 */
export function kindOfText(text: string): 'abc' | 'tab' | 'song' | undefined {
  if (splitTuneBook(text).length) return 'abc';
  const systems = tabSystems(text);
  const { tune } = readSong(text);
  if (!systems) return tune && 'song';
  const lines = tune?.measures.flatMap(({ events }) => events).filter(({ line, words }) => line && words);
  return lines && lines.length > 2 * systems ? 'song' : 'tab';
}

/**
 * Reads a text: as tab where rows of strings stand in it, else as dictation.
 *
 * @example readText('s1 W 3').measures.length // 1
 */
export function readText(text: string, given: Parameters<typeof readTab>[1] = {}): Reading {
  return tabSystems(text) ? readTab(text, given) : readDictation(text, given);
}

/** What a text would make of an arrangement. */
export interface WrittenOn {
  reading: Reading;
  /** The arrangement with it; absent while something is to be asked. */
  arrangement?: Arrangement;
  error?: string;
}

/** A pickup where it stands in a measure that is longer: at its end. */
function atEnd(measure: WrittenMeasure, pickup: number, room: number): WrittenMeasure {
  const late = <T extends { start: number }>(own: T): T => ({ ...own, start: own.start + room - pickup });
  const { notes, strokes, chords, words } = measure;
  return {
    ...measure,
    ticks: room,
    notes: notes.map(late),
    ...(strokes && { strokes: strokes.map(late) }),
    ...(chords && { chords: chords.map(late) }),
    ...(words && { words: words.map(late) }),
  };
}

/**
 * Writes a text over the measures of an arrangement from one on. Instrument, tuning and capo stay the arrangement's: where
 * the text says others, that is among the guesses.
 *
 * @example writtenOn(arrangement, arrangement.measures[0].id, 's1 W 3').arrangement.measures[0].notes.length // 1
 */
export function writtenOn(arrangement: Arrangement, measureId: string, text: string): WrittenOn {
  const { setup, measures } = arrangement;
  const index = measureIndex(arrangement, measureId);
  const meter = measures[Math.max(0, index)]!.meter;
  const reading = readText(text, { setup, meter });
  const { heading, guesses } = reading;
  const own = { line: 1, column: 1 };
  if (heading.capo !== undefined && heading.capo !== setup.capo)
    guesses.push({
      ...own,
      message: `the text says capo ${heading.capo}: frets are taken from the capo there is`,
    });
  if (heading.tuning && heading.tuning.join() !== setup.tuning.join())
    guesses.push({ ...own, message: 'the text says another tuning: frets are taken on the one there is' });
  if (heading.instrument && heading.instrument !== setup.instrument)
    guesses.push({
      ...own,
      message: `the text is for a ${heading.instrument}: it is written for this instrument`,
    });
  if (heading.meter && !sameMeter(heading.meter, meter))
    reading.questions.push({
      ...own,
      message: `the text is in ${meterName(heading.meter)}, these measures are in ${meterName(meter)}`,
    });
  if (reading.questions.length) return { reading };
  const room = measures[Math.max(0, index)]!.ticks;
  const { pickup = room } = reading;
  const done = applyEdit(startHistory(arrangement), {
    kind: 'write',
    ids: [measureId],
    values: {
      measures: reading.measures.map((measure, i) =>
        i === 0 && pickup < room ? atEnd(measure, pickup, room) : measure,
      ),
    },
  });
  return 'error' in done ? { reading, error: done.error } : { reading, arrangement: done.present };
}
