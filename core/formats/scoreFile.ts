/** Files of notes that other programs write, whichever they are: MusicXML, compressed or not, and MIDI. */
import type { InstrumentId } from '../instrument';
import type { Arrangement } from '../score';
import type { Meter } from '../time';
import type { Tune } from '../tune';
import type { FilePart, FileRemark } from './file';
import { type MidiGrid, readMidi } from './midi';
import { musicXmlText, readMusicXml } from './musicxml';
import type { TextRemark } from './reading';

/** Endings of the names of such files. */
export const SCORE_ENDINGS = ['.musicxml', '.xml', '.mxl', '.mid', '.midi'] as const;

/** What is wanted of a file. */
export interface ScoreFileRequest {
  tuneId: string;
  /** Id of the arrangement. */
  id: string;
  /** Place of the part or track that is the tune (from 0). */
  part?: number;
  /** The other parts and voices are kept as further voices. */
  others?: boolean;
  instrument?: InstrumentId;
  /** Of MIDI: the shortest straight note, and whether beats may be divided in three. */
  grid?: MidiGrid;
  triplets?: boolean;
  /** Of MIDI: what it is counted in, in place of what the file says, and how many beats stand before the first full measure. */
  meter?: Meter;
  pickup?: number;
  /** Where the file names none. */
  title?: string;
}

/** What was made of a file, or why nothing. */
export type ScoreFileReading =
  | {
      tune: Tune;
      /** Where strings and frets are told. */
      arrangement?: Arrangement;
      parts: FilePart[];
      part: number;
      /** Of MIDI. */
      grid?: MidiGrid;
      guesses: FileRemark[];
      leftOut: FileRemark[];
      error?: undefined;
    }
  | { error: TextRemark };

const endingOf = (name: string) => /\.[^.]*$/.exec(name.toLowerCase())?.[0] ?? '';

/**
 * Whether a file is told by its name to be one of notes.
 *
 * @example isScoreFile('Air.MID') // true
 */
export function isScoreFile(name: string): boolean {
  return (SCORE_ENDINGS as readonly string[]).includes(endingOf(name));
}

/**
 * Reads a file, by the ending of its name.
 *
 * @example readScoreFile('air.mid', writeMidi(arrangement), { tuneId: 't', id: 'a' }).part // 0
 */
export function readScoreFile(name: string, bytes: Uint8Array, request: ScoreFileRequest): ScoreFileReading {
  if (/^\.midi?$/.test(endingOf(name))) return readMidi(bytes, request);
  try {
    return readMusicXml(musicXmlText(bytes), request);
  } catch (cause) {
    if (cause instanceof RangeError) return { error: { line: 1, column: 1, message: cause.message } };
    throw cause;
  }
}
