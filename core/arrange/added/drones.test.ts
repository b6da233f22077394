import { describe, expect, it } from 'vitest';
import { planCapo } from '../../capo';
import { chordClasses, parseChord } from '../../chord';
import { readAbc } from '../../formats';
import { DEFAULT_HAND } from '../../hand';
import { isOpenTo, noteAt, openKeys, type Setup, standardSetup, tuningsOf, withCapo } from '../../instrument';
import { mod12, pitchClassOf } from '../../pitch';
import { type Arrangement, type ArrangeSettings, ledgerTexts, type Style, scoreChordAt } from '../../score';
import { committeeTunes } from '../../testing/committee';
import { faultsOf } from '../../testing/findings';
import { oneIn } from '../../testing/setup';
import type { Tune } from '../../tune';
import { arrange } from '../index';

const guitar = standardSetup('guitar');
const tuned = (name: string): Setup => ({
  ...guitar,
  tuning: tuningsOf('guitar').find(t => t.name === name)!.tuning,
});
const OPEN = ['Double drop D', 'D-A-D-G-A-D', 'Open D', 'Open G', 'Open C'];

function make(
  tune: Tune,
  setup: Setup,
  {
    capo = 'auto',
    style = 'fingerstyle',
    settings = {},
  }: { capo?: number | 'auto'; style?: Style; settings?: Partial<ArrangeSettings> } = {},
): Arrangement {
  const { arrangement, problem } = arrange(tune, {
    id: 'a',
    instrument: 'guitar',
    style,
    capo,
    setup,
    settings,
  });
  if (!arrangement) throw new Error(problem.message);
  return arrangement;
}

const tuneOf = (head: string, body: string) => readAbc(`X:1\nT:T\nL:1/4\n${head}\n${body}\n`)[0]!.tune;
const song = tuneOf('M:4/4\nQ:1/4=100\nR:song\nK:D', '"D"d4|"G"d2B2|"A7"A4|"D"d4|]');
const air = tuneOf(
  'M:4/4\nQ:1/4=66\nR:air\nK:D',
  '"D"d2 e f|"Bm"d2 B2|"G"B A G A|"D"d4|"D"f2 e d|"A"e2 c2|"G"B2 A G|"D"d4|]',
);

/** The keys that players use these tunings for: common practice, no source. */
describe('the keys that a tuning is open to', () => {
  it.each([
    ['Standard', []],
    ['Drop D', []],
    ['Double drop D', ['D', 'G']],
    ['D-A-D-G-A-D', ['D', 'G']],
    ['Open D', ['D']],
    ['Open G', ['G']],
    ['Open C', ['C']],
  ])('%s: %j', (name, keys) => {
    expect(openKeys(tuned(name))).toEqual(keys.map(pitchClassOf).sort((a, b) => a - b));
  });
  it('go up with a capo, and are there under a partial one', () => {
    expect(openKeys(withCapo(tuned('Open G'), 2))).toEqual([9]);
    // Strings 3 to 5 at the second fret: E B E A B E.
    expect(openKeys({ ...guitar, capo: 2, capoStrings: [3, 4, 5] })).toContain(pitchClassOf('E'));
  });
});

/** What is usual in open tunings: common practice, no source. */
describe('an open tuning is arranged as such', () => {
  it('is played in a key that it is open to, where a capo near the nut gives one', () => {
    const jig = committeeTunes().find(tune => tune.title === 'Morrison')!;
    const made = make(jig, tuned('D-A-D-G-A-D'));
    expect(made.setup.capo).toBe(2);
    expect(made.reasons.join(' ')).toContain('It is open to this key: strings 1, 2, 4, 5, 6');
    expect(make(jig, tuned('D-A-D-G-A-D'), { capo: 0 }).reasons.join(' ')).toContain(
      'It is open to D and G shapes, not to these',
    );
    // In standard tuning nothing of the kind is told.
    expect(make(jig, guitar).reasons.join(' ')).not.toContain('open to this key');
  });
  it('also where the melody lies higher there: nobody tunes open to play without drones', () => {
    const opens = (name: string, tune: Tune) => {
      const [best] = planCapo(tune, tuned(name), DEFAULT_HAND, 'auto', { overBass: true });
      return isOpenTo(best!.setup, pitchClassOf(best!.soundingKey.tonic));
    };
    const tunes = committeeTunes();
    for (const tune of tunes) expect(opens('D-A-D-G-A-D', tune), tune.title).toBe(true);
    for (const tune of tunes.filter(({ key }) => key.tonic === 'G'))
      expect(opens('Open G', tune), tune.title).toBe(true);
  });
  it('the thumb goes round on the open octaves', () => {
    const made = make(song, tuned('D-A-D-G-A-D'), { capo: 0 });
    const basses = made.measures[0]!.notes.filter(note => note.role === 'bass').sort(
      (a, b) => a.start - b.start,
    );
    expect(basses.map(({ string, fret }) => [string, fret])).toEqual([
      [6, 0],
      [4, 0],
      [5, 0],
      [4, 0],
    ]);
    expect(made.reasons.join(' ')).toContain('open octaves');
    // What a teacher asks for is what is played.
    const fifths = make(song, tuned('D-A-D-G-A-D'), {
      capo: 0,
      settings: { bass: 'alternating', alternation: 'fifth' },
    });
    expect(fifths.measures[0]!.notes.filter(n => n.role === 'bass').map(n => n.string)).not.toContain(4);
  });
  it('the open fifth of the key is no bass of a chord that has it not, the open tonic may be', () => {
    const settings = { bass: 'strong' } as const;
    let tonics = 0;
    for (const tune of oneIn(6, committeeTunes())) {
      const made = make(tune, tuned('D-A-D-G-A-D'), { settings });
      for (const [index, measure] of made.measures.entries())
        for (const chord of measure.chords) {
          const bass = measure.notes.find(n => n.role === 'bass' && n.start === chord.start);
          const parsed = parseChord(chord.sounding);
          if (!bass || !parsed) continue;
          const away = mod12(noteAt(made.setup, bass.string, bass.fret) - pitchClassOf(measure.key.tonic));
          if (chordClasses(parsed).includes(mod12(away + pitchClassOf(measure.key.tonic)))) continue;
          expect(away, `${tune.title}, measure ${index + 1}`).not.toBe(7);
          if (away === 0) tonics += 1;
        }
    }
    expect(tonics).toBeGreaterThan(0);
  });
  it('an open string rings with bass and melody on the first beat', () => {
    const made = make(song, tuned('D-A-D-G-A-D'), { capo: 0 });
    const first = made.measures[0]!.notes.filter(note => note.start === 0);
    expect(first.find(note => note.role === 'inner')).toMatchObject({ fret: 0, string: 2 });
    expect(make(song, guitar, { capo: 0 }).measures[0]!.notes.filter(n => n.start === 0)).toHaveLength(2);
  });
  it('a roll goes on over an open string where no finger has room for its own, and that is told', () => {
    const high = tuneOf('M:6/8\nL:1/8\nQ:3/8=50\nR:air\nK:Dm', '"Dm"f2 g a>ba|"C"g2 e c>de|"Dm"f2 d d3|]');
    const made = make(high, tuned('D-A-D-G-A-D'), { capo: 0 });
    const [first] = made.measures;
    expect(first!.notes.find(note => note.role === 'inner')).toMatchObject({ fret: 0 });
    expect(ledgerTexts(made).join(' ')).toContain('an open string drones in its place');
  });
  it('no open string comes by itself where they are switched off', () => {
    const setup = tuned('D-A-D-G-A-D');
    const settings = { bass: 'alternating', alternation: 'fifth', drones: false } as const;
    for (const tune of [song, air, ...oneIn(8, committeeTunes())]) {
      const made = make(tune, setup, { capo: 0, settings });
      for (const [m, measure] of made.measures.entries())
        for (const note of measure.notes) {
          const chord = note.role !== 'melody' && scoreChordAt(made, m, note.start);
          // What is played open belongs to the chord, or a bass steps over it into the next one.
          if (!chord || note.fret > 0 || (note.role === 'bass' && note.start > 0)) continue;
          const classes = chordClasses(parseChord(chord.sounding)!);
          expect(classes, `${tune.title}, measure ${m + 1}`).toContain(
            mod12(noteAt(made.setup, note.string, note.fret)),
          );
        }
    }
    const first = make(song, setup, { capo: 0, settings }).measures[0]!.notes.filter(n => n.start === 0);
    expect(first.filter(note => note.role === 'inner')).toEqual([]);
  });
  it('ends on its open strings rather than on a grip that tells the third', () => {
    const tune = committeeTunes().find(own => own.title === 'Greensleeves')!;
    const close = make(tune, tuned('D-A-D-G-A-D'), { capo: 2 }).measures.at(-1)!.notes;
    const last = Math.max(...close.filter(note => note.role === 'melody').map(note => note.start));
    const struck = close.filter(note => note.start === last);
    expect(struck.length).toBeGreaterThanOrEqual(3);
    for (const { fret } of struck) expect(fret).toBe(0);
  });
  it('a slow melody lies across the strings, no higher on the neck, unless it is asked not to', () => {
    const crossings = (made: Arrangement) => {
      const melody = made.measures.flatMap(m => m.notes.filter(n => n.role === 'melody'));
      return melody.filter((note, i) => i > 0 && melody[i - 1]!.string !== note.string).length;
    };
    const highest = (made: Arrangement) =>
      Math.max(...made.measures.flatMap(m => m.notes.filter(n => n.role === 'melody').map(n => n.fret)));
    const setup = tuned('D-A-D-G-A-D');
    const across = make(air, setup, { capo: 0 });
    const low = make(air, setup, { capo: 0, settings: { ringing: false } });
    expect(crossings(across)).toBeGreaterThan(crossings(low));
    expect(highest(across)).toBeLessThanOrEqual(highest(low) + 2);
    // In standard tuning leaving it open asks for nothing.
    const plain = (settings: Partial<ArrangeSettings>) => make(air, guitar, { capo: 0, settings }).measures;
    expect(plain({})).toEqual(plain({ ringing: false }));
  });
  it.each(OPEN)('%s: what drones never rubs against the chord, and all can be played', name => {
    let open = 0;
    for (const tune of oneIn(9, committeeTunes())) {
      const made = make(tune, tuned(name));
      expect(faultsOf(made, tune), tune.title).toEqual([]);
      for (const [index, measure] of made.measures.entries())
        for (const note of measure.notes) {
          const chord = scoreChordAt(made, index, note.start);
          if (note.role !== 'inner' || note.fret || !chord) continue;
          open += 1;
          const classes = chordClasses(parseChord(chord.sounding)!);
          const own = mod12(noteAt(made.setup, note.string, 0));
          if (classes.includes(own)) continue;
          for (const other of classes) expect([1, 11]).not.toContain(mod12(own - other));
        }
    }
    expect(open).toBeGreaterThan(0);
  });
});

describe('an air that goes up the neck in D-A-D-G-A-D (common practice: melody on the thin strings, over the open ones)', () => {
  // Of the kind of an old air in mixolydian, D4 to D5; from memory.
  const high = tuneOf(
    'M:3/4\nQ:1/4=72\nR:air\nK:DMix',
    'A|"D"D2D/E/|"C"GAG/E/|"D"D2A|"D"d2c/A/|"C"GAc|"D"A2A/G/|"C"EGA|"D"A2A/c/|"D"d2c/A/|"C"GEG|"D"A2G/E/|"C"DEG|"G"GF/E/C|"D"D3|]',
  );
  const own = make(high, tuned('D-A-D-G-A-D'));
  it('is played in D without a capo: the hand is free, D drones without it', () => {
    expect(own.setup.capo).toBe(0);
    expect(own.octaveShift).toBe(0);
  });
  it('is rolled under from one open string to another, not on one alone', () => {
    const frets = own.measures.flatMap(measure => measure.notes.map(note => note.fret));
    expect(Math.max(...frets)).toBe(12);
    const strings = own.measures[4]!.notes.filter(note => note.role === 'inner')
      .sort((a, b) => a.start - b.start)
      .map(note => note.string);
    expect(strings.length).toBeGreaterThan(2);
    expect(strings.filter((string, i) => string === strings[i - 1])).toEqual([]);
  });
});
