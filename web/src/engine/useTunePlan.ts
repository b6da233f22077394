import { useCallback } from 'react';
import { freshPlan, type TunePlan } from '#core/capo';
import { beginsAs, copyOf } from '../data/copies';
import { useCopy } from '../data/queries';

beginsAs('plans', freshPlan);

/** What is to change in a plan; undefined takes a name out. */
export type PlanPatch = { [K in keyof TunePlan]?: TunePlan[K] | undefined };

/** A plan that has been read, and how to change it. */
export interface Planned {
  plan: TunePlan;
  /** Whether anything was settled for this tune yet. */
  settled: boolean;
  change: (patch: PlanPatch) => void;
  undo: () => void;
  canUndo: boolean;
}

/** The plan of a tune; undefined until it is read. Saved with every change; changes can be undone. */
export function useTunePlan(tuneId: string): Planned | undefined {
  const [state, copy] = useCopy('plans', tuneId);
  const plan = state.history?.present;
  const change = useCallback(
    (patch: PlanPatch) => {
      const present = copy.snapshot().history?.present;
      if (!present) return;
      const kept = Object.entries({ ...present, ...patch }).filter(([, value]) => value !== undefined);
      copy.replace(Object.fromEntries(kept) as unknown as TunePlan);
    },
    [copy],
  );
  if (!plan) return undefined;
  return {
    plan,
    settled: state.stored || Boolean(state.history?.past.length),
    change,
    undo: copy.undo,
    canUndo: Boolean(state.history?.past.length),
  };
}

/** Settles something for a tune that no screen shows yet, and stores it. */
export async function settlePlan(tuneId: string, settle: (plan: TunePlan) => TunePlan): Promise<void> {
  const copy = copyOf('plans', tuneId);
  const plan = await copy.content();
  if (!plan) throw new Error('what was planned for this tune can’t be read now');
  copy.replace(settle(plan));
  await copy.save();
}
