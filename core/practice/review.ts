/**
 * When a piece is to be played again: spaced by FSRS (free spaced repetition scheduler, its published default weights),
 * through the general-purpose package ts-fsrs.
 *
 * How it is adapted to pieces, and why: a piece is one card, for it is forgotten as a whole long before single measures
 * are; the grade is not asked for but comes from how the rounds of the day went and at what tempo; all sittings of a day
 * are one review, for hands don't forget within hours; nothing is laid aside for longer than two months, since hands also
 * lose what the head still knows.
 */
import { addDays, differenceInCalendarDays, startOfDay } from 'date-fns';
import { type Card, createEmptyCard, fsrs, type Grade, Rating } from 'ts-fsrs';
import type { Sitting, StepPlayed } from './model';

/** Longest time between two reviews, in days; judgement. */
const LONGEST = 60;
const scheduler = fsrs({ enable_short_term: false, enable_fuzz: false, maximum_interval: LONGEST });

/** How a day went, from worst to best. */
export const DAY_GRADES = ['again', 'hard', 'good', 'easy'] as const;
export type DayGrade = (typeof DAY_GRADES)[number];
const RATINGS: Record<DayGrade, Grade> = {
  again: Rating.Again,
  hard: Rating.Hard,
  good: Rating.Good,
  easy: Rating.Easy,
};

/** Parts of clean rounds below which a day counts as lost, and as hard; from which as easy, at full tempo. Judgement. */
const LOST = 0.4;
const HARD = 0.7;
const EASY = 0.95;
/** A tempo below this part of the full one is hard however clean. */
const SLOW = 70;
const FULL = 100;

/**
 * How the rounds of a day went; undefined where none was played.
 *
 * @example gradeOf([{ step: 'whole', percent: 90, rounds: 5, clean: 4 }]) // 'good'
 */
export function gradeOf(steps: readonly StepPlayed[]): DayGrade | undefined {
  const rounds = steps.reduce((sum, step) => sum + step.rounds, 0);
  if (!rounds) return undefined;
  const clean = steps.reduce((sum, step) => sum + step.clean, 0) / rounds;
  const percent = steps.reduce((sum, step) => sum + step.percent * step.rounds, 0) / rounds;
  if (clean < LOST) return 'again';
  if (clean < HARD || percent < SLOW) return 'hard';
  return clean >= EASY && percent >= FULL ? 'easy' : 'good';
}

/** When a piece is to be played again. */
export interface Review {
  /** Beginning of the day, in milliseconds since 1970, in the time of the place. */
  due: number;
  /** Days from the last one to the next. */
  days: number;
  grade: DayGrade;
}

/**
 * The next review of a piece, from everything that was practised of it; undefined before the first time.
 *
 * @example nextReview([{ id: 's', learningId: 'l', at: 0, minutes: 9, hand: 'well',
 *   steps: [{ step: 'whole', percent: 90, rounds: 5, clean: 4 }] }]).grade // 'good'
 */
export function nextReview(sittings: readonly Sitting[]): Review | undefined {
  const days = new Map<number, StepPlayed[]>();
  for (const { at, steps } of sittings.toSorted((a, b) => a.at - b.at)) {
    const day = startOfDay(at).getTime();
    days.set(day, [...(days.get(day) ?? []), ...steps]);
  }
  let card: Card | undefined;
  let review: Review | undefined;
  for (const [day, steps] of days) {
    const grade = gradeOf(steps);
    if (!grade) continue;
    card = scheduler.next(card ?? createEmptyCard(new Date(day)), new Date(day), RATINGS[grade]).card;
    const days = Math.min(LONGEST, Math.max(1, card.scheduled_days));
    review = { due: addDays(day, days).getTime(), days, grade };
  }
  return review;
}

/**
 * When something is due, said without scolding: "today", "in 3 days", "ready since Tuesday".
 *
 * @example dueWords(new Date(2026, 2, 14).getTime(), new Date(2026, 2, 11).getTime()) // 'in 3 days'
 */
export function dueWords(due: number, now: number): string {
  const days = differenceInCalendarDays(due, now);
  if (days === 0) return 'today';
  if (days === 1) return 'tomorrow';
  if (days > 1) return `in ${days} days`;
  if (days === -1) return 'ready since yesterday';
  return days > -7
    ? `ready since ${['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'][new Date(due).getDay()]}`
    : `ready for ${Math.round(-days / 7)} week${Math.round(-days / 7) > 1 ? 's' : ''}`;
}
