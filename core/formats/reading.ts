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
  instrument?: InstrumentId;
  /** String 1 first. */
  tuning?: string[];
  capo?: number;
  meter?: Meter;
  /** As it sounds. */
  key?: Key;
  quartersPerMinute?: number;
  feel?: Feel;
}

/** What was made of a text. */
export interface Reading {
  heading: Heading;
  measures: WrittenMeasure[];
  /** Length of a pickup that the first measure is, in ticks. */
  pickup?: number;
  /** What has to be answered first: nothing is made of a text that contradicts itself. */
  questions: TextRemark[];
  /** What was taken to be meant, without being said. */
  guesses: TextRemark[];
  /** What was read but can't be kept. */
  leftOut: TextRemark[];
}

/** The first thing to be asked, as one line. */
export function firstQuestion({ questions }: { questions: readonly TextRemark[] }): string | undefined {
  const [first] = questions;
  return first && `line ${first.line}, column ${first.column}: ${first.message}`;
}
