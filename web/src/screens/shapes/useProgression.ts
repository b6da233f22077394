import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Progression, TunePlan } from '#core/capo';
import type { Tune } from '#core/tune';
import { markOf } from '../../data/mark';
import { arranger } from '../../engine/workers';

/** The progression of a tune under its plan, computed beside the screen. */
export function useProgression(tune: Tune, plan: TunePlan) {
  return useQuery({
    queryKey: ['progression', markOf(tune), plan],
    queryFn: (): Promise<Progression> => arranger().planShapes(tune, plan),
    placeholderData: keepPreviousData,
  });
}
