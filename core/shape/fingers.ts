/** The fingers of shapes that follow each other: one fingering for each, by what stays and what has to move. */
import { changeEffort, type Effort, type Hand } from '../hand';
import type { Setup } from '../instrument';
import { fingersText, shapeText } from './describe';
import { bestShapePath, type ChordWeight, getTo, heldEffort } from './progression';
import { type Fingering, fingeringsOf, type Shape, type ShapeWishes } from './search';
import { usualFingers } from './usual';

/** The part of a progression's effort that other fingers than the first ones must save to be taken; judgement. */
const GAIN = 0.02;

/** A shape held by other fingers. */
function heldBy(shape: Shape, { grip, effort, cost }: Fingering): Shape {
  const { unusual = 0, silent = 0 } = shape.effort;
  const own: Effort = { ...effort, ...(unusual && { unusual }), ...(silent && { silent }) };
  return { ...shape, grip, effort: own, cost: cost + unusual + silent };
}

/**
 * The fingers of the shapes of a progression: one fingering for each shape throughout, as a pupil learns it once, so that
 * holding and changing cost least. Of the ways that players have of a shape: G is held by 3, 2 and 4 where C comes next,
 * whose fingers only roll over, by 2, 1 and 3 where it doesn't; any other shape by its easiest. Found from the easiest ones
 * by bettering one shape at a time.
 *
 * @param shapes in playing order
 * @param weights of each chord
 * @param chosen fingers chosen by hand, as text by shape text; what the hand can't hold is left aside
 * @returns the same shapes in the same order
 * @example fingerShapes([chosenShape('x32010', setup, hand)], setup, hand, [{ hold: 1, change: 1 }])[0].frets // [0, 1, 0, 2, 3, null]
 */
export function fingerShapes(
  shapes: readonly Shape[],
  setup: Setup,
  hand: Hand,
  weights: readonly ChordWeight[],
  wishes: Pick<ShapeWishes, 'freeFingers' | 'noBarre' | 'maxStretch'> = {},
  chosen: Readonly<Record<string, string>> = {},
): Shape[] {
  const texts = shapes.map(({ frets }) => shapeText(frets));
  const ways = new Map<string, Shape[]>();
  const held = new Map<string, Shape>();
  for (const [i, shape] of shapes.entries()) {
    const text = texts[i]!;
    if (ways.has(text)) continue;
    const fingerings = fingeringsOf(shape.frets, setup, hand, wishes);
    const own = waysToHold(shape, fingerings, chosen[text], usualFingers(shape.frets, setup));
    ways.set(text, own);
    held.set(text, own[0]!);
  }
  /** What a shape costs where it comes, with the changes to it and from it. */
  const costOf = (text: string, way: Shape): number => {
    const shapeAt = (i: number) => (texts[i] === text ? way : held.get(texts[i]!)!);
    let total = 0;
    for (const [i, { hold }] of weights.entries()) {
      if (texts[i] === text) total += heldEffort(way) * hold;
      if (i === 0 || (texts[i] !== text && texts[i - 1] !== text)) continue;
      const [from, to] = [shapeAt(i - 1), shapeAt(i)];
      total += getTo(from, to, changeEffort(setup, from.grip, to.grip)) * weights[i]!.change;
    }
    return total;
  };
  const gain =
    GAIN *
    bestShapePath(
      setup,
      texts.map(text => [held.get(text)!]),
      'total',
      weights,
    ).total;
  let better = true;
  while (better) {
    better = false;
    for (const [text, own] of ways) {
      const weighed = (way: Shape) => costOf(text, way) + (way === own[0] ? 0 : gain);
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
  return texts.map(text => held.get(text)!);
}

/** The ways to hold a shape that are weighed, the first one meant: what is chosen by hand, else what is usual, else the easiest. */
function waysToHold(
  shape: Shape,
  fingerings: readonly Fingering[],
  chosen: string | undefined,
  usual: readonly string[],
): Shape[] {
  const among = (texts: readonly string[]) =>
    texts.flatMap(
      text => fingerings.find(({ grip }) => fingersText({ frets: shape.frets, grip }) === text) ?? [],
    );
  const byHand = chosen === undefined ? [] : among([chosen]);
  const ways = [byHand, among(usual), fingerings.slice(0, 1)].find(own => own.length) ?? [];
  return ways.length ? ways.map(own => heldBy(shape, own)) : [shape];
}
