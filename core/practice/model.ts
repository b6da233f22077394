/** Who is taught, what they play, and what was practised. */
import type { Hand } from '../hand';
import type { InstrumentId } from '../instrument';
import type { Level, PluckSchool } from '../score';

/** When a pupil comes, week by week. */
export interface LessonTime {
  /** 1 Monday to 7 Sunday (ISO 8601). */
  weekday: number;
  /** "17:30", in the time of the place. */
  time: string;
  minutes: number;
}

/** A lesson that was given or missed. */
export interface LessonNote {
  id: string;
  /** "2026-03-14" */
  date: string;
  came: boolean;
  /** What was done, and what is next, in the teacher's words. */
  done: string;
  next: string;
}

/** Someone who is taught. */
export interface Pupil {
  id: string;
  name: string;
  instrument: InstrumentId;
  hand: Hand;
  leftHanded?: boolean;
  /** Lowest and highest note that they sing, as MIDI notes. */
  voice?: { low: number; high: number };
  school?: PluckSchool;
  level?: Level;
  times?: LessonTime[];
  goals?: string;
  notes?: string;
  lessons?: LessonNote[];
}

/** A piece that a pupil learns: an arrangement with their own progress in it. */
export interface Learning {
  id: string;
  pupilId: string;
  arrangementId: string;
  /** When it was given, in milliseconds since 1970. */
  since: number;
  /** Ids of the steps that were ticked off. */
  done: string[];
  /** Step that was open last. */
  current?: string;
  /** Highest tempo at which each step was clean, in per cent of the full one, by the id of the step. */
  percents: Record<string, number>;
  /** When it was laid aside. */
  ended?: number;
}

/** How the hand felt at the end. */
export const HAND_FEELINGS = ['well', 'tired', 'hurts'] as const;
export type HandFeeling = (typeof HAND_FEELINGS)[number];

/** What was played of a step in one sitting. */
export interface StepPlayed {
  step: string;
  /** Highest tempo at which it was clean; where it never was, the lowest one tried. Per cent of the full tempo. */
  percent: number;
  rounds: number;
  clean: number;
}

/** One time that a pupil sat down with a piece. */
export interface Sitting {
  id: string;
  learningId: string;
  /** When it began, in milliseconds since 1970. */
  at: number;
  minutes: number;
  steps: StepPlayed[];
  hand: HandFeeling;
  note?: string;
}

/**
 * The two states of what a pupil has learned as one, so that nothing is lost that was reached in either.
 *
 * @example
 * joinedLearning({ id: 'l', pupilId: 'p', arrangementId: 'a', since: 0, done: ['x'], percents: {} },
 *   { id: 'l', pupilId: 'p', arrangementId: 'a', since: 0, done: ['y'], percents: { y: 80 } }).done // ['x', 'y']
 */
export function joinedLearning(mine: Learning, theirs: Learning): Learning {
  const percents = { ...mine.percents };
  for (const [step, percent] of Object.entries(theirs.percents))
    percents[step] = Math.max(percents[step] ?? 0, percent);
  return { ...mine, ...theirs, done: [...new Set([...mine.done, ...theirs.done])], percents };
}
