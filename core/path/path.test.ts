import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bestPath, bestPathNear } from './index';

describe('best path', () => {
  it('equals exhaustive search, and forbidden steps are never taken', () => {
    const cost = fc.oneof(
      { weight: 5, arbitrary: fc.integer({ min: 0, max: 20 }) },
      { weight: 1, arbitrary: fc.constant(Number.POSITIVE_INFINITY) },
    );
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.nat(20), { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
        fc.array(cost, { minLength: 80, maxLength: 80 }),
        (layers, edges) => {
          const numbered = layers.map(layer => layer.map((node, index) => ({ node, index })));
          const edge = (from: number, to: number, layer: number) => edges[(layer * 16 + from * 4 + to) % 80]!;
          let best = Number.POSITIVE_INFINITY;
          const walk = (path: number[], total: number) => {
            const layer = path.length;
            if (layer === layers.length) {
              best = Math.min(best, total);
              return;
            }
            for (let i = 0; i < layers[layer]!.length; i++)
              walk([...path, i], total + layers[layer]![i]! + (layer ? edge(path[layer - 1]!, i, layer) : 0));
          };
          walk([], 0);
          const found = bestPath(
            numbered,
            c => c.node,
            (a, b, layer) => edge(a.index, b.index, layer),
          );
          if (Number.isFinite(best)) {
            expect(found!.total).toBe(best);
            const sum = found!.path.reduce(
              (total, choice, layer) =>
                total + layers[layer]![choice]! + (layer ? edge(found!.path[layer - 1]!, choice, layer) : 0),
              0,
            );
            expect(sum).toBe(best);
          } else expect(found).toBeUndefined();
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('best path among the near', () => {
  const layersOf = (nodes: number[][]) => nodes.map(layer => layer.map((node, index) => ({ node, index })));
  it('is the best of all where a step costs no more than half of what a candidate may be dearer', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.nat(40), { minLength: 1, maxLength: 12 }), { minLength: 1, maxLength: 8 }),
        fc.array(fc.nat(3), { minLength: 97, maxLength: 97 }),
        (nodes, edges) => {
          const layers = layersOf(nodes);
          const step = (a: { index: number }, b: { index: number }, layer: number) =>
            edges[(layer * 31 + a.index * 7 + b.index) % 97]!;
          const all = bestPath(layers, c => c.node, step)!;
          const near = bestPathNear(layers, c => c.node, step, [() => 6])!;
          expect(near.total).toBe(all.total);
          // The path is told by its places among all candidates, not among those that were asked.
          const sum = near.path.reduce(
            (total, choice, l) =>
              total +
              layers[l]![choice]!.node +
              (l ? step(layers[l - 1]![near.path[l - 1]!]!, layers[l]![choice]!, l) : 0),
            0,
          );
          expect(sum).toBe(near.total);
        },
      ),
      { numRuns: 1000 },
    );
  });
  it('asks more where it had to take one that is half as dear as those left out, and all where none leads on', () => {
    // Through the cheapest of the middle the way costs 30; what is dearer by 4 hints at it, what is dearer by 7 saves it.
    const layers = layersOf([[0], [0, 4, 7], [0]]);
    const steps = [15, 8, 0];
    const step = (a: { index: number }, b: { index: number }, layer: number) =>
      steps[layer === 1 ? b.index : a.index]!;
    const asked: number[] = [];
    const found = bestPathNear(layers, c => c.node, step, [
      layer => (layer === 1 ? asked.push(6) && 6 : 6),
      layer => (layer === 1 ? asked.push(12) && 12 : 12),
    ]);
    expect(found).toEqual({ path: [0, 2, 0], total: 7 });
    expect(new Set(asked)).toEqual(new Set([6, 12]));
    const forbidden = (a: { index: number }, b: { index: number }, layer: number) =>
      (layer === 1 ? b.index : a.index) === 2 ? 0 : Number.POSITIVE_INFINITY;
    expect(bestPathNear(layers, c => c.node, forbidden, [() => 6])).toEqual({ path: [0, 2, 0], total: 7 });
    expect(
      bestPathNear(
        layers,
        c => c.node,
        () => Number.POSITIVE_INFINITY,
        [() => 6],
      ),
    ).toBeUndefined();
    expect(
      bestPathNear(
        [],
        () => 0,
        () => 0,
        [() => 6],
      ),
    ).toEqual({ path: [], total: 0 });
  });
});
