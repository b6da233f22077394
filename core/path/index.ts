/** Tells which candidates of a layer can be reached from which of the one before, where not from all. */
export interface Narrowed<T> {
  /** Lists a candidate of `layer - 1` under the numbers by which those of `layer` find it. */
  list: (from: T, layer: number, under: (key: number) => void) => void;
  /** The number under which a candidate of `layer` finds all that can lead to it; undefined where any can. */
  looksUnder: (to: T, layer: number) => number | undefined;
}

/** Candidates up to which it takes longer to sort them than to look at all. */
const FEW = 8;

/** The candidates of a layer, in the order given, under the numbers by which those of the next find them. */
function listOf<T>(
  candidates: readonly T[],
  order: readonly number[],
  layer: number,
  narrowed: Narrowed<T>,
): Map<number, number[]> {
  const listed = new Map<number, number[]>();
  let listing = 0;
  const under = (key: number) => {
    const list = listed.get(key);
    if (list) list.push(listing);
    else listed.set(key, [listing]);
  };
  for (const i of order) {
    listing = i;
    narrowed.list(candidates[i]!, layer, under);
  }
  return listed;
}

/**
 * Best path through layers of candidates, by dynamic programming (after Sayegh, "Fingering for String
 * Instruments with the Optimum Path Paradigm", Computer Music Journal 13(3), 1989). Exact for the given costs.
 *
 * @param layers candidates of each step
 * @param nodeCost cost of a candidate by itself
 * @param edgeCost cost of going from a candidate of `layer - 1` to one of `layer`, never below 0; Infinity forbids it. What
 *   is more than `most` makes no difference: it may be told as Infinity
 * @param narrowed where edges are forbidden between most, which candidates can lead to which: the others are not asked
 * @returns the index of the chosen candidate in every layer and the total, or undefined when no path exists.
 *   Among equals the earliest candidate wins, so the answer is always the same.
 * @example bestPath([[1, 9], [2, 3]], cost => cost, (a, b) => Math.abs(a - b)) // { path: [0, 0], total: 4 }
 */
export function bestPath<T>(
  layers: readonly (readonly T[])[],
  nodeCost: (candidate: T, layer: number) => number,
  edgeCost: (from: T, to: T, layer: number, most: number) => number,
  narrowed?: Narrowed<T>,
): { path: number[]; total: number } | undefined {
  if (!layers.length) return { path: [], total: 0 };
  let costs = layers[0]!.map(candidate => nodeCost(candidate, 0));
  const origins: Int32Array[] = [];
  for (let layer = 1; layer < layers.length; layer++) {
    const previous = layers[layer - 1]!;
    const current = layers[layer]!;
    const next = new Array<number>(current.length).fill(Number.POSITIVE_INFINITY);
    const origin = new Int32Array(current.length).fill(-1);
    // The cheapest first: from where a candidate is reached at more than the best so far nothing better can come.
    const order: number[] = [];
    for (let i = 0; i < previous.length; i++) if (costs[i]! < Number.POSITIVE_INFINITY) order.push(i);
    const sorted = order.length > FEW;
    if (sorted) order.sort((a, b) => costs[a]! - costs[b]!);
    const listed = narrowed && listOf(previous, order, layer, narrowed);
    for (let j = 0; j < current.length; j++) {
      const to = current[j]!;
      const key = narrowed?.looksUnder(to, layer);
      const leading = key === undefined ? order : listed?.get(key);
      if (!leading) continue;
      const own = nodeCost(to, layer);
      let best = Number.POSITIVE_INFINITY;
      let bestOrigin = -1;
      for (const i of leading) {
        const reached = costs[i]! + own;
        if (reached > best || reached === Number.POSITIVE_INFINITY) {
          if (sorted) break;
          continue;
        }
        // A little more than is left, for sums in another order may differ in their last bits.
        const total = reached + edgeCost(previous[i]!, to, layer, best - reached + 1e-9);
        if (total < best || (total === best && i < bestOrigin)) {
          best = total;
          bestOrigin = i;
        }
      }
      next[j] = best;
      origin[j] = bestOrigin;
    }
    origins.push(origin);
    costs = next;
  }
  let end = -1;
  for (let i = 0; i < costs.length; i++) {
    if (Number.isFinite(costs[i]!) && (end < 0 || costs[i]! < costs[end]!)) end = i;
  }
  if (end < 0) return undefined;
  const path = new Array<number>(layers.length);
  path[layers.length - 1] = end;
  for (let layer = layers.length - 1; layer > 0; layer--)
    path[layer - 1] = origins[layer - 1]![path[layer]!]!;
  return { path, total: costs[end]! };
}

/**
 * Best path among the candidates that are not much dearer than the cheapest of their layer: few are asked first, then more,
 * then all. What a path uses shows whether enough were: where it takes a candidate half as dear as those that were left out,
 * they are asked, too. The very best wherever no edge costs more than half of the first `within`; beyond that a good guess
 * at it, for a fraction of the work.
 *
 * @param within how much dearer than the cheapest of `layer` a candidate may be to be asked; tried in turn, then all
 * @returns as `bestPath`
 * @example bestPathNear([[1, 9], [2, 3]], cost => cost, (a, b) => Math.abs(a - b), [() => 4]) // { path: [0, 0], total: 4 }
 */
export function bestPathNear<T>(
  layers: readonly (readonly T[])[],
  nodeCost: (candidate: T, layer: number) => number,
  edgeCost: (from: T, to: T, layer: number, most: number) => number,
  within: readonly ((layer: number) => number)[],
  narrowed?: Narrowed<T>,
): { path: number[]; total: number } | undefined {
  const own = layers.map((candidates, layer) => {
    const costs = new Float64Array(candidates.length);
    let least = Number.POSITIVE_INFINITY;
    for (let i = 0; i < costs.length; i++) {
      costs[i] = nodeCost(candidates[i]!, layer);
      if (costs[i]! < least) least = costs[i]!;
    }
    return { costs, least };
  });
  for (const most of within) {
    const asked = own.map(({ costs, least }, layer) => {
      const bound = least + most(layer);
      const near: number[] = [];
      for (let i = 0; i < costs.length; i++) if (costs[i]! <= bound) near.push(i);
      return near;
    });
    const near = asked.map((indices, layer) => indices.map(i => layers[layer]![i]!));
    const found = bestPath(near, nodeCost, edgeCost, narrowed);
    const path = found?.path.map((i, layer) => asked[layer]![i]!);
    const isEnough = path?.every((i, layer) => own[layer]!.costs[i]! - own[layer]!.least <= most(layer) / 2);
    if (path && isEnough) return { path, total: found!.total };
  }
  return bestPath(layers, nodeCost, edgeCost, narrowed);
}

/**
 * The path whose hardest edge is as easy as can be and, among those, the one of least total (after Hori and Sagayama,
 * "Minimax Viterbi algorithm for HMM-based guitar fingering decision", ISMIR 2016). Exact: the hardest edge is found
 * first, then the least total over the edges that are no harder.
 *
 * @param layers candidates of each step
 * @returns as `bestPath`
 * @example bestWorstPath([[1, 9], [2, 3]], cost => cost, (a, b) => Math.abs(a - b)) // { path: [0, 0], total: 4 }
 */
export function bestWorstPath<T>(
  layers: readonly (readonly T[])[],
  nodeCost: (candidate: T, layer: number) => number,
  edgeCost: (from: T, to: T, layer: number) => number,
): { path: number[]; total: number } | undefined {
  if (!layers.length) return { path: [], total: 0 };
  let reached = layers[0]!.map(candidate =>
    Number.isFinite(nodeCost(candidate, 0)) ? 0 : Number.POSITIVE_INFINITY,
  );
  for (let layer = 1; layer < layers.length; layer++) {
    const previous = layers[layer - 1]!;
    const before = reached;
    reached = layers[layer]!.map(to => {
      let hardest = Number.POSITIVE_INFINITY;
      if (!Number.isFinite(nodeCost(to, layer))) return hardest;
      for (let i = 0; i < previous.length; i++) {
        if (before[i]! >= hardest) continue;
        hardest = Math.min(hardest, Math.max(before[i]!, edgeCost(previous[i]!, to, layer)));
      }
      return hardest;
    });
  }
  const bound = Math.min(...reached);
  if (!Number.isFinite(bound)) return undefined;
  return bestPath(layers, nodeCost, (from, to, layer) => {
    const cost = edgeCost(from, to, layer);
    // Equal efforts summed in another order may differ in their last bits.
    return cost <= bound + 1e-9 ? cost : Number.POSITIVE_INFINITY;
  });
}

/**
 * The total of the best path through each candidate of each layer: what it costs to insist on it. Infinity where no
 * path goes through it.
 *
 * @example throughEach([[1, 9], [2, 3]], cost => cost, (a, b) => Math.abs(a - b)) // [[4, 18], [4, 6]]
 */
export function throughEach<T>(
  layers: readonly (readonly T[])[],
  nodeCost: (candidate: T, layer: number) => number,
  edgeCost: (from: T, to: T, layer: number) => number,
): number[][] {
  const forward = layers.map(layer => layer.map(() => Number.POSITIVE_INFINITY));
  const backward = layers.map(layer => layer.map(() => 0));
  for (const [l, layer] of layers.entries()) {
    for (const [j, to] of layer.entries()) {
      const reached =
        l === 0
          ? 0
          : Math.min(...layers[l - 1]!.map((from, i) => forward[l - 1]![i]! + edgeCost(from, to, l)));
      forward[l]![j] = reached + nodeCost(to, l);
    }
  }
  for (let l = layers.length - 2; l >= 0; l--) {
    for (const [i, from] of layers[l]!.entries())
      backward[l]![i] = Math.min(
        ...layers[l + 1]!.map(
          (to, j) => edgeCost(from, to, l + 1) + nodeCost(to, l + 1) + backward[l + 1]![j]!,
        ),
      );
  }
  return forward.map((costs, l) => costs.map((cost, i) => cost + backward[l]![i]!));
}
