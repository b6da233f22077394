/** Listening, tested on the simulated player: its faults are known, what is right too. */
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { standardSetup, withCapo } from '../instrument';
import { frequencyOf } from '../pitch';
import { performanceOf, renderPerformance } from '../sound';
import { playingOrder } from '../timeline';
import {
  capoPull,
  centsBetween,
  expectedOf,
  type Fault,
  hearPitch,
  isClean,
  judged,
  onsetsIn,
  simulatedStrings,
  soundOf,
  tunerReading,
  tuningWords,
  withFaults,
} from '.';

/** Chords of a key, a measure each; made up. */
const CHORDS: Record<string, string> = {
  C: '"C"z4|"F"z4|"G"z4|"Am"z4|"C"z4|]',
  G: '"G"z4|"C"z4|"D"z4|"Em"z4|"G"z4|]',
  D: '"D"z4|"G"z4|"A"z4|"Bm"z4|"D"z4|]',
  A: '"A"z4|"D"z4|"E"z4|"F#m"z4|"A"z4|]',
};
const RATE = 22050;
const LINES = [
  'X:1\nT:One\nM:4/4\nL:1/8\nQ:1/4=60\nK:G\nG2AB c2BA|G2D2 G4|B2cd e2dc|B2A2 G4|]\n',
  'X:1\nT:Two\nM:3/4\nL:1/8\nQ:1/4=90\nK:D\nd2 f2 a2|g2 e2 c2|d2 cB AG|F6|]\n',
  'X:1\nT:Three\nM:6/8\nL:1/8\nQ:3/8=80\nK:Am\nABc e2a|gfe d2B|cBA E2A|A6|]\n',
];
const lineOf = (abc: string, quartersPerMinute: number, instrument: 'guitar' | 'mandolin') => {
  const { tune } = readAbc(abc)[0]!;
  const { arrangement } = arrange(tune, { id: 'l', instrument, style: 'melody', capo: 0 });
  const own = { ...arrangement!, quartersPerMinute };
  return { arrangement: own, performance: performanceOf(own, playingOrder(own), 100) };
};
/** A number from 0 to 1 that looks like chance and is always the same. */
const chance = (seed: number) => Math.abs(Math.sin(seed * 12.9898) * 43758.5453) % 1;

describe('following single notes', () => {
  it('98 % of right notes are accepted and 95 % of faults found, from 60 to 120 beats a minute', () => {
    let right = 0;
    let accepted = 0;
    let faulty = 0;
    let found = 0;
    for (const [l, abc] of LINES.entries())
      for (const tempo of [60, 90, 120])
        for (const instrument of ['guitar', 'mandolin'] as const) {
          const { arrangement, performance } = lineOf(abc, tempo, instrument);
          const expected = expectedOf(performance);
          const faults = new Map<number, Fault>();
          for (let i = 2; i < expected.length - 1; i += 4)
            faults.set(i, (['late', 'wrong', 'missed', 'early'] as const)[(i + l) % 4]!);
          // Nobody plays like a machine: up to 20 ms beside the beat.
          const played = withFaults(performance, faults, i => (chance(i + 1 + 7 * l) - 0.5) * 0.04);
          const take = judged(expected, onsetsIn(soundOf(played, arrangement.setup, RATE), RATE));
          for (const [i, { verdict }] of take.moments.entries()) {
            if (faults.has(i)) {
              faulty += 1;
              if (verdict !== 'right') found += 1;
            } else {
              right += 1;
              if (verdict === 'right') accepted += 1;
            }
          }
        }
    expect(right).toBeGreaterThan(150);
    expect(accepted / right, `${accepted} of ${right}`).toBeGreaterThanOrEqual(0.98);
    expect(found / faulty, `${found} of ${faulty}`).toBeGreaterThanOrEqual(0.95);
  });
  it('a delay of all of it, as of a machine, is none of the player’s', () => {
    const { arrangement, performance } = lineOf(LINES[0]!, 80, 'guitar');
    const samples = soundOf(performance, arrangement.setup, RATE);
    for (const delay of [0.15, 0.62, 1]) {
      const late = new Float32Array(samples.length + Math.ceil(delay * RATE));
      late.set(samples, Math.round(delay * RATE));
      const take = judged(expectedOf(performance), onsetsIn(late, RATE));
      expect(take.moments.every(({ verdict }) => verdict === 'right')).toBe(true);
      expect(isClean(take)).toBe(true);
    }
  });
  it('silence is no take, and half of the notes are no clean one', () => {
    const { arrangement, performance } = lineOf(LINES[0]!, 80, 'guitar');
    const expected = expectedOf(performance);
    expect(
      judged(expected, onsetsIn(new Float32Array(RATE), RATE)).moments.every(m => m.verdict === 'missed'),
    ).toBe(true);
    const faults = new Map(expected.map((_, i) => [i, 'missed' as Fault] as const).filter(([i]) => i % 2));
    const half = judged(
      expected,
      onsetsIn(soundOf(withFaults(performance, faults), arrangement.setup, RATE), RATE),
    );
    expect(isClean(half)).toBe(false);
  });
  it('of notes struck together the beginning and the bass are judged: chords over basses of their own, right and a fret off', () => {
    const counts = { right: 0, accepted: 0, faulty: 0, found: 0, named: 0 };
    // The thumb goes to the octave of what rings, as from 6 to 4 in E, and strikes its string again.
    const patterns = ['(B321) (A32) (B321) (A32)', '(B321) (B32) (B321) (B32)'];
    for (const [key, pattern] of ['C', 'G', 'D', 'A'].flatMap(key =>
      patterns.map(own => [key, own] as const),
    ))
      for (const tempo of [60, 84, 108]) {
        const song = readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=${tempo}\nK:${key}\n${CHORDS[key]}\n`)[0]!.tune;
        const { arrangement } = arrange(song, {
          id: 'l',
          instrument: 'guitar',
          style: 'pattern',
          capo: 0,
          settings: { pattern },
        });
        const performance = performanceOf(arrangement!, playingOrder(arrangement!), 100);
        const expected = expectedOf(performance);
        expect(expected.every(({ midi, bass }) => midi === undefined && bass !== undefined)).toBe(true);
        const faults = new Map(
          expected.flatMap((_, i) => (i % 5 === 3 ? [[i, 'wrong' as Fault] as const] : [])),
        );
        const samples = soundOf(withFaults(performance, faults), arrangement!.setup, RATE);
        const { moments } = judged(expected, onsetsIn(samples, RATE), { samples, sampleRate: RATE });
        for (const [i, { verdict, heard, bass }] of moments.entries()) {
          counts[faults.has(i) ? 'faulty' : 'right'] += 1;
          if (!faults.has(i) && verdict === 'right') counts.accepted += 1;
          if (!faults.has(i) || verdict !== 'wrong') continue;
          counts.found += 1;
          if (heard === bass! + 1) counts.named += 1;
        }
      }
    expect(counts.faulty).toBeGreaterThan(60);
    expect(counts.accepted / counts.right, JSON.stringify(counts)).toBeGreaterThanOrEqual(0.98);
    expect(counts.found / counts.faulty, JSON.stringify(counts)).toBeGreaterThanOrEqual(0.95);
    expect(counts.named / counts.found, JSON.stringify(counts)).toBeGreaterThanOrEqual(0.95);
  });
  it('of a chord melody what is right is taken for right, and without the sound only its beginnings are judged', () => {
    const { tune } = readAbc(LINES[0]!)[0]!;
    const { arrangement } = arrange(tune, { id: 'l', instrument: 'guitar', style: 'chord-melody', capo: 0 });
    const performance = performanceOf(arrangement!, playingOrder(arrangement!), 100);
    const expected = expectedOf(performance);
    expect(expected.some(({ midi }) => midi === undefined)).toBe(true);
    const samples = soundOf(performance, arrangement!.setup, RATE);
    for (const recording of [undefined, { samples, sampleRate: RATE }]) {
      const take = judged(expected, onsetsIn(samples, RATE), recording);
      const heard = take.moments.filter(({ verdict }) => verdict === 'right').length;
      expect(heard / take.moments.length).toBeGreaterThan(0.9);
    }
  });
});

describe('the tuner', () => {
  /** One string as it sounds, in the middle of its ring. */
  const stringSound = (frequency: number, instrument: 'guitar' | 'mandolin') => {
    const { samples } = renderPerformance(
      {
        events: [{ string: 1, time: 0, end: 2, midi: 60, frequency, velocity: 0.8, role: 'melody' }],
        cues: [],
        clicks: [],
        seconds: 2,
      },
      standardSetup(instrument),
      { sampleRate: 44100, click: false, countIn: [] },
    );
    return samples.subarray(22050, 22050 + 8192);
  };
  it.each(['guitar', 'mandolin'] as const)(
    'on a simulated %s with a capo that pulls and strings that drift: the string, and within a cent',
    instrument => {
      for (const capo of [0, 3]) {
        const setup = withCapo(standardSetup(instrument), capo);
        const drift = [12, -25, 4, -8, 31, -3];
        for (const [i, { frequency, cents }] of simulatedStrings(setup, drift, 0.5).entries()) {
          const heard = hearPitch(stringSound(frequency, instrument), 44100)!;
          const reading = tunerReading(setup, heard.frequency)!;
          expect(reading.string).toBe(i + 1);
          expect(Math.abs(reading.cents - cents)).toBeLessThan(1);
        }
      }
    },
  );
  it('cents are as they are defined (ISO 16: A4 = 440 Hz; 1200 to the octave)', () => {
    expect(centsBetween(440, 880)).toBe(1200);
    expect(centsBetween(frequencyOf(69), frequencyOf(70))).toBeCloseTo(100, 9);
    expect(tunerReading(standardSetup('guitar'), 82.41)).toMatchObject({ string: 6 });
    expect(tunerReading(standardSetup('guitar'), 1500)).toBeUndefined();
    expect(tunerReading(standardSetup('guitar'), 100, 5)!.cents).toBeCloseTo(-165, 0);
  });
  it('says what to do, and warns before a string breaks', () => {
    expect([0, 8, -8, 40, -150, 260].map(tuningWords)).toEqual([
      'in tune',
      'a little lower',
      'a little higher',
      'lower',
      'much higher',
      'much too high: let it down before it breaks, and look whether it is this string',
    ]);
  });
  it('a capo pulls thick strings more, and least right behind the wire (common practice, no source)', () => {
    expect(capoPull(0, 6, 1)).toBe(0);
    expect(capoPull(2, 6, 0.5)).toBeGreaterThan(capoPull(2, 1, 0.5));
    expect(capoPull(2, 6, 0)).toBeLessThan(capoPull(2, 6, 1));
  });
});
