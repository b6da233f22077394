/** What a pupil plays today: what is being learned, and what comes up again. */
import { isSameDay } from 'date-fns';
import type { HandFeeling, Learning, Sitting } from './model';
import { nextReview, type Review } from './review';

/** A piece of today. */
export interface TodayPiece {
  learning: Learning;
  /** It is still being learned, or it is played again so that it stays. */
  why: 'learning' | 'review';
  review?: Review;
  minutes: number;
}

export interface Today {
  pieces: TodayPiece[];
  /** How the hand felt last, where that was within the last days and not well. */
  hand?: Exclude<HandFeeling, 'well'>;
}

/** Minutes of a day without anything in the way, for a piece that is learned and for one that comes again; judgement. */
const MINUTES = { learning: 15, review: 6 };
/** What is left of them for a hand that is tired, and for one that hurts. */
const LIGHTER: Record<HandFeeling, number> = { well: 1, tired: 0.6, hurts: 0.3 };
/** Days over which a hand is spared that did not feel well. */
const SPARED = 3;
const DAY = 86_400_000;

/**
 * Today's list, what waits longest first. A hand that hurts makes it lighter: less of each, and nothing new beside what is
 * learned already.
 *
 * @param whole how many steps each piece has, by the id of its arrangement
 * @example todayFor([], [], () => 1, 0) // { pieces: [] }
 */
export function todayFor(
  learnings: readonly Learning[],
  sittings: readonly Sitting[],
  stepsOf: (arrangementId: string) => number,
  now: number,
): Today {
  const last = sittings.toSorted((a, b) => b.at - a.at)[0];
  const feeling = last && now - last.at < SPARED * DAY ? last.hand : 'well';
  const share = LIGHTER[feeling];
  const pieces = learnings.flatMap((learning): TodayPiece[] => {
    if (learning.ended !== undefined) return [];
    const own = sittings.filter(sitting => sitting.learningId === learning.id);
    if (own.some(sitting => isSameDay(sitting.at, now))) return [];
    const review = nextReview(own);
    const learned = learning.done.length >= stepsOf(learning.arrangementId);
    if (learned && (!review || review.due > now)) return [];
    if (!learned && feeling === 'hurts' && !learning.done.length) return [];
    const why = learned ? 'review' : 'learning';
    return [
      { learning, why, minutes: Math.max(2, Math.round(MINUTES[why] * share)), ...(review && { review }) },
    ];
  });
  pieces.sort((a, b) => (a.review?.due ?? a.learning.since) - (b.review?.due ?? b.learning.since));
  return { pieces, ...(feeling !== 'well' && { hand: feeling }) };
}
