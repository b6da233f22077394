/** The arranger's way is the best of all there are: compared with a search without short cuts, on tunes of the book. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Laying, planCapo } from '../../capo';
import { readAbc } from '../../formats/abc';
import { DEFAULT_HAND, gripsFor, type StringDuty } from '../../hand';
import { type Setup, standardSetup } from '../../instrument';
import { bestPath } from '../../path';
import { type NextBest, usualSettings } from '../../score';
import { committeeTunes } from '../../testing/committee';
import { suggestChords, type Tune } from '../../tune';
import { closeOf } from '../close';
import { strokesBySection } from '../texture/patterns';
import type { HandState } from './candidates';
import { companionOnsets } from './companions';
import { handEdge } from './edges';
import { frameOf } from './frame';
import { alikeWhereAlike, chooseStates, heldOn, type Layer, type Prefer } from './layers';
import { buildLayers } from './moments';
import { struckNotes } from './struck';
import { weighed } from './weighed';

const book = readAbc(readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));
const CASES = [
  ['guitar', 'fingerstyle'],
  ['guitar', 'chord-melody'],
  ['mandolin', 'chord-melody'],
] as const;

function layersOf(
  source: Tune,
  instrument: 'guitar' | 'mandolin',
  style: 'fingerstyle' | 'chord-melody',
  laying: Laying = 'low',
) {
  const tune = suggestChords(source);
  const setup = standardSetup(instrument);
  const plan = planCapo(tune, setup, DEFAULT_HAND, 0)[0]!;
  const settings = { ...usualSettings(instrument), voices: 3 };
  const wishes = { noBarre: false, free: [] };
  const frame = frameOf(tune, tune, plan, DEFAULT_HAND, { wishes: {}, choices: {} });
  const strokes = strokesBySection(settings, setup.tuning.length, tune);
  const layers = buildLayers(
    {
      tune,
      setup: plan.setup,
      hand: DEFAULT_HAND,
      style,
      settings,
      wishes,
      struck: struckNotes(tune, plan, new Map(), laying),
      laying,
      onsets: companionOnsets(tune, style, settings, strokes, closeOf(tune)),
      frame,
    },
    () => {},
  );
  return { setup: plan.setup, layers };
}

/** What a way costs, state by state and step by step. */
function costOf(
  setup: Setup,
  layers: readonly Layer[],
  way: readonly HandState[],
  prefer: Prefer = () => 0,
): number {
  return way.reduce(
    (sum, state, l) =>
      sum + state.cost - prefer(state, l) + (l ? handEdge(setup, layers[l]!, way[l - 1]!, state) : 0),
    0,
  );
}

/** The total of the best way, every edge of every layer looked at. */
function bestTotal(
  layers: readonly Layer[],
  edge: (layer: number, from: number, to: number) => number,
): number {
  let totals = layers[0]!.states.map(state => state.cost);
  for (let l = 1; l < layers.length; l++) {
    const before = totals;
    totals = layers[l]!.states.map((state, to) => {
      let least = Number.POSITIVE_INFINITY;
      for (const [from, total] of before.entries()) least = Math.min(least, total + edge(l, from, to));
      return least + state.cost;
    });
  }
  return Math.min(...totals);
}

describe.each(CASES)('%s, %s', (instrument, style) => {
  it.each([0, 1, 2, 5])('tune %i of the book: the way chosen costs as little as any', index => {
    const { setup, layers } = layersOf(book[index]!.tune, instrument, style);
    // A stretch of the tune: every edge of a whole one would take minutes.
    const part = layers.slice(0, 24);
    const chosen = chooseStates(setup, part, () => 0);
    const edge = (l: number, from: number, to: number): number =>
      handEdge(setup, part[l]!, part[l - 1]!.states[from]!, part[l]!.states[to]!);
    expect(costOf(setup, part, chosen)).toBeCloseTo(bestTotal(part, edge), 6);
  });
  it.each([
    ["Devil's Dream", 'ringing'],
    ['The Rakes of Mallow', 'ringing'],
    ['Si Bheag, Si Mhor', 'across'],
    ['Londonderry Air', 'low'],
  ] as const)('%s, whole, laid %s: no hand state that was not asked would be better', (title, laying) => {
    const tune = committeeTunes().find(own => own.title === title)!;
    const { setup, layers } = layersOf(tune, instrument, style, laying);
    alikeWhereAlike(tune, layers, prefer => {
      const way = chooseStates(setup, layers, prefer);
      const best = bestPath(
        layers.map(layer => layer.states),
        (state, l) => state.cost - prefer(state, l),
        (from, to, l, most) => handEdge(setup, layers[l]!, from, to, most),
        heldOn(layers),
      )!;
      expect(costOf(setup, layers, way, prefer)).toBeCloseTo(best.total, 6);
      return way;
    });
  });
  it('the next best at a moment is another way, costs no less, and its parts sum up to what it costs more', () => {
    const { setup, layers } = layersOf(book[1]!.tune, instrument, style);
    const chosen = chooseStates(setup, layers, () => 0);
    const told = weighed(setup, layers, chosen, []);
    const sum = ({ more }: NextBest) => Object.values(more).reduce((all, cost) => all + cost, 0);
    let others = 0;
    for (const [l, state] of chosen.entries()) {
      for (const [name, best] of Object.entries(told[l]!)) {
        others += 1;
        expect(best.places).not.toEqual(name === 'melody' ? [state.melody] : state.companion!.places);
        // Each part is rounded to a hundredth.
        expect(sum(best)).toBeGreaterThan(-0.1);
      }
    }
    expect(others).toBeGreaterThan(layers.length / 3);
    // A moment alone, with nothing before or after it: what it costs more is what its state costs more.
    const alone = layers.find(layer => layer.melody && !layer.melodyHeld && layer.melody.places.length > 1)!;
    const [best, ...rest] = [...alone.states].sort((x, y) => x.cost - y.cost);
    const other = rest.find(state => state.melody && state.melody !== best!.melody)!;
    const [only] = weighed(setup, [alone], [best!], []);
    expect(only!.melody!.places).toEqual([other.melody]);
    expect(sum(only!.melody!)).toBeCloseTo(other.cost - best!.cost, 1);
  });
  it('the next best of a measure that comes again is found as if it stood alone', () => {
    const { tune } = book[1]!;
    const { setup, layers } = layersOf(tune, instrument, style);
    const { chosen, liked } = alikeWhereAlike(tune, layers, prefer => chooseStates(setup, layers, prefer));
    const told = weighed(setup, layers, chosen, liked);
    const isHeld = (l: number) => layers[l]?.melodyHeld || layers[l]?.companionHeld;
    for (const l of told.keys()) {
      let to = l + 1;
      while (isHeld(to)) to += 1;
      const alone = [Math.max(0, l - 1), to + 1] as const;
      const own = weighed(setup, layers.slice(...alone), chosen.slice(...alone), liked.slice(...alone));
      expect(own[l - alone[0]]).toEqual(told[l]);
    }
  });
  it('at every moment each set of strings is there in every grip that the hand has for it', () => {
    const { setup, layers } = layersOf(book[0]!.tune, instrument, style);
    for (const layer of layers.filter((_, i) => i % 7 === 0)) {
      const sets = new Map<string, { duties: StringDuty[]; count: number }>();
      for (const state of layer.states) {
        const duties: StringDuty[] = setup.tuning.map(() => 'free');
        for (const place of [...(state.melody ? [state.melody] : []), ...(state.companion?.places ?? [])])
          duties[place.string - 1] = place.fret;
        // The same strings may stand for the melody and its companion the other way round.
        const key = `${state.melody?.string} ${state.companion?.passing?.symbol} ${duties.join()}`;
        const set = sets.get(key) ?? { duties, count: 0 };
        set.count += 1;
        sets.set(key, set);
      }
      for (const { duties, count } of sets.values())
        expect(count % gripsFor(setup, DEFAULT_HAND, duties).length).toBe(0);
    }
  });
});

it('a finger that hops to another string at its fret costs more than one that moves on to the fret beside it', () => {
  const { setup, layers } = layersOf(book[1]!.tune, 'guitar', 'chord-melody');
  const free = layers.find(layer => !layer.melodyHeld && !layer.companionHeld)!;
  /** A hand that holds one note of the melody with its ring finger; where it lies makes no difference here. */
  const holding = (string: number, fret: number): HandState => {
    const placement = { finger: 3 as const, fret, from: string, to: string };
    return {
      ...free.states[0]!,
      melody: { string, fret },
      companion: undefined,
      grip: [placement],
      fingers: setup.tuning.map((_, i) => (i + 1 === string ? placement.finger : undefined)),
      byFinger: [undefined, undefined, undefined, placement],
      position: undefined,
    };
  };
  const from = holding(5, 3);
  const hop = handEdge(setup, free, from, holding(2, 3));
  expect(hop).toBeGreaterThan(handEdge(setup, free, from, holding(2, 4)));
  // To the string beside it the finger rolls.
  expect(handEdge(setup, free, from, holding(4, 3))).toBeLessThan(hop / 2);
});
