/** The fingers of shapes that follow each other: one fingering for each, by what stays and what has to move. */
import { changeEffort, type Hand, totalEffort } from '../hand';
import type { Setup } from '../instrument';
import { fingersText, shapeText } from './describe';
import { withBarreStrength } from './effort';
import { type ChordWeight, getTo, heldEffort, type PathGoal } from './progression';
import { type FingeringWishes, fingeringsOf, type Shape } from './search';
import { usualFingers } from './usual';

/**
 * What other fingers than the first ones must save to be taken, as a part of a shape's own changes: what D and A around G
 * save by the little finger in a slow song is less, what C and Am save is more. Judgement.
 */
const GAIN = 0.07;
/** The same of the hardest change, where that is to be easy; judgement. */
const GAIN_OF_WORST = 0.02;

/**
 * A shape held in every way there is, the easiest first: what else speaks for it or against it stays.
 *
 * @example waysToHold(chosenShape('x32010', setup, hand), setup, hand)[0].grip.map(p => p.finger) // [1, 2, 3]
 */
export function waysToHold(shape: Shape, setup: Setup, hand: Hand, wishes: FingeringWishes = {}): Shape[] {
  const ways = fingeringsOf(shape.frets, setup, hand, wishes).map(({ grip, effort }) => ({
    grip,
    effort: withBarreStrength(effort, grip, setup, hand),
  }));
  const { frets, effort: had } = shape;
  const present = ways.find(({ grip }) => fingersText({ frets, grip }) === fingersText(shape)) ?? ways[0];
  return ways.map(({ grip, effort }) => ({
    ...shape,
    grip,
    effort: {
      ...effort,
      ...(had.unusual && { unusual: had.unusual }),
      ...(had.silent && { silent: had.silent }),
      ...(had.rings && { rings: had.rings }),
    },
    cost: shape.cost + totalEffort(effort) - totalEffort(present!.effort),
  }));
}

/**
 * The fingers of the shapes of a progression: one fingering for each shape throughout, as a pupil learns it once, so that
 * holding and changing cost least. Of the ways that players have of a shape: G is held by 3, 2 and 4 where C comes next,
 * whose fingers only roll over, by 2, 1 and 3 where other fingers gain little; any other shape by its easiest. Found by
 * bettering one shape at a time.
 *
 * @param shapes in playing order
 * @param weights of each chord
 * @param asked `goal` what is to be low, all of it or the hardest change; `chosen` fingers chosen by hand, as text by shape
 *   text: what the hand can't hold is left aside
 * @returns the same shapes in the same order
 * @example fingerShapes([chosenShape('x32010', setup, hand)], setup, hand, [{ hold: 1, change: 1 }])[0].frets // [0, 1, 0, 2, 3, null]
 */
export function fingerShapes(
  shapes: readonly Shape[],
  setup: Setup,
  hand: Hand,
  weights: readonly ChordWeight[],
  wishes: FingeringWishes = {},
  { goal = 'total', chosen = {} }: { goal?: PathGoal; chosen?: Readonly<Record<string, string>> } = {},
): Shape[] {
  const texts = shapes.map(({ frets }) => shapeText(frets));
  const ways = new Map<string, Shape[]>();
  const held = new Map<string, Shape>();
  for (const [i, shape] of shapes.entries()) {
    const text = texts[i]!;
    if (ways.has(text)) continue;
    const own = usualWays(shape, setup, hand, wishes, chosen[text]);
    ways.set(text, own);
    held.set(text, own[0]!);
  }
  const choices = [...ways].filter(([, own]) => own.length > 1);
  if (!choices.length) return texts.map(text => held.get(text)!);
  const { holds, changes } = summedUp(texts, weights);
  const efforts = new Map<Shape, Map<Shape, number>>();
  const effortOf = (from: Shape, to: Shape): number => {
    const row = efforts.get(from) ?? new Map<Shape, number>();
    efforts.set(from, row);
    const effort = row.get(to) ?? getTo(from, to, changeEffort(setup, from.grip, to.grip));
    row.set(to, effort);
    return effort;
  };
  /** What the progression costs with a shape held so: all of it, its hardest change, and the changes of that shape. */
  const costWith = (text: string, way: Shape) => {
    const costs = { total: 0, worst: 0, own: 0 };
    const heldAs = (other: string) => (other === text ? way : held.get(other)!);
    for (const [other, weight] of holds) costs.total += heldEffort(heldAs(other)) * weight;
    for (const { from, to, weight, most } of changes) {
      const effort = effortOf(heldAs(from), heldAs(to));
      costs.total += effort * weight;
      costs.worst = Math.max(costs.worst, effort * most);
      if (from === text || to === text) costs.own += effort * weight;
    }
    return costs;
  };
  const lower = (low: PathGoal) => {
    let better = true;
    while (better) {
      better = false;
      for (const [text, own] of choices) {
        const usual = costWith(text, own[0]!);
        const gain = low === 'worst' ? GAIN_OF_WORST * usual.worst : GAIN * usual.own;
        const weighed = (way: Shape) => costWith(text, way)[low] + (way === own[0] ? 0 : gain);
        let least = weighed(held.get(text)!) - 1e-9;
        for (const way of own) {
          const cost = weighed(way);
          if (cost >= least) continue;
          least = cost;
          held.set(text, way);
          better = true;
        }
      }
    }
  };
  lower('total');
  if (goal === 'worst') lower('worst');
  return texts.map(text => held.get(text)!);
}

/** A change between two shapes, by their texts, as often as it comes: its weight in all, and where it has least time. */
interface Change {
  from: string;
  to: string;
  weight: number;
  most: number;
}

/** What is held for how long, and what changes into what: a song has the same few changes again and again. */
function summedUp(
  texts: readonly string[],
  weights: readonly ChordWeight[],
): { holds: Map<string, number>; changes: Change[] } {
  const holds = new Map<string, number>();
  const changes = new Map<string, Change>();
  for (const [i, { hold, change }] of weights.entries()) {
    const to = texts[i]!;
    holds.set(to, (holds.get(to) ?? 0) + hold);
    const from = texts[i - 1];
    if (from === undefined) continue;
    const known = changes.get(`${from} ${to}`) ?? { from, to, weight: 0, most: 0 };
    known.weight += change;
    known.most = Math.max(known.most, change);
    changes.set(`${from} ${to}`, known);
  }
  return { holds, changes: [...changes.values()] };
}

/**
 * The ways to hold a shape that players have, the first one meant: by fingers that are chosen by hand, else the usual ones,
 * else as it is held.
 *
 * @param chosen as text
 */
export function usualWays(
  shape: Shape,
  setup: Setup,
  hand: Hand,
  wishes: FingeringWishes = {},
  chosen?: string,
): Shape[] {
  const usual = usualFingers(shape.frets, setup);
  if (chosen === undefined && !usual.length) return [shape];
  const all = waysToHold(shape, setup, hand, wishes);
  const among = (texts: readonly string[]) =>
    texts.flatMap(text => all.find(way => fingersText(way) === text) ?? []);
  const ways = [among(chosen === undefined ? [] : [chosen]), among(usual)];
  return ways.find(own => own.length) ?? [shape];
}
