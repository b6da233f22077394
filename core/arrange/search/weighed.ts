/**
 * What was weighed where a note was put: the best other way there with all before and after it as it is, and what it
 * costs more, part by part. Read off the search itself, so that reasons need not be guessed.
 */
import type { Place, Setup } from '../../instrument';
import { bestPath } from '../../path';
import { COST_PARTS, type Costs, type NextBest } from '../../score';
import type { HandState } from './candidates';
import { handEdge } from './edges';
import { ALIKE, heldOn, type Layer, type Liked, preferring } from './layers';

/** The next best at a moment for the melody note and for what sounds with it, where they are struck. */
export interface Weighed {
  melody?: NextBest;
  companion?: NextBest;
}

/**
 * Weighs every moment of the way that was chosen.
 *
 * @param liked the hand states that the moments leaned to when the way was chosen
 */
export function weighed(
  setup: Setup,
  layers: Layer[],
  chosen: HandState[],
  liked: readonly Liked[],
): Weighed[] {
  const prefer = preferring(liked);
  const contextOf = contexts(layers, chosen, liked);
  const known = new Map<string, NextBest | undefined>();
  /** Parts of what a stretch of the way costs, with the step out of it. */
  const costsOf = (states: readonly HandState[], from: number): Costs => {
    const costs: Costs = {};
    for (const [i, state] of states.entries()) {
      const own = layers[from + i]!.costsOf(state);
      for (const part of COST_PARTS) if (own[part]) costs[part] = (costs[part] ?? 0) + own[part];
      const alike = prefer(state, from + i);
      if (alike) costs.alike = (costs.alike ?? 0) - alike;
    }
    const end = from + states.length;
    const way = [chosen[from - 1], ...states, chosen[end]];
    for (let i = 1; i < way.length; i++)
      if (way[i - 1] && way[i])
        handEdge(setup, layers[from + i - 1]!, way[i - 1]!, way[i]!, undefined, costs);
    return costs;
  };

  /** The best other state at one moment, between its neighbours as they are. */
  const otherState = (
    l: number,
    allowed: (state: HandState, layer: number) => boolean,
  ): HandState | undefined => {
    const [before, after] = [chosen[l - 1], chosen[l + 1]];
    let found: HandState | undefined;
    let least = Number.POSITIVE_INFINITY;
    for (const state of layers[l]!.states) {
      let total = state.cost - prefer(state, l);
      // The cheapest come first.
      if (state.cost - ALIKE >= least) break;
      if (total >= least || !allowed(state, l)) continue;
      if (before) total += handEdge(setup, layers[l]!, before, state, least - total);
      if (after && total < least) total += handEdge(setup, layers[l + 1]!, state, after, least - total);
      if (total >= least) continue;
      least = total;
      found = state;
    }
    return found;
  };

  /** The best other way through a stretch, or undefined. */
  const otherWay = (
    from: number,
    to: number,
    allowed: (state: HandState, layer: number) => boolean,
  ): HandState[] | undefined => {
    if (from === to) {
      const state = otherState(from, allowed);
      return state && [state];
    }
    const first = from > 0 ? from - 1 : from;
    const last = to + 1 < layers.length ? to + 1 : to;
    const stretch: HandState[][] = [];
    for (let l = first; l <= last; l++)
      stretch.push(l < from || l > to ? [chosen[l]!] : layers[l]!.states.filter(state => allowed(state, l)));
    const found = bestPath(
      stretch,
      (state, i) => state.cost - prefer(state, first + i),
      (a, b, i, most) => handEdge(setup, layers[first + i]!, a, b, most),
      heldOn(layers.slice(first, last + 1)),
    );
    return found?.path
      .map((state, i) => stretch[i]![state]!)
      .slice(from - first, from - first + to - from + 1);
  };

  /** The same where what is before, there and after is the same, as in a measure that comes again. */
  const nextBest = (
    of: 'melody' | 'companion',
    from: number,
    to: number,
    placesAt: (state: HandState) => Place[],
    allowed: (state: HandState, layer: number) => boolean,
  ): NextBest | undefined => {
    const context = of + contextOf(from, to);
    if (!known.has(context)) known.set(context, otherThere(from, to, placesAt, allowed));
    const best = known.get(context);
    return best && { places: best.places.map(place => ({ ...place })), more: { ...best.more } };
  };

  const otherThere = (
    from: number,
    to: number,
    placesAt: (state: HandState) => Place[],
    allowed: (state: HandState, layer: number) => boolean,
  ): NextBest | undefined => {
    const other = otherWay(from, to, allowed);
    if (!other) return undefined;
    const its = costsOf(other, from);
    const own = costsOf(chosen.slice(from, to + 1), from);
    const more: Costs = {};
    for (const part of COST_PARTS) {
      // Hundredths are enough to tell.
      const amount = Math.round(100 * ((its[part] ?? 0) - (own[part] ?? 0))) / 100;
      if (amount) more[part] = amount;
    }
    return { places: placesAt(other[0]!), more };
  };

  return layers.map((layer, l) => {
    const own: Weighed = {};
    const state = chosen[l]!;
    if (layer.melody && !layer.melodyHeld && state.melody) {
      let to = l;
      while (layers[to + 1]?.melodyHeld) to += 1;
      const best = nextBest(
        'melody',
        l,
        to,
        ({ melody }) => (melody ? [melody] : []),
        ({ melody }) => melody !== undefined && melody !== state.melody,
      );
      if (best) own.melody = best;
    }
    const places = state.companion?.places;
    if (layer.onset && !layer.companionHeld && places?.length) {
      let to = l;
      while (layers[to + 1]?.companionHeld) to += 1;
      const best = nextBest(
        'companion',
        l,
        to,
        ({ companion }) => companion?.places ?? [],
        (option, at) =>
          option.melody === chosen[at]!.melody && (at > l || option.companionCode !== state.companionCode),
      );
      if (best) own.companion = best;
    }
    return own;
  });
}

/** Tells all that the best other way through a stretch of layers depends on. */
function contexts(
  layers: readonly Layer[],
  chosen: readonly HandState[],
  liked: readonly Liked[],
): (from: number, to: number) => string {
  const numbers = new Map<unknown, number>();
  const numberOf = (thing: unknown): number => {
    const number = numbers.get(thing) ?? numbers.size;
    numbers.set(thing, number);
    return number;
  };
  // Layers of the same states are asked for the same melody note, onset and shape.
  const each = layers.map(({ at: _at, melody, onset: _onset, states, costsOf: _costsOf, ...layer }, l) =>
    [
      ...Object.values(layer).map(Number),
      Number(melody?.slurred ?? false),
      numberOf(states),
      numberOf(chosen[l]),
      liked[l] ? `${liked[l].melodyCode}/${liked[l].companionCode}` : '',
    ].join(),
  );
  return (from, to) => each.slice(Math.max(0, from - 1), to + 2).join(';') + (from === 0 ? '<' : '');
}
