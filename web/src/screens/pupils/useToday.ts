import { useMemo } from 'react';
import { type Pupil, type Sitting, type Today, todayFor } from '#core/practice';
import { useLearnings, usePupils, useSittings } from '../../data/queries';
import { type Piece, usePieces } from './usePieces';

const NONE: never[] = [];

/** A pupil with their pieces and what of them is to be played today. */
export interface PupilToday extends Today {
  pupil: Pupil;
  own: Piece[];
  /** When they practised last. */
  last: Sitting | undefined;
}

/** Everyone with what they play today, and what it is made from. */
export function useToday(now: number) {
  const pupils = usePupils();
  const learnings = useLearnings();
  const sittings = useSittings();
  const pieces = usePieces(learnings.data ?? NONE);
  const today = useMemo(() => {
    const played = sittings.data ?? NONE;
    return (pupils.data ?? NONE).map((pupil): PupilToday => {
      const own = (pieces ?? NONE).filter(({ learning }) => learning.pupilId === pupil.id);
      const ids = new Set(own.map(({ learning }) => learning.id));
      const steps = new Map(own.map(piece => [piece.learning.arrangementId, piece.steps.length]));
      const list = todayFor(
        own.filter(piece => piece.arrangement).map(({ learning }) => learning),
        played.filter(({ learningId }) => ids.has(learningId)),
        id => steps.get(id) ?? 0,
        now,
      );
      return { pupil, own, ...list, last: played.find(({ learningId }) => ids.has(learningId)) };
    });
  }, [pupils.data, pieces, sittings.data, now]);
  return {
    today,
    pupils: pupils.data ?? NONE,
    pieces: pieces ?? NONE,
    sittings: sittings.data ?? NONE,
    known: pupils.isSuccess,
    trouble: pupils.error ?? learnings.error ?? sittings.error,
  };
}
