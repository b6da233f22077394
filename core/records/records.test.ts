import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { freshPlan } from '../capo';
import { readAbc } from '../formats/abc';
import { readBundle, writeBundle } from '../formats/bundle';
import { lessonSteps } from '../lesson';
import { type Arrangement, has, intoOf, ledgerTexts, type ScoreNote, sourceChanges } from '../score';
import { faultOf, KINDS, type Kind, orphanFault, readRecord, VERSIONS } from './index';

const sample = (name: string) => readFileSync(new URL(`./samples/${name}`, import.meta.url), 'utf8');
interface OldNote {
  voice: string;
  start: number;
  ticks: number;
  string: number;
  fret: number;
  finger?: number;
  pluck?: string;
  tied?: boolean;
  tuplet?: unknown;
  graces?: number[];
  into?: string;
  harmonic?: boolean;
  dead?: boolean;
  accent?: boolean;
  pinned?: boolean;
}
interface Old {
  tunes: { measures: { events: unknown[] }[] }[];
  arrangements: { measures: { notes: OldNote[] }[]; ledger: string[] }[];
  lessons: { done: string[]; current: string }[];
  plans: { choices: Record<string, string> }[];
}

/** What a note is and does, of today and of version 1, in the same words. */
const told = (n: ScoreNote) => [
  [n.role, n.start, n.ticks, n.string, n.fret, n.finger, n.pluck, n.pinned],
  [n.tie !== undefined, n.tuplets?.[0], n.graces?.map(g => g.fret), intoOf(n)?.kind],
  [has(n, 'harmonic'), has(n, 'dead'), has(n, 'accent')],
];
const toldBefore = (n: OldNote) => [
  [n.voice, n.start, n.ticks, n.string, n.fret, n.finger, n.pluck, n.pinned],
  [n.tied === true, n.tuplet, n.graces, n.into],
  [n.harmonic === true, n.dead === true, n.accent === true],
];

describe('a bundle of version 1', () => {
  const text = sample('bundle-1.json');
  const old = JSON.parse(text) as Old;
  const result = readBundle(text);
  if (result.error !== undefined) throw new Error(result.error);
  const { bundle, rejected } = result;
  it('opens without loss: every note with its place, length, pitch and marks', () => {
    expect(rejected).toEqual([]);
    for (const kind of KINDS)
      expect(bundle[kind]).toHaveLength(kind in old ? old[kind as keyof Old].length : 0);
    for (const [i, a] of bundle.arrangements.entries())
      for (const [m, measure] of a.measures.entries())
        expect(measure.notes.map(told)).toEqual(old.arrangements[i]!.measures[m]!.notes.map(toldBefore));
    for (const [i, tune] of bundle.tunes.entries())
      for (const [m, measure] of tune.measures.entries())
        expect(
          measure.events.map(({ id: _id, tuplets, ...e }) => ({
            ...e,
            ...(tuplets && { tuplet: tuplets[0] }),
          })),
        ).toEqual(old.tunes[i]!.measures[m]!.events);
    expect(ledgerTexts(bundle.arrangements[0]!).length).toBe(old.arrangements[0]!.ledger.length);
  });
  it('its arrangements point at the measures and chords of its tunes, and nothing counts as changed', () => {
    for (const a of bundle.arrangements) {
      const tune = bundle.tunes.find(t => t.id === a.tuneId)!;
      const ids = new Set(tune.measures.flatMap(m => [m.id, ...m.chords.map(c => c.id)]));
      for (const m of a.measures) {
        expect(ids).toContain(m.from!.id);
        for (const c of m.chords) if (c.from) expect(ids).toContain(c.from);
      }
      expect(sourceChanges(a, tune)).toBeUndefined();
    }
  });
  it('ticks of lessons, chosen shapes and patterns of sections are on what they were on', () => {
    const [lesson] = bundle.lessons;
    const a = bundle.arrangements.find(x => x.id === lesson!.id)!;
    const steps = lessonSteps(a).map(s => s.id);
    expect(lesson!.done).toEqual(steps.slice(0, 5));
    expect(lesson!.current).toBe(steps[5]);
    expect(bundle.plans[0]!.choices).toEqual({ c1: 'x32010', c4: '320003' });
    const patterned = bundle.arrangements.find(x => x.settings?.sectionPatterns)!;
    const section = patterned.measures[0]!.section!;
    expect(patterned.settings!.sectionPatterns).toEqual({ [section.id]: 'B 3 2 1 2 3' });
  });
  it('written as it is now, it comes back the very same', () => {
    expect(readBundle(writeBundle(bundle))).toEqual({ bundle, rejected: [] });
  });
});

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cegc|"G7"dfgd|"C"c4|]\n')[0]!;
const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
const changed = <T>(record: T, change: (copy: T) => void): T => {
  const copy = structuredClone(record);
  change(copy);
  return copy;
};
const a = (change: (copy: Arrangement) => void) => changed(arrangement!, change);

describe('nonsense is refused with a reason that says where', () => {
  it.each<[string, Kind, unknown, RegExp]>([
    [
      'string 9 of 6',
      'arrangements',
      a(x => {
        x.measures[1]!.notes[0]!.string = 9;
      }),
      /measures\[1\].*string 9, and there are 6/,
    ],
    [
      'a two-string guitar',
      'arrangements',
      a(x => {
        x.setup = { ...x.setup, tuning: ['E4', 'B3'] };
      }),
      /names 2 strings, a guitar has 6|lies on string/,
    ],
    [
      'a plan for two strings',
      'plans',
      { ...freshPlan('t'), setup: { ...freshPlan('t').setup, tuning: ['E4', 'B3'] } },
      /names 2 strings/,
    ],
    [
      'ticks of 1e15',
      'arrangements',
      a(x => {
        x.measures[0]!.ticks = 1e15;
      }),
      /measures\[0\]\.ticks/,
    ],
    [
      'a note past its barline',
      'arrangements',
      a(x => {
        x.measures[0]!.notes[0]!.ticks = 80640;
      }),
      /measures\[0\].*past the end/,
    ],
    [
      'a note of the tune past its barline',
      'tunes',
      changed(tune, x => {
        x.measures[0]!.events[0]!.ticks = 80640;
      }),
      /measures\[0\].*past the end/,
    ],
    [
      'two notes of one id',
      'arrangements',
      a(x => {
        x.measures[0]!.notes[1]!.id = x.measures[0]!.notes[0]!.id;
      }),
      /two notes have the id/,
    ],
    [
      'two measures of one id',
      'tunes',
      changed(tune, x => {
        x.measures[1]!.id = x.measures[0]!.id;
      }),
      /two measures have the id/,
    ],
    ['a next id that is taken', 'tunes', { ...tune, nextId: 2 }, /have that number already/],
    [
      'a shape of two strings',
      'arrangements',
      a(x => {
        x.measures[0]!.chords[0]!.frets = [1, 2];
      }),
      /names 2 strings/,
    ],
    [
      'no measures',
      'arrangements',
      a(x => {
        x.measures = [];
      }),
      /measures/,
    ],
    ['a field that nobody knows', 'lessons', { id: 'l', done: [], colour: 'red' }, /colour/],
    ['a number as a word', 'lessons', { id: 'l', done: [], percent: '60' }, /percent/],
    ['nothing', 'tunes', null, /object/],
  ])('%s', (_, kind, record, message) => {
    expect(faultOf(kind, record)).toMatch(message);
  });
  it('what is in order passes, again and again, and a fault put into it later is found', () => {
    expect(faultOf('arrangements', arrangement)).toBeUndefined();
    expect(faultOf('arrangements', arrangement)).toBeUndefined();
    const wrong = {
      ...arrangement!,
      measures: arrangement!.measures.map((m, i) => (i === 2 ? { ...m, ticks: -1 } : m)),
    };
    expect(faultOf('arrangements', wrong)).toMatch(/measures\[2\]\.ticks/);
    // The same measures on another instrument are looked at anew.
    const other = {
      ...arrangement!,
      setup: { instrument: 'mandolin' as const, tuning: ['E5', 'A4', 'D4', 'G3'], capo: 0 },
    };
    expect(faultOf('arrangements', other)).toBeDefined();
  });
  it('a record without the one it belongs to', () => {
    const exists = (kind: Kind, id: string) => kind === 'tunes' && id === 'here';
    expect(orphanFault('arrangements', { ...arrangement!, tuneId: 'gone' }, exists)).toMatch(
      /its tune \("gone"\)/,
    );
    expect(orphanFault('arrangements', { ...arrangement!, tuneId: 'here' }, exists)).toBeUndefined();
    expect(orphanFault('lessons', { id: 'x', done: [] }, exists)).toMatch(/its arrangement/);
    expect(orphanFault('plans', freshPlan('here'), exists)).toBeUndefined();
  });
  it('of a newer version, of none, or one that a migration trips over', () => {
    expect(readRecord('tunes', tune, VERSIONS.tunes + 1).fault).toMatch(/newer Velvet Porch/);
    expect(readRecord('tunes', tune, Number.NaN).fault).toMatch(/no version/);
    expect(readRecord('tunes', { measures: 7 }, 1).fault).toMatch(/version 2 \(measures, notes, chords/);
    expect(readRecord('arrangements', {}, 1).fault).toBeDefined();
  });
});
