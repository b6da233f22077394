/** What readers of texts that people write have in common: where they are in it, and what they make of it. */
import type { InstrumentId } from '../instrument';
import type { Key } from '../pitch';
import type { WrittenMeasure } from '../score';
import type { Feel, Meter } from '../time';

/** A remark about a place of a text; line and column from 1. */
export interface TextRemark {
  line: number;
  column: number;
  message: string;
}

/** What a text says of the piece as a whole. */
export interface Heading {
  title?: string;
  /** Who made it, or "Trad.". */
  composer?: string;
  instrument?: InstrumentId;
  /** String 1 first. */
  tuning?: string[];
  capo?: number;
  meter?: Meter;
  /** As it sounds. */
  key?: Key;
  /** The key was said among other words, not by a line of its own: over a capo it may be that of the shapes, or not. */
  keyInWords?: boolean;
  quartersPerMinute?: number;
  feel?: Feel;
}

/** What was made of a text. */
export interface Reading {
  heading: Heading;
  measures: WrittenMeasure[];
  /** Length of a pickup that the first measure is, in ticks. */
  pickup?: number;
  /** Where the text is for several players: who they are, and the place of the one whose part was read. */
  players?: { names: string[]; read: number };
  /** What has to be answered first: nothing is made of a text that contradicts itself. */
  questions: TextRemark[];
  /** What was taken to be meant, without being said. */
  guesses: TextRemark[];
  /** What was read but can't be kept. */
  leftOut: TextRemark[];
}

/** Words of a text as a remark quotes them, cut where they are many. */
export function quoted(text: string): string {
  const plain = text.trim();
  return `“${plain.length > 40 ? `${plain.slice(0, 38)} …` : plain}”`;
}

/** The first thing to be asked, as one line. */
export function firstQuestion({ questions }: { questions: readonly TextRemark[] }): string | undefined {
  const [first] = questions;
  return first && `line ${first.line}, column ${first.column}: ${first.message}`;
}
