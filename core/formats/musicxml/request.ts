/** What is wanted of a MusicXML file, and what is to be told of it. */
import type { InstrumentId } from '../../instrument';
import type { RemarkList } from '../file';
import type { PartNote } from './scorePart';

/** What is wanted of a file with several parts. */
export interface MusicXmlRequest {
  tuneId: string;
  /** Id of the arrangement. */
  id: string;
  /** Place of the part that is the tune (from 0); the first with tablature where it is not said, else the first. */
  part?: number;
  /** The other parts and voices are kept as further voices. */
  others?: boolean;
  /** What a tablature is for, where its strings leave it open. */
  instrument?: InstrumentId;
  /** Where the file names none. */
  title?: string;
}

/** What was guessed, and what could not be kept. */
export interface Remarks {
  guesses: RemarkList;
  leftOut: RemarkList;
}

/** Whether a note tells where it lies on the strings. */
export const isPlaced = (note: PartNote) => note.string !== undefined && note.fret !== undefined;
