/** What barres cost in a key. All of it is judgement. */
import type { Shape } from '../shape';
import type { MelodyWishes } from './melody';

/** Strings that a small barre holds at most, as that of F. */
const SMALL = 3;

const BARRE = {
  /** for a beginner: the time that one is held, and each shape with one, which is learned for it: over four strings or more, and a small one */
  beginner: 10,
  learned: 3,
  smallLearned: 2,
  /** the time under a melody over a bass: the little finger is not free; and more of that than a hand likes, which tires from a part of the time on */
  overBass: 1.5,
  many: { from: 0.25, cost: 12 },
};

/** Effort of a barre that is held for a part of the time. */
export function barreEffort(part: number, { beginner, overBass }: MelodyWishes): number {
  if (beginner) return part * BARRE.beginner;
  if (!overBass) return 0;
  return part * BARRE.overBass + Math.max(0, part - BARRE.many.from) * BARRE.many.cost;
}

/** What shapes with a barre are to one who learns them. */
export function barresLearned(shapes: Iterable<Shape>): number {
  let effort = 0;
  for (const { grip } of shapes) {
    const isWide = grip.some(({ from, to }) => to - from >= SMALL);
    effort += isWide ? BARRE.learned : BARRE.smallLearned;
  }
  return effort;
}
