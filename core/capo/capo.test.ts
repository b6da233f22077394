import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { DEFAULT_HAND } from '../hand';
import { standardSetup } from '../instrument';
import { keyFifths, pitchClassOf } from '../pitch';
import { planCapo, rangeProblem } from './index';

const tune = (key: string, body: string) => readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nK:${key}\n${body}\n`)[0]!.tune;

describe('capo plans', () => {
  it('shape key and capo always add up to the sounding key', () => {
    for (const plan of planCapo(
      tune('Bb', '"Bb"Bdfd|"Eb"egbg|"F"facA|"Bb"B4|]'),
      standardSetup('guitar'),
      DEFAULT_HAND,
      'auto',
    )) {
      expect((pitchClassOf(plan.shapeKey.tonic) + plan.setup.capo) % 12).toBe(pitchClassOf('Bb'));
      expect(Math.abs(keyFifths(plan.shapeKey))).toBeLessThanOrEqual(6);
    }
  });
  it('a tune in B flat is not left in barre shapes: a capo brings open ones (common practice)', () => {
    const [best] = planCapo(
      tune('Bb', '"Bb"Bdfd|"Eb"egbg|"F"facA|"Bb"B4|]'),
      standardSetup('guitar'),
      DEFAULT_HAND,
      'auto',
    );
    expect(best!.setup.capo).toBeGreaterThan(0);
    expect(['G', 'A', 'C', 'D', 'E']).toContain(best!.shapeKey.tonic);
  });
  it('keeps below fret 8, and is as asked when a fret is given', () => {
    const plans = planCapo(tune('G', '"G"GBdB|]'), standardSetup('guitar'), DEFAULT_HAND, 'auto');
    expect(plans.every(p => p.setup.capo <= 7)).toBe(true);
    expect(
      planCapo(tune('G', '"G"GBdB|]'), standardSetup('guitar'), DEFAULT_HAND, 5).map(p => p.setup.capo),
    ).toEqual([5]);
  });
  it('gives its reasons', () => {
    for (const plan of planCapo(
      tune('D', '"D"dfaf|"A"eAce|]'),
      standardSetup('guitar'),
      DEFAULT_HAND,
      'auto',
    )) {
      expect(plan.reasons[0]).toContain(plan.setup.capo ? `Capo ${plan.setup.capo}` : 'No capo');
    }
  });
});

describe('a range that does not fit', () => {
  const wide = tune('C', "C,,4|c4|c'''4|]");
  it('is told with its measures and a way out', () => {
    const problem = rangeProblem(wide, standardSetup('mandolin'))!;
    expect(planCapo(wide, standardSetup('mandolin'), DEFAULT_HAND, 0)).toEqual([]);
    expect(problem.message).toMatch(/from C2 to C8/);
    expect(problem.measures.length).toBeGreaterThan(0);
    expect(problem.offers.length).toBeGreaterThan(0);
  });
  it('says nothing of one that does', () =>
    expect(rangeProblem(tune('G', 'GABc|]'), standardSetup('guitar'))).toBeUndefined());
});
