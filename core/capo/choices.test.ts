/** What a teacher is offered of the table of keys and capos. */
import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { DEFAULT_HAND } from '../hand';
import { standardSetup } from '../instrument';
import { pitchClassOf } from '../pitch';
import { committeeTunes } from '../testing/committee';
import { oneIn } from '../testing/setup';
import type { Tune } from '../tune';
import { freshPlan, type KeyPlan, keyChoices, otherKey, planKeys, playsOverBass, VOICE_TYPES } from './index';

const guitar = standardSetup('guitar');
const tune = (key: string, body: string, meter = '4/4') =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nK:${key}\n${body}\n`)[0]!.tune;
const song = tune('G', '"G"GBdB|"C"ceGc|"D"dfaf|"G"G4|]');

describe('the best choices', () => {
  const plansOf = (own: Tune, wishes = {}) => planKeys(own, { setup: guitar, hand: DEFAULT_HAND, ...wishes });
  it('are other shapes each, best first, with the capos at which the same ones are nearly as good', () => {
    for (const own of oneIn(6, committeeTunes())) {
      const plans = plansOf(own, { overBass: true });
      const choices = keyChoices(plans, 5);
      expect(choices).toHaveLength(5);
      expect(choices[0]!.plan).toBe(plans[0]);
      const shapes = choices.map(({ plan }) => pitchClassOf(plan.shapeKey.tonic));
      expect(new Set(shapes).size).toBe(5);
      for (const [i, { plan, others }] of choices.entries()) {
        const same = plans.filter(({ shapeKey }) => pitchClassOf(shapeKey.tonic) === shapes[i]);
        expect(same[0]).toBe(plan);
        expect(
          others.every(other => same.includes(other) && other !== plan && other.cost <= plan.cost + 1.5),
        ).toBe(true);
        const capos = others.map(({ setup }) => setup.capo);
        expect(capos).toEqual([...capos].sort((a, b) => a - b));
      }
    }
  });
  it('name what the voice reaches before what it does not, and no capo that takes it out of reach', () => {
    for (const own of oneIn(6, committeeTunes()))
      for (const voice of [VOICE_TYPES.alto, VOICE_TYPES.baritone]) {
        const [first, ...rest] = keyChoices(plansOf(own, { voice }), 5);
        const reach = ({ voice: lie }: KeyPlan) => lie!.below + lie!.above === 0;
        const reached = rest.map(({ plan }) => reach(plan));
        expect(reached).toEqual([...reached].sort((a, b) => Number(b) - Number(a)));
        expect([first!, ...rest].flatMap(({ others }) => others).every(reach)).toBe(true);
      }
  });
  it('have no capo on a mandolin, where the hand is moved along the neck instead (common practice)', () => {
    const mandolin = standardSetup('mandolin');
    for (const own of oneIn(6, committeeTunes()))
      for (const wishes of [{}, { voice: VOICE_TYPES.alto }]) {
        const plans = planKeys(own, { setup: mandolin, hand: DEFAULT_HAND, ...wishes });
        const [best] = keyChoices(plans, 5);
        expect(best!.plan.setup.capo, own.title).toBe(0);
        const raised = plans.find(({ setup }) => setup.capo === 2)!;
        expect(raised.reasons.join(' ')).toMatch(
          /the hand is moved along the neck rather than a capo put on/,
        );
      }
  });
  it('keep the written key where nobody sings, and come in another to open strings first (common practice)', () => {
    // "Muss i denn", from memory: three ways to G, by D, E and C shapes; the fourth is A, open.
    const song =
      'GA|"G"B2 B2 c2 A2|G2 z2 B2 G2|"C"c2 B2 "D"A2 c2|"G"B2 z2 z2 GA|B2 B2 c2 A2|G2 z2 B2 G2|"C"c2 B2 "D"A3 G|"G"G4 z2|]';
    const choices = keyChoices(plansOf(tune('G', song), { overBass: true }), 4);
    const found = choices.map(({ plan }) => [plan.soundingKey.tonic, plan.setup.capo]);
    expect(found).toEqual([
      ['G', 5],
      ['G', 3],
      ['G', 7],
      ['A', 0],
    ]);
  });
});

it('key and capo are chosen for a melody over a bass where nobody sings it, and no other wish is told', () => {
  const plan = freshPlan('t');
  const words = tune('C', '"C"z4|"F"z4|"C"z4|]');
  expect(playsOverBass(plan, song)).toBe(true);
  expect(playsOverBass({ ...plan, overBass: false }, song)).toBe(false);
  expect(playsOverBass({ ...plan, voice: VOICE_TYPES.alto }, song)).toBe(false);
  expect(playsOverBass({ ...plan, voice: VOICE_TYPES.alto, overBass: true }, song)).toBe(true);
  expect(playsOverBass(plan, words)).toBe(false);
  expect(playsOverBass({ ...plan, setup: standardSetup('mandolin') }, song)).toBe(false);
});

describe('another key', () => {
  const offered = (written: Tune, beginner = false) =>
    otherKey(planKeys(written, { setup: guitar, hand: DEFAULT_HAND, overBass: true, beginner }), beginner);
  it('is offered where no capo gives the written one room over a bass, with what it gains', () => {
    // Blow the Man Down, from memory: a tenth and more over the tonic of D, too wide for any capo.
    const shanty = 'A|"D"F2F A2A|d2d f2d|"D"B2B A2F|"A"E3 E2E|"A"E2E E2F|G2G B2A|"A"A2B A2F|"D"D3 D2|]';
    const found = offered(tune('D', shanty, '6/8'))!;
    expect(found.own.transposition).toBe(0);
    expect(found.own.melody.highestFret).toBeGreaterThan(7);
    expect(found.other.transposition).not.toBe(0);
    expect(found.other.melody.highestFret).toBeLessThan(found.own.melody.highestFret);
    expect(found.other.crowded).toBeLessThanOrEqual(0.1);
    expect(found.gains.join(' ')).toMatch(/the melody goes up to fret \d+ instead of \d+/);
  });
  it('is offered to a beginner too where it has half the trouble, though some is left', () => {
    // In C it goes down among the bass strings to stay in first position.
    const air = committeeTunes().find(({ title }) => title === 'Londonderry Air')!;
    const { own, other } = offered(air, true)!;
    expect(own.octaveShift).toBe(-12);
    expect(other.octaveShift).toBe(0);
    expect(other.melody.highestFret).toBeLessThanOrEqual(7);
    expect(other.crowded).toBeLessThan(own.crowded / 2);
    // By shapes that a beginner has: those of E would lie lower, with barres.
    expect(other.shapeKey.tonic).toBe('G');
    expect(other.barre).toBe(0);
  });
  it('is offered to a beginner where it is easier: F major lies in the shapes of E, an octave lower, at capo 1 (common practice: G or C)', () => {
    // An old song of early morning, from memory.
    const morning = tune(
      'F',
      '"F"FFAc|"Bb"d3c|"F"AF"C"GG|"F"F3C|"F"FFAc|"Bb"d3c|"F"AF"C7"GG|"F"F2zc|"C"cBGB|"F"BAFc|"C"cBGB|"F"B2Ac|"F"f>e"Bb"dc|"F"cA"Bb"dc/B/|"F"AF"C7"GG|"F"F4|]',
    );
    const { own, other, because, gains } = offered(morning, true)!;
    expect([own.shapeKey.tonic, own.setup.capo, own.octaveShift]).toEqual(['E', 1, -12]);
    expect([other.shapeKey.tonic, other.setup.capo, because]).toEqual(['G', 0, 'beginner']);
    expect(other.melody.thick).toBeLessThan(own.melody.thick / 2);
    expect(gains.join('; ')).toMatch(
      /\d+ % of the melody lies on the bass strings instead of \d+ %.*the shapes ask less, G, C, D, D7 instead of E, A, B, B7/,
    );
    // Who is no beginner plays it higher up, and a singer's key is the voice's.
    expect(offered(morning)?.because).not.toBe('beginner');
    const sung = {
      setup: guitar,
      hand: DEFAULT_HAND,
      overBass: true,
      beginner: true,
      voice: VOICE_TYPES.alto,
    };
    expect(otherKey(planKeys(morning, sung), true)?.because).not.toBe('beginner');
  });
  it('needs no capo to be near the written one: where another is played, open shapes sound as they are (common practice)', () => {
    const named = ['Skye Boat Song', 'Aura Lea', 'Joy to the World'];
    const all = committeeTunes();
    const sample = new Set([...oneIn(6, all), ...all.filter(({ title }) => named.includes(title))]);
    const offers = new Map([...sample].map(own => [own.title, offered(own, true)?.other]));
    const given = [...offers.values()].filter(other => other !== undefined);
    expect(given.length).toBeGreaterThan(sample.size / 5);
    expect(given.filter(({ setup }) => setup.capo > 0)).toEqual([]);
    const keys = named.map(title => offers.get(title)?.soundingKey.tonic);
    expect(keys).toEqual(['C', 'C', 'G']);
  });
  it('is offered for a high capo where nobody sings: mostly the same shapes without it (common practice of solo pieces)', () => {
    const wishes = { setup: guitar, hand: DEFAULT_HAND, overBass: true };
    let same = 0;
    let high = 0;
    const sample = oneIn(4, committeeTunes());
    for (const own of sample) {
      const plans = planKeys(own, wishes);
      const offer = otherKey(plans);
      const written = plans.find(({ transposition }) => transposition === 0)!;
      if (written.setup.capo >= 5) high += 1;
      if (offer?.because !== 'capo') continue;
      expect(offer.own).toBe(written);
      expect(written.setup.capo).toBeGreaterThanOrEqual(5);
      expect(offer.other.setup.capo).toBeLessThanOrEqual(2);
      expect(offer.other.melody.highestFret).toBeLessThanOrEqual(7);
      if (offer.other.shapeKey.tonic === written.shapeKey.tonic) same += 1;
      // A singer's capo is for the voice.
      expect(otherKey(planKeys(own, { ...wishes, voice: VOICE_TYPES.alto }))?.because).not.toBe('capo');
    }
    expect(high).toBeGreaterThan(sample.length / 4);
    expect(same).toBeGreaterThan(high / 3);
  }, 60_000);
  it('is not, where the written key has room', () => {
    expect(offered(tune('G', '"G"BdBG|"C"ceec|"D"dfdA|"G"G4|]'))).toBeUndefined();
  });
});
