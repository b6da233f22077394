/** How the fields of key and capo are marked. */
import type { KeyPlan } from '#core/capo';
import { type Key, keyName, keyShort } from '#core/pitch';

export type Mark = 'well' | 'works' | 'hard' | 'out';

export const MARKS: Record<Mark, { sign: string; words: string }> = {
  well: { sign: '●', words: 'sits well' },
  works: { sign: '◐', words: 'works' },
  hard: { sign: '○', words: 'hard' },
  out: { sign: '✕', words: "won't do" },
};

/** How a plan compares with the best one: effort above it, or out of voice or pitch. */
export function markOf(plan: KeyPlan, best: number, targeted: boolean): Mark {
  if ((plan.voice && plan.voice.below + plan.voice.above > 0) || (targeted && plan.parts.pitch > 0))
    return 'out';
  const above = plan.cost - best;
  return above <= 1.5 ? 'well' : above <= 4 ? 'works' : 'hard';
}

export const cellName = (plan: KeyPlan) =>
  `${keyName(plan.shapeKey)} shapes, ${plan.setup.capo ? `capo ${plan.setup.capo}` : 'no capo'}`;

/** A key among others of its mode: E minor as Em, E Dorian as E. */
export const tonicOf = (key: Key): string =>
  keyShort({ ...key, mode: key.mode === 'minor' ? 'minor' : 'major' });
