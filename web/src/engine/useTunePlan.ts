import { useCallback, useRef, useState } from 'react';
import { freshPlan, type TunePlan } from '#core/capo';
import { usePlan, useSavePlan } from '../data/queries';

/** What is to change in a plan; undefined takes a name out. */
export type PlanPatch = { [K in keyof TunePlan]?: TunePlan[K] | undefined };

/** The plan of a tune, saved with every change; changes can be undone while the screen is open. */
export function useTunePlan(tuneId: string) {
  const stored = usePlan(tuneId);
  const save = useSavePlan();
  const past = useRef<TunePlan[]>([]);
  const [depth, setDepth] = useState(0);
  const plan = stored.data ?? freshPlan(tuneId);
  const { mutate } = save;
  const change = useCallback(
    (patch: PlanPatch) => {
      past.current.push(plan);
      setDepth(past.current.length);
      const kept = Object.entries({ ...plan, ...patch }).filter(([, value]) => value !== undefined);
      mutate(Object.fromEntries(kept) as unknown as TunePlan);
    },
    [plan, mutate],
  );
  const undo = useCallback(() => {
    const before = past.current.pop();
    setDepth(past.current.length);
    if (before) mutate(before);
  }, [mutate]);
  return {
    plan,
    pending: stored.isPending,
    /** Whether anything was settled for this tune yet. */
    settled: Boolean(stored.data),
    change,
    undo,
    canUndo: depth > 0,
    error: save.error,
  };
}
