/** Edits at random, of every kind in the registry: none breaks the record, each goes back to the very same. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { checkArrangement } from '../check';
import { readAbc, writeMusicXml } from '../formats';
import { faultOf } from '../records';
import {
  type Arrangement,
  BEND_SHAPES,
  INTOS,
  ORNAMENTS,
  ROLES,
  STROKE_KINDS,
  STROKE_WAYS,
  sourceChanges,
  UNLINKED,
} from '../score';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { FEELS } from '../time';
import { ROAD_MARKS } from '../tune';
import {
  applyEdit,
  EDIT_KEYS,
  EDITS,
  type Edit,
  type EditKind,
  type OwnTechnique,
  redo,
  SIMPLE_TECHNIQUES,
  startHistory,
  TOUCHES,
  undo,
} from './index';

const n = fc.nat(1000);
const pick = <T>(list: readonly T[], at: number) => list[at % list.length]!;

const OWN_TECHNIQUES: OwnTechnique[] = [
  ...SIMPLE_TECHNIQUES.map(kind => ({ kind })),
  ...BEND_SHAPES.map((shape, i) => ({ kind: 'bend' as const, semitones: 1 + (i % 3), shape })),
  ...(['below', 'above'] as const).flatMap(way => [
    { kind: 'slide-in' as const, way },
    { kind: 'slide-off' as const, way },
  ]),
  { kind: 'harmonic' },
  ...TOUCHES.map(touch => ({ kind: 'harmonic' as const, touch })),
];

/** An edit of each kind, out of a few numbers. */
const MAKE: { [K in EditKind]: (a: Arrangement, id: string, x: number, y: number) => Edit } = {
  fret: (_, id, x) => ({ kind: 'fret', ids: [id], values: { fret: x % 25 } }),
  string: (_, id, x) => ({ kind: 'string', ids: [id], values: { string: x % 8 } }),
  place: (_, id, x, y) => ({
    kind: 'place',
    ids: [id],
    values: { string: 1 + (x % 6), fret: y % 20, ...(x % 3 === 0 && { harmonic: true }) },
  }),
  finger: (_, id, x) => ({ kind: 'finger', ids: [id], values: { finger: pick([1, 2, 3, 4] as const, x) } }),
  fingers: (a, id, x) => ({
    kind: 'fingers',
    ids: [a.measures[x % a.measures.length]!.id],
    values: { fingers: { [id]: pick([1, 2, 3, 4, null] as const, x) } },
  }),
  refinger: (a, _, x, y) => ({
    kind: 'refinger',
    ids: [a.measures[x % a.measures.length]!.id],
    values: { goal: y % 2 ? 'total' : 'worst' },
  }),
  length: (_, id, x) => ({ kind: 'length', ids: [id], values: { ticks: x % 5 ? (x % 12) * 1260 : 3360 } }),
  tie: (_, id, x) => ({ kind: 'tie', ids: [id], values: { on: x % 3 > 0 } }),
  pin: (_, id, x) => ({ kind: 'pin', ids: [id], values: { pinned: x % 2 === 0 } }),
  into: (_, id, x) => ({
    kind: 'into',
    ids: [id],
    values: { into: pick([...INTOS, null], x), again: x % 2 === 0 },
  }),
  pluck: (_, id, x) => ({
    kind: 'pluck',
    ids: [id],
    values: { pluck: pick(['p', 'i', 'up', null] as const, x) },
  }),
  technique: (_, id, x, y) => ({
    kind: 'technique',
    ids: [id],
    values: { technique: pick(OWN_TECHNIQUES, x), on: y % 3 > 0 },
  }),
  ornament: (_, id, x) => ({ kind: 'ornament', ids: [id], values: { ornament: pick(ORNAMENTS, x) } }),
  insert: (a, _, x, y) => ({
    kind: 'insert',
    ids: [pick(a.measures, x).id],
    values: { start: (y % 16) * 2520, string: 1 + (x % 7), fret: y % 21, ticks: 1260 * (1 + (x % 8)) },
  }),
  write: (a, _, x, y) => ({
    kind: 'write',
    ids: [pick(a.measures, x).id],
    values: {
      measures: Array.from({ length: 1 + (y % 3) }, (_unused, i) => ({
        ticks: 40320,
        notes: [0, 1, 2].map(k => ({
          start: k * 5040,
          ticks: 5040,
          string: 1 + ((x + k * i) % 6),
          fret: (y + k) % 14,
          ...(k === 2 && { techniques: [{ kind: 'slide' as const, from: UNLINKED }] }),
          ...(k === 1 &&
            x % 2 && { graces: [x % 5 ? y % 9 : { string: 1 + (y % 6), fret: y % 7 }], finger: 2 as const }),
          ...(k === 1 && x % 3 && { tie: true }),
        })),
        chords: [{ start: 0, name: pick(['C', 'Am7', 'nonsense'], x) }],
      })),
    },
  }),
  bars: (a, _, x, y) => ({
    kind: 'bars',
    ids: [pick(a.measures, x).id],
    values: pick(
      [
        { section: 'Verse' },
        { section: null },
        { repeatStart: x % 2 === 0 },
        { repeatEnd: x % 2 === 0, passes: x % 5 },
        { ending: x % 2 ? [1] : null },
        { barline: x % 2 ? ('double' as const) : null },
        { tempo: x % 3 ? x : null },
        { fermata: { start: 0, on: x % 2 === 0 } },
        { free: x % 2 === 0 },
        { as: x % 3 ? (a.measures.find(m => m.section)?.section?.id ?? 's') : null },
        { glide: x % 3 ? 20 + x : null },
        { mark: { mark: pick(ROAD_MARKS, x), on: x % 4 > 0 } },
      ],
      y,
    ),
  }),
  meter: (a, _, x, y) => ({
    kind: 'meter',
    ids: [pick(a.measures, x).id],
    values: {
      meter: pick(
        [
          { beats: 4, unit: 4 },
          { beats: 5, unit: 4 },
          { beats: 12, unit: 8 },
          { beats: 2, unit: 4 },
        ],
        y,
      ),
    },
  }),
  pickup: (_, __, x) => ({ kind: 'pickup', ids: [], values: { ticks: 5040 * (x % 10) } }),
  key: (a, _, x, y) => ({
    kind: 'key',
    ids: [pick(a.measures, x).id],
    values: { key: { tonic: pick(['C', 'Eb', 'F#'], y), mode: pick(['major', 'dorian'] as const, y) } },
  }),
  chord: (a, _, x, y) => ({
    kind: 'chord',
    ids: [pick(a.measures, x).id],
    values: {
      start: (y % 5) * 10080,
      name: pick(['C', 'G7', 'Hm', '', null], x),
      ...(y % 2 && { frets: pick(['x32010', '3x0003', '0', '022100'], x) }),
    },
  }),
  word: (a, _, x, y) => ({
    kind: 'word',
    ids: [pick(a.measures, x).id],
    values: { start: (y % 5) * 5040, verse: x % 3, text: pick(['sun', '', ' -'], y) },
  }),
  remark: (a, own, x, y) => {
    const measure = pick(a.measures, x);
    const note = y % 2 ? measure.notes[0]?.id : undefined;
    return {
      kind: 'remark',
      ids: y % 5 ? [measure.id] : [],
      values: { ...(note && { note }), text: pick(['softly', '', `as ${own}`], y) },
    };
  },
  stroke: (_, id, x) => ({
    kind: 'stroke',
    ids: [id],
    values: { stroke: x % 3 ? { kind: pick(STROKE_KINDS, x), way: pick(STROKE_WAYS, x >> 1) } : null },
  }),
  passage: (a, _, x, y) => ({
    kind: 'passage',
    ids: a.measures.slice(x % a.measures.length, (x % a.measures.length) + 1 + (y % 2)).map(m => m.id),
    values: {
      ...(y % 3 && { role: pick(ROLES, y) }),
      goal: pick([{ string: 1 + (x % 6) }, { position: x % 12 }, { octaves: x % 2 ? 1 : -1 }], y),
    },
  }),
  role: (_, id, x) => ({ kind: 'role', ids: [id], values: { role: pick(ROLES, x) } }),
  remove: (_, id) => ({ kind: 'remove', ids: [id], values: {} }),
  'add-measures': (a, _, x, y) => ({
    kind: 'add-measures',
    ids: [pick(a.measures, x).id],
    values: { count: y % 4, before: x % 2 === 0 },
  }),
  'remove-measures': (a, _, x, y) => ({
    kind: 'remove-measures',
    ids: a.measures.slice(x % a.measures.length, (x % a.measures.length) + 1 + (y % 2)).map(m => m.id),
    values: {},
  }),
  graces: (_, id, x, y) => ({
    kind: 'graces',
    ids: [id],
    values: {
      frets: [x % 5 ? x % 9 : { string: 1 + (x % 7), fret: y % 5 }, y % 13].slice(0, y % 3),
      ...(x % 3 === 0 && { by: pick(['slide', 'pick'] as const, y) }),
    },
  }),
  'hold-shape': (a, _, x, y) => ({
    kind: 'hold-shape',
    ids: a.measures.slice(x % a.measures.length, (x % a.measures.length) + 1 + (y % 2)).map(m => m.id),
    values: { on: y % 3 > 0 },
  }),
  split: (a, _, x, y) => ({
    kind: 'split',
    ids: [pick(a.measures, x).id],
    values: { start: (y % 9) * 5040 },
  }),
  join: (a, _, x) => ({ kind: 'join', ids: [pick(a.measures, x).id], values: {} }),
  phrase: (a, _, x, y) => ({
    kind: 'phrase',
    ids: [pick(a.measures, x).id, pick(a.measures, y).id],
    values:
      y % 3
        ? { name: pick(['the lick', ''], x), start: (y % 5) * 5040, end: (1 + (x % 8)) * 5040 }
        : { name: null, phrase: a.phrases?.[0]?.id ?? 'none' },
  }),
  rest: (a, _, x, y) => ({
    kind: 'rest',
    ids: [pick(a.measures, x).id],
    values: {
      start: (y % 16) * 2520,
      ticks: 1260 * (1 + (x % 8)),
      voice: pick([1, 2, 3, 4] as const, x),
      on: y % 4 > 0,
    },
  }),
  voice: (_, id, x) => ({
    kind: 'voice',
    ids: [id],
    values: { voice: pick([1, 2, 3, 4, null] as const, x) },
  }),
  'slide-bar': (_, __, x) => ({ kind: 'slide-bar', ids: [], values: { on: x % 2 === 0 } }),
  name: (_, __, x) => ({ kind: 'name', ids: [], values: { name: pick(['Easy', '', null], x) } }),
  restore: (a, _, x) => ({
    kind: 'restore',
    ids: [],
    values: { state: { ...a, quartersPerMinute: 60 + (x % 60), feel: pick(FEELS, x) }, what: 'before' },
  }),
  'keep-variant': (a, _, x, y) => ({
    kind: 'keep-variant',
    ids: a.measures.slice(x % a.measures.length, (x % a.measures.length) + 1 + (y % 2)).map(m => m.id),
    values: { name: pick(['easy', ''], y), present: 'full' },
  }),
  'swap-variant': (a, _, x) => ({
    kind: 'swap-variant',
    ids: [],
    values: { variant: a.variants?.[x % a.variants.length]?.id ?? 'none' },
  }),
  'last-variant': (a, _, x, y) => ({
    kind: 'last-variant',
    ids: [],
    values: { variant: a.variants?.[x % a.variants.length]?.id ?? 'none', last: y % 2 === 0 },
  }),
  'drop-variant': (a, _, x) => ({
    kind: 'drop-variant',
    ids: [],
    values: { variant: a.variants?.[x % a.variants.length]?.id ?? 'none' },
  }),
  'next-best': (_, id) => ({ kind: 'next-best', ids: [id], values: {} }),
  feel: (_, __, x) => ({ kind: 'feel', ids: [], values: { feel: pick(FEELS, x) } }),
  take: (a, _, x, y) => ({
    kind: 'take',
    ids: [],
    values: {
      proposal: { ...a, quartersPerMinute: 60 + (x % 60) },
      what: 'a proposal',
      ...(y % 2 && { only: [a.measures[y % a.measures.length]!.id] }),
    },
  }),
};
const KINDS = Object.keys(EDITS) as EditKind[];

describe('edits at random', () => {
  it('are in order, exported, checked and undone, of whatever kind and in whatever order', () => {
    fc.assert(
      fc.property(
        tunes({ low: -3, high: 12 }),
        fc.array(fc.tuple(fc.constantFrom(...KINDS), n, n, n), { minLength: 1, maxLength: 12 }),
        (generated, edits) => {
          const { arrangement } = arrange(readAbc(generated.abc)[0]!.tune, {
            id: 'a',
            instrument: 'guitar',
            style: 'fingerstyle',
            capo: 0,
            settings: { level: 4, ornaments: 'many' },
          });
          if (!arrangement) return;
          let history = startHistory(arrangement);
          for (const [kind, at, x, y] of edits) {
            const notes = history.present.measures.flatMap(m => m.notes);
            const edit = MAKE[kind](history.present, notes[at % notes.length]?.id ?? 'none', x, y);
            const before = history.present;
            const result = applyEdit(history, edit);
            if ('error' in result) {
              expect(result.error.length).toBeGreaterThan(5);
              continue;
            }
            expect([kind, faultOf('arrangements', result.present)]).toEqual([kind, undefined]);
            if (result !== history) expect(undo(result).present).toEqual(before);
            history = result;
          }
          expect(writeMusicXml(history.present)).toContain('</score-partwise>');
          checkArrangement(history.present);
          const end = history.present;
          const steps = history.past.length;
          for (let i = 0; i < steps; i++) history = undo(history);
          expect(history.present).toEqual(arrangement);
          for (let i = 0; i < steps; i++) history = redo(history);
          expect(history.present).toEqual(end);
        },
      ),
      { numRuns: cases(24) },
    );
  });
  it('lie under an arrangement that is made anew: it is in order, and follows the tune', () => {
    fc.assert(
      fc.property(
        tunes({ low: -3, high: 12 }),
        fc.array(fc.tuple(fc.constantFrom(...KINDS), n, n, n), { minLength: 1, maxLength: 12 }),
        fc.constantFrom(1, 2, 3, 4),
        fc.constantFrom('fingerstyle', 'chord-melody', 'melody'),
        fc.integer({ min: 0, max: 5 }),
        fc.boolean(),
        (generated, edits, level, style, capo, part) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const request = { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 } as const;
          const { arrangement } = arrange(tune, { ...request, settings: { level: 3 } });
          if (!arrangement) return;
          let history = startHistory(arrangement);
          for (const [kind, at, x, y] of edits) {
            const notes = history.present.measures.flatMap(m => m.notes);
            const edit = MAKE[kind](history.present, notes[at % notes.length]?.id ?? 'none', x, y);
            const result = applyEdit(history, edit);
            if (!('error' in result)) history = result;
          }
          const { present } = history;
          const anew = part ? [tune.measures[0]!.id] : undefined;
          const again = arrange(tune, {
            ...request,
            ...(!part && { style, capo, settings: { level } }),
            hand: present.hand,
            keep: { present, ...(anew && { anew }) },
          });
          if (!again.arrangement) return;
          expect(faultOf('arrangements', again.arrangement)).toBeUndefined();
          const taken = applyEdit(history, {
            kind: 'take',
            ids: [],
            values: { proposal: again.arrangement, what: 'anew' },
          });
          if ('error' in taken) throw new Error(taken.error);
          expect(faultOf('arrangements', taken.present)).toBeUndefined();
          expect(sourceChanges(taken.present, tune)).toBeUndefined();
          expect(writeMusicXml(taken.present)).toContain('</score-partwise>');
          checkArrangement(taken.present);
        },
      ),
      { numRuns: cases(24) },
    );
  });
  it('every kind has a name and a label, and no key is given twice', () => {
    const keys = EDIT_KEYS.map(k => k.key);
    expect(new Set(keys).size).toBe(keys.length);
    for (const kind of KINDS) expect(EDITS[kind].name.length).toBeGreaterThan(2);
  });
});
