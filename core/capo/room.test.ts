import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { DEFAULT_HAND } from '../hand';
import { standardSetup } from '../instrument';
import { committeeTunes } from '../testing/committee';
import { transposeTune } from '../tune';
import { planCapo, planKeys } from './index';

const guitar = standardSetup('guitar');
const tune = (key: string, body: string) => readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nK:${key}\n${body}\n`)[0]!.tune;

describe('a melody over a bass', () => {
  // The Water Is Wide, from memory, as sung: D4 to E5 in G.
  const air = tune('G', 'D|"G"GBAG|"C"E2"G"DG|"G"Bcd B|"Em"A3 B|"C"dedB|"Em"G2"D"FE|"C"AG"D"EF|"G"G3|]');
  const best = (overBass: boolean) => planCapo(air, guitar, DEFAULT_HAND, 'auto', { overBass })[0]!;
  it('stays where it sounds rather than dive under its bass', () => {
    expect(best(false).octaveShift).toBe(-12);
    expect(best(true).octaveShift).toBe(0);
    expect(best(true).reasons.join(' ')).toMatch(/Every root lies a fifth or more under the melody/);
  });
  it('is not played from barres for long: E, A minor and D minor not as C, F and B flat minor at capo 4 (common practice)', () => {
    const dance = tune(
      'EPhr',
      '"E"E2^G>F|"E"E2^G>F|"E"BA"Am"A^G|"E"^GFE2|"E"^G^GF/E/E|"Dm"FFE/D/D|"Dm"D>FED|"E"^GFE2|"Am"AAA2|"Am"AcB/A/A|"Dm"cBA2|"Am"AcBA|"E"BBB2|"E"BdcB|"E"^GFE2|',
    );
    const [best] = planCapo(dance, guitar, DEFAULT_HAND, 'auto', { overBass: true });
    expect(best!.barre).toBeLessThanOrEqual(0.25);
    expect(best!.shapes).not.toContain('F');
  });
  it('in any key and capo: what the table prefers has room below, and tells how much', () => {
    const [first, ...others] = planKeys(air, { setup: guitar, hand: DEFAULT_HAND, overBass: true });
    expect(first!.parts.room).toBe(0);
    expect(others.some(plan => plan.parts.room > 0)).toBe(true);
    for (const plan of others.filter(other => other.parts.room > 0))
      expect(plan.reasons.join(' ')).toMatch(/For \d+ % of the time no root lies a fifth or more under/);
    // Without a bass nothing is said of it.
    const plain = planKeys(air, { setup: guitar, hand: DEFAULT_HAND });
    expect(plain.every(plan => plan.parts.room === 0 && !/under the melody/.test(plan.reasons.join()))).toBe(
      true,
    );
  });
  it.each([
    ['Clementine', 'D', 3],
    ['Red River Valley', 'D', 5],
    ['Home on the Range', 'D', 5],
    ['New Britain', 'D', 5],
  ])(
    '%s goes to %s shapes, where the little finger reaches the melody over what is held (common practice)',
    (title, key, capo) => {
      const song = committeeTunes().find(own => own.title === title)!;
      const plan = planCapo(song, guitar, DEFAULT_HAND, 'auto', { overBass: true })[0]!;
      expect([plan.shapeKey.tonic, plan.setup.capo]).toEqual([key, capo]);
      expect(plan.melody.highestFret).toBeLessThanOrEqual(5);
      expect(plan.offShape).toBeLessThan(0.05);
    },
  );
  it('over E minor on open strings the hand is free to go up the neck; over E, whose third is held, it is not (common practice)', () => {
    const up = (chord: string) => {
      const own = tune(chord === 'Em' ? 'Em' : 'E', `"${chord}"EGBe|"${chord}"beBG|"${chord}"E4|]`);
      return planCapo(own, guitar, DEFAULT_HAND, 0, { overBass: true, octave: 0 })[0]!;
    };
    expect(up('Em').melody.highestFret).toBe(19);
    expect(up('Em').offShape).toBe(0);
    expect(up('Em').reasons.join(' ')).not.toMatch(/above what the held shape reaches/);
    expect(up('E').offShape).toBeGreaterThan(0.3);
    expect(up('Em').parts.melody).toBeLessThan(up('E').parts.melody - 5);
    // An old ballad on one chord, from memory: G minor is E minor with a capo.
    const ballad = tune(
      'GDor',
      'G|"Gm"GBdd|"Gm"cBG2|"F"FG"Gm"BB|"Gm"G3G|"Gm"ddfd|"F"cB"Gm"GG|"F"FDFG|"Gm"G3|]',
    );
    const [best] = planCapo(ballad, guitar, DEFAULT_HAND, 'auto', { overBass: true });
    expect([best!.shapeKey.tonic, best!.setup.capo]).toEqual(['E', 3]);
  });
  it('of a blues has its tonic on an open string, where the thumb keeps to it (common practice)', () => {
    const bars = tune(
      'E',
      '"E"B2_B2|"A7"AGE2|"E7"B_BAG|E4|"A7"AcAG|EGE2|"E7"BdBA|GE3|"B7"dBdf|"A7"ecA2|"E7"_BAGE|"B7"F4|]',
    );
    const open = ['E', 'A', 'D'];
    const planned = (rhythm: string) =>
      Array.from({ length: 12 }, (_, up) => up - 6).map(semitones => {
        const own = transposeTune({ ...bars, rhythm }, semitones);
        return planCapo(own, guitar, DEFAULT_HAND, 'auto', { overBass: true })[0]!;
      });
    expect(planned('song').some(plan => !open.includes(plan.shapeKey.tonic))).toBe(true);
    for (const plan of planned('slow blues')) {
      expect(open).toContain(plan.shapeKey.tonic);
      expect(plan.reasons).toContain('A blues: its thumb keeps to the tonic on an open string.');
    }
  });
  it('how long it lies above what the shape reaches is counted and told: D reaches to fret 5, E to fret 4', () => {
    const plans = planKeys(tune('D', '"D"DFAe|"D"E4|]'), {
      setup: guitar,
      hand: DEFAULT_HAND,
      overBass: true,
    });
    const told = /For (\d+) % of the time the melody lies above what the held shape reaches/;
    for (const plan of plans) {
      const [, part] = plan.reasons.join(' ').match(told) ?? [];
      expect(part).toBe(plan.offShape ? `${Math.round(100 * plan.offShape)}` : undefined);
      const top = { D: 5, E: 4, C: 4, A: 5 }[plan.shapeKey.tonic as string];
      if (top !== undefined && plan.shapes.join() === plan.shapeKey.tonic)
        expect(plan.offShape > 0).toBe(plan.melody.highestFret > top);
    }
    expect(plans.some(plan => plan.offShape > 0)).toBe(true);
    expect(planKeys(air, { setup: guitar, hand: DEFAULT_HAND }).every(plan => plan.offShape === 0)).toBe(
      true,
    );
  });
});
