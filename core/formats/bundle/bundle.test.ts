import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import type { TunePlan } from '../../capo';
import { USUAL_CHOICES } from '../../lesson';
import { STYLES, snapshotOf } from '../../score';
import { anySettings } from '../../testing/settings';
import { tunes } from '../../testing/tunes';
import { readAbc } from '../abc';
import { BUNDLE_VERSION, type Bundle, emptyBundle, readBundle, writeBundle } from './index';

const studio = readFileSync(new URL('../../../demo/studio.json', import.meta.url), 'utf8');

describe('the bundle', () => {
  it('round trips any tune and arrangement, record for record', () => {
    fc.assert(
      fc.property(
        tunes({ low: -3, high: 13 }),
        fc.constantFrom('guitar', 'mandolin'),
        fc.constantFrom(...STYLES),
        anySettings,
        fc.boolean(),
        (generated, instrument, style, asked, sections) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const { arrangement } = arrange(tune, {
            id: 'a',
            instrument: instrument as 'guitar',
            style,
            capo: 0,
            settings: sections ? { ...asked, sectionPatterns: { s1: '' } } : asked,
          });
          const bundle: Bundle = {
            ...emptyBundle(),
            tunes: [tune],
            arrangements: arrangement ? [arrangement] : [],
            lessons: [{ id: 'a', done: ['measure-m1'], percent: 60 }],
            stamps: { tunes: { [tune.id]: { revision: 3, changed: 1790000000000 } } },
            snapshots: arrangement
              ? [snapshotOf(arrangement, { id: 'v', name: 'As taught', made: 1790000000000 })]
              : [],
          };
          expect(readBundle(writeBundle(bundle))).toEqual({
            bundle: JSON.parse(JSON.stringify(bundle)),
            rejected: [],
          });
        },
      ),
      { numRuns: 60 },
    );
  });
  it('keeps a plan with every wish, and names what is wrong in one', () => {
    const plan: TunePlan = {
      id: 't',
      setup: {
        instrument: 'guitar',
        tuning: ['D4', 'A3', 'G3', 'D3', 'A2', 'D2'],
        capo: 2,
        capoStrings: [3, 4, 5],
        neck: { scaleLength: 630, frets: 20 },
      },
      hand: { size: 'small', span: 140, beginner: true, thumb: true },
      transposition: -3,
      voice: { type: 'alto', low: 53, high: 72 },
      target: { tonic: 'Bb', within: 2 },
      wishes: { noBarre: true, maxStretch: 80, freeFingers: [4], openStrings: [1], goal: 'worst' },
      choices: { c1: 'x32010', c4: 'x-x-10-11-12-10' },
      pattern: 'B 3 (21)',
    };
    const bundle: Bundle = { ...emptyBundle(), plans: [plan] };
    expect(readBundle(writeBundle(bundle))).toEqual({ bundle, rejected: [] });
    const broken = { ...plan, voice: { low: 70, high: 60 } };
    const result = readBundle(writeBundle({ ...bundle, plans: [broken] }));
    if (result.error !== undefined) throw new Error(result.error);
    expect(result.rejected[0]).toMatchObject({
      kind: 'plans',
      message: expect.stringContaining('voice.high'),
    });
  });
  it('keeps what teaching needs, field for field, and names what is wrong in it', () => {
    const bundle: Bundle = {
      ...emptyBundle(),
      outlines: [
        {
          id: 'a',
          ...USUAL_CHOICES,
          alone: ['open', 'bass'],
          inPlace: ['v1'],
          edits: { 'measure-m1': { title: 'The climb', advice: '', remark: 'x', percent: 50, left: true } },
          order: ['measure-m2', 'measure-m1'],
          minutes: 30,
        },
      ],
      sheets: [{ id: 'a', choices: { paper: 'letter', staff: true } }],
      patterns: [{ id: 'p', name: 'Slow roll', text: 'B 3 2 1', meter: { beats: 4, unit: 4 } }],
      pupils: [
        {
          id: 'w',
          name: 'Wren',
          instrument: 'guitar',
          hand: { size: 'small' },
          leftHanded: true,
          voice: { low: 50, high: 72 },
          school: 'by-string',
          level: 2,
          times: [{ weekday: 3, time: '17:30', minutes: 45 }],
          goals: 'a carol by December',
          notes: '',
          lessons: [{ id: 'l1', date: '2026-03-14', came: true, done: 'A', next: 'B' }],
        },
      ],
      learnings: [
        {
          id: 'l',
          pupilId: 'w',
          arrangementId: 'a',
          since: 1,
          done: ['s'],
          current: 's',
          percents: { s: 80 },
          ended: 2,
        },
      ],
      sittings: [
        {
          id: 's',
          learningId: 'l',
          at: 3,
          minutes: 12.5,
          steps: [{ step: 's', percent: 80, rounds: 4, clean: 3 }],
          hand: 'tired',
          note: 'late',
        },
      ],
    };
    expect(readBundle(writeBundle(bundle))).toEqual({ bundle, rejected: [] });
    const faults: [keyof Bundle, object, RegExp][] = [
      ['outlines', { ...bundle.outlines[0], unit: 'page' }, /unit/],
      ['patterns', { ...bundle.patterns[0], meter: undefined }, /meter/],
      ['pupils', { ...bundle.pupils[0], times: [{ weekday: 8, time: '17:30', minutes: 45 }] }, /weekday/],
      ['pupils', { ...bundle.pupils[0], times: [{ weekday: 1, time: '25:00', minutes: 45 }] }, /time/],
      ['learnings', { ...bundle.learnings[0], percents: { s: 'fast' } }, /percents/],
      [
        'sittings',
        { ...bundle.sittings[0], steps: [{ step: 's', percent: 80, rounds: 2, clean: 3 }] },
        /clean/,
      ],
      ['sittings', { ...bundle.sittings[0], hand: 'numb' }, /hand/],
    ];
    for (const [kind, record, where] of faults) {
      const result = readBundle(writeBundle({ ...bundle, [kind]: [record] }));
      expect(result.bundle?.[kind], kind).toEqual([]);
      expect('rejected' in result && result.rejected[0]?.message).toMatch(where);
    }
  });
  it('the demo studio comes back identical', () => {
    const { bundle } = readBundle(studio);
    expect(writeBundle(bundle!)).toBe(studio);
  });
  it('sets a broken record aside with its name and the place, and takes the rest in', () => {
    const data = JSON.parse(studio) as { tunes: { title: string; measures: { ticks: unknown }[] }[] };
    data.tunes[1]!.measures[2]!.ticks = 'long';
    const result = readBundle(JSON.stringify(data));
    if (result.error !== undefined) throw new Error(result.error);
    expect(result.bundle.tunes).toHaveLength(data.tunes.length - 1);
    expect(result.rejected).toEqual([
      {
        kind: 'tunes',
        name: data.tunes[1]!.title,
        message: expect.stringContaining('measures[2].ticks'),
        record: data.tunes[1],
      },
    ]);
  });
  it.each([
    ['not JSON', 'X:1', /not JSON/],
    ['another format', '{"format":"song"}', /not a Velvet Porch bundle/],
    ['null', 'null', /not a Velvet Porch bundle/],
    [
      'a later version',
      JSON.stringify({ format: 'velvet-porch-bundle', version: BUNDLE_VERSION + 1 }),
      /newer Velvet Porch/,
    ],
    [
      'no list',
      JSON.stringify({ format: 'velvet-porch-bundle', version: 1, tunes: {} }),
      /"tunes" must be a list/,
    ],
  ])('refuses %s with the reason', (_, source, message) => {
    expect(readBundle(source).error).toMatch(message);
  });
});
