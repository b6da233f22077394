import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import type { TunePlan } from '../../capo';
import { STYLES, snapshotOf } from '../../score';
import { anySettings } from '../../testing/settings';
import { tunes } from '../../testing/tunes';
import { readAbc } from '../abc';
import { BUNDLE_VERSION, type Bundle, readBundle, writeBundle } from './index';

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
            tunes: [tune],
            arrangements: arrangement ? [arrangement] : [],
            lessons: [{ id: 'a', done: ['measure-m1'], percent: 60 }],
            stamps: { tunes: { [tune.id]: { revision: 3, changed: 1790000000000 } } },
            plans: [],
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
    const bundle: Bundle = { tunes: [], arrangements: [], lessons: [], plans: [plan], snapshots: [] };
    expect(readBundle(writeBundle(bundle))).toEqual({ bundle, rejected: [] });
    const broken = { ...plan, voice: { low: 70, high: 60 } };
    const result = readBundle(writeBundle({ ...bundle, plans: [broken] }));
    if (result.error !== undefined) throw new Error(result.error);
    expect(result.rejected[0]).toMatchObject({
      kind: 'plans',
      message: expect.stringContaining('voice.high'),
    });
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
