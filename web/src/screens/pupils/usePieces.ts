import { useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import { freshOutline, type LessonStep, outlinedSteps, taughtArrangement } from '#core/lesson';
import type { Learning } from '#core/practice';
import type { Arrangement } from '#core/score';
import { read } from '../../data/store';
import { dayOf } from '../../parts/dates';

/** What a pupil learns, as it is taught, with its lesson; without it where the arrangement is gone. */
export interface Piece {
  learning: Learning;
  arrangement?: Arrangement;
  steps: LessonStep[];
}

/** The lessons of pieces; undefined while they are read. */
export function usePieces(learnings: readonly Learning[]): Piece[] | undefined {
  const ids = useMemo(() => [...new Set(learnings.map(own => own.arrangementId))], [learnings]);
  const lessons = useQueries({
    queries: ids.map(id => ({
      queryKey: ['arrangements', 'lesson', id],
      queryFn: async () => {
        const written = (await read('arrangements', id))?.record;
        const outline = (await read('outlines', id))?.record ?? freshOutline(id);
        if (!written) return { arrangement: null, steps: [] };
        const arrangement = taughtArrangement(written, outline);
        return { arrangement, steps: outlinedSteps(arrangement, outline) };
      },
    })),
    combine: results =>
      results.every(result => result.data)
        ? new Map(results.map((result, i) => [ids[i]!, result.data!]))
        : undefined,
  });
  return useMemo(
    () =>
      lessons &&
      learnings.map((learning): Piece => {
        const lesson = lessons.get(learning.arrangementId);
        return {
          learning,
          ...(lesson?.arrangement && { arrangement: lesson.arrangement }),
          steps: lesson?.steps ?? [],
        };
      }),
    [lessons, learnings],
  );
}

/** What a piece is called. */
export function pieceTitle({ arrangement, learning }: Piece): string {
  if (!arrangement) return `a piece that was taken off the shelf (since ${dayOf(learning.since)})`;
  return arrangement.name ? `${arrangement.title}, ${arrangement.name}` : arrangement.title;
}
