import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { measureDifficulty } from '../../check';
import { bassClass, chordClasses, parseChord } from '../../chord';
import { startHistory } from '../../edit';
import { readAbc } from '../../formats/abc';
import { noteAt, placesOf } from '../../instrument';
import { mod12 } from '../../pitch';
import { faultOf } from '../../records';
import {
  type Arrangement,
  type ArrangeSettings,
  findNote,
  isStruck,
  LEVELS,
  noteMidi,
  playedMelody,
  STYLES,
  soundingAt,
} from '../../score';
import { committeeTunes } from '../../testing/committee';
import { edit } from '../../testing/edits';
import { faultsOf } from '../../testing/findings';
import { anySettings } from '../../testing/settings';
import { cases, oneIn } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { pulseTicks, TICKS_PER_QUARTER, ticksToSeconds } from '../../time';
import { ringFactor } from '../../track';
import { melodyNotes, type Tune } from '../../tune';
import { type ArrangeRequest, arrange } from '../index';

const make = (tune: Tune, request: Partial<ArrangeRequest> = {}): Arrangement => {
  const result = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0, ...request });
  if (result.problem) throw new Error(result.problem.message);
  return result.arrangement;
};
const tuneOf = (key: string, body: string, meter = '4/4') =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nQ:1/4=100\nK:${key}\n${body}\n`)[0]!.tune;
const WALTZ = tuneOf('C', '"C"e2c|"G7"d2B|"C"c2e|"F"f2e|"C"g2e|"G7"f2d|"C"c3|c3|]', '3/4');
const REEL = tuneOf('C', '"C"cegc|"F"fcAF|"G7"GBdf|"C"ecGE|"Am"ceae|"Dm"fdAd|"G"gdBG|"C"c4|]');
const basses = (a: Arrangement) =>
  a.measures.map(m =>
    m.notes
      .filter(n => n.role === 'bass')
      .map(n => ({
        start: n.start,
        string: n.string,
        class: mod12(noteAt(a.setup, n.string, n.fret) - a.setup.capo),
        midi: noteAt(a.setup, n.string, n.fret),
      })),
  );

describe('every level, bass, density and school', () => {
  it.each(['guitar', 'mandolin'] as const)(
    'keeps the melody, fits the hand, leaves nothing to find, and is always the same (%s)',
    instrument => {
      const range = instrument === 'guitar' ? { low: -7, high: 10 } : { low: -2, high: 12 };
      fc.assert(
        fc.property(
          tunes(range),
          fc.constantFrom(...STYLES.filter(s => s !== 'pattern')),
          anySettings,
          (generated, style, settings) => {
            const { tune } = readAbc(generated.abc)[0]!;
            const request: ArrangeRequest = { id: 'x', instrument, style, capo: 0, settings };
            const result = arrange(tune, request);
            if (result.problem) return;
            const { arrangement } = result;
            expect(faultsOf(arrangement, tune)).toEqual([]);
            expect(
              playedMelody(arrangement).map(
                n => noteAt(arrangement.setup, n.string, n.fret) - arrangement.octaveShift,
              ),
            ).toEqual(melodyNotes(tune).map(n => n.midi));
            for (const measure of arrangement.measures)
              for (const note of measure.notes) expect(note.pluck !== undefined).toBe(isStruck(note));
            if (generated.melody.length % 5 === 0) expect(arrange(tune, request)).toEqual(result);
          },
        ),
        { numRuns: cases(20) },
      );
    },
  );
  it('a level is never harder than the next one in the same measure, and is part of it', () => {
    fc.assert(
      fc.property(
        tunes({ low: -7, high: 10 }),
        fc.constantFrom('fingerstyle', 'chord-melody'),
        anySettings,
        (generated, style, settings) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const levels = LEVELS.map(level =>
            arrange(tune, {
              id: 'x',
              instrument: 'guitar',
              style: style as 'fingerstyle',
              capo: 0,
              settings: { ...settings, level },
            }),
          );
          if (levels.some(l => l.problem)) return;
          for (let level = 1; level < levels.length; level++) {
            const [easy, full] = [levels[level - 1]!.arrangement!, levels[level]!.arrangement!];
            for (const index of easy.measures.keys()) {
              expect(measureDifficulty(easy, index).total).toBeLessThanOrEqual(
                measureDifficulty(full, index).total + 1e-9,
              );
              for (const note of easy.measures[index]!.notes)
                expect(
                  full.measures[index]!.notes.some(
                    n => n.start === note.start && n.string === note.string && n.fret === note.fret,
                  ),
                ).toBe(true);
            }
          }
        },
      ),
      { numRuns: cases(10) },
    );
  });
});

describe('levels', () => {
  it('3 keeps no beat where the bass runs at 4, of which it is part', () => {
    const { tune } = readAbc(
      'X:1\nT:Runs\nM:5/4\nL:1/8\nQ:1/4=85\nK:Ebm\n"Bm"(dA)F2"F"zG4c|"D"z2z2=A/B/z(3Adfz2|"Gsus4"f4d2 zB2"F"z|"Csus4"d2 c z2z2=A/B/zB|]\n',
    )[0]!;
    const at = (level: 3 | 4) =>
      make(tune, { capo: 0, settings: { level, bass: 'pattern', bassTurns: true, patternRestarts: true } })
        .measures[2]!.notes;
    const [fuller, full] = [at(3), at(4)];
    const runs = full.filter(note =>
      fuller.every(own => own.start !== note.start || own.string !== note.string),
    );
    expect(runs.map(({ role }) => role)).toContain('bass');
    for (const { start, string, fret } of fuller)
      expect(full.some(own => own.start === start && own.string === string && own.fret === fret)).toBe(true);
  });
  it('3 rolls no string of a grip where the bass runs at 4', () => {
    const { tune } = readAbc(
      'X:1\nT:Runs\nM:4/4\nL:1/8\nQ:1/4=87\nK:BMix\nE,2(3G,A,CA,4|z8|D4A,z2z|E,3(3D,G,D,D,/F,/G,/E,/G,/B,/|(DG)B2e4|Bz2zF3F|F2-F4(Ac)|(ef)f2f4|]\n',
    )[0]!;
    const at = (level: 3 | 4) => {
      const { arrangement } = arrange(tune, {
        id: 'x',
        instrument: 'guitar',
        style: 'chord-melody',
        capo: 0,
        settings: {
          level,
          bass: 'walking',
          doubling: 'grips',
          school: 'pick-fingers',
          ringing: true,
          high: true,
        },
      });
      return arrangement!.measures.map(measure =>
        measure.notes.map(note => `${note.start} ${note.string}/${note.fret}`),
      );
    };
    const full = at(4);
    for (const [index, notes] of at(3).entries())
      expect(notes.filter(note => !full[index]!.includes(note))).toEqual([]);
  });
  it('1 melody alone, 2 with one bass a chord, 3 on the beats, 4 with fills', () => {
    const [one, two, three, four] = LEVELS.map(level => make(REEL, { settings: { level } }));
    expect(one!.measures.every(m => m.notes.every(n => n.role === 'melody'))).toBe(true);
    expect(basses(two!).map(m => m.length)).toEqual(REEL.measures.map(() => 1));
    expect(basses(three!)[0]!.length).toBeGreaterThan(2);
    expect(four!.measures.some(m => m.notes.some(n => n.role === 'inner'))).toBe(true);
    // At level 3 only a long melody note and the last chord are filled.
    for (const measure of three!.measures.slice(0, -1))
      for (const inner of measure.notes.filter(n => n.role === 'inner')) {
        const over = soundingAt(measure, inner.start).find(n => n.role === 'melody');
        expect(over!.ticks).toBeGreaterThanOrEqual(2 * pulseTicks(measure.meter));
      }
  });
  it('long notes are filled from the shape that is down, and the last chord is full (common practice)', () => {
    const { tune } = readAbc('X:1\nT:L\nM:4/4\nL:1/4\nQ:1/4=80\nK:C\n"C"e4|"G"d2 B2|"C"c4|]\n')[0]!;
    const [, two, three] = LEVELS.map(level => make(tune, { settings: { level } }));
    const inner = (a: Arrangement) => a.measures.map(m => m.notes.filter(n => n.role === 'inner').length);
    expect(inner(two!)).toEqual([0, 0, 0]);
    expect(Math.min(...inner(three!))).toBeGreaterThan(0);
    const last = three!.measures[2]!;
    const struck = last.notes.filter(n => n.start === 0);
    expect(struck.length).toBeGreaterThanOrEqual(3);
    const classes = chordClasses(parseChord('C')!);
    for (const note of struck) expect(classes).toContain(mod12(noteMidi(three!.setup, note)));
    expect(mod12(Math.min(...struck.map(n => noteMidi(three!.setup, n))))).toBe(0);
  });
  it('fills are notes of the chord between melody and bass', () => {
    const full = make(WALTZ, { settings: { level: 4 } });
    for (const measure of full.measures) {
      const classes = chordClasses(parseChord(measure.chords[0]?.shape ?? 'C')!);
      for (const note of measure.notes.filter(n => n.role === 'inner'))
        expect(classes).toContain(mod12(noteAt(full.setup, note.string, note.fret)));
    }
  });
  it('nothing is filled under the last note, which rings over the barline', () => {
    const { tune } = readAbc(
      'X:1\nT:L\nM:3/4\nL:1/4\nQ:1/4=76\nK:Am\n"Am"e3|"Dm"f2 e|"E7"e2 ^g|"Am"a3-|a3|]\n',
    )[0]!;
    const { measures } = make(tune, { settings: { level: 4 } });
    const struckLater = (index: number) => measures[index]!.notes.filter(n => n.start > 0 && !n.tie);
    expect(struckLater(0).length).toBeGreaterThan(0);
    for (const index of [3, 4]) expect(struckLater(index)).toEqual([]);
  });
  it('the first fill tells which chord it is: its third, where none has sounded, if it is not muddy', () => {
    const { setup, measures } = make(tuneOf('C', '"C"g4|"G7"d4|"C"c4|]'), { settings: { level: 3 } });
    const fills = measures.map(m => m.notes.filter(n => n.role === 'inner').map(n => noteMidi(setup, n)));
    // Over C, with G above it, E3. G7's B lies under its D only below D3: there it does not come first.
    expect(fills[0]![0]).toBe(52);
    expect(fills[1]!.length).toBeGreaterThan(0);
    expect(fills[1]![0]).not.toBe(47);
  });
  it('no fill lies low down less than a fifth over the bass where another has room (common practice)', () => {
    const { tune } = readAbc(
      'X:1\nT:L\nR:march\nM:4/4\nL:1/4\nQ:1/4=100\nK:G\n"G"G3/2A/ c/B/A|"G"Bdgf/e/|dB "C"AG|"G"G3 D|"G"G4|]\n',
    )[0]!;
    const { setup, measures } = make(tune, { settings: { level: 3 } });
    const fills = measures[3]!.notes.filter(n => n.role === 'inner');
    // Over G2, B2 blurs where D3 is free.
    expect(fills.length).toBeGreaterThan(1);
    for (const fill of fills) expect(noteMidi(setup, fill)).toBeGreaterThanOrEqual(50);
  });
  it('nothing comes between the eighths where they are counted, nor off the beat where that is no time', () => {
    const played = (meter: string, tempo: string, body: string) => {
      const { tune } = readAbc(`X:1\nT:Odd\nM:${meter}\nL:1/8\nQ:${tempo}\nK:Dm\n${body}\n`)[0]!;
      return make(tune, { settings: { level: 4, bass: 'strong' } }).measures.slice(0, -1);
    };
    const odd = [
      ...played('7/8', '1/8=300', '"Dm"d2 A2 d2 e|"Dm"f2 e2 d2 A|"A7"A2 ^c2 e2 c|"Dm"d7|]'),
      ...played('5/8', '1/8=140', '"Dm"d2 A2 d|"Dm"f4 e|"A7"A2 ^c2 e|"Dm"d5|]'),
    ].flatMap(({ notes }) => notes);
    expect(odd.some(({ role }) => role === 'inner')).toBe(true);
    for (const { start } of odd) expect(start % (TICKS_PER_QUARTER / 2)).toBe(0);
    const [slow, fast] = ['1/4=100', '1/4=220'].map(tempo =>
      played('4/4', tempo, '"Dm"d4 f4|"Dm"a4 d4|"A7"e4 c4|"Dm"d8|]').flatMap(({ notes }) =>
        notes.filter(({ role }) => role === 'inner'),
      ),
    );
    expect(slow!.length).toBeGreaterThan(2);
    expect(fast).toEqual([]);
  });
  it('no fill lies on a string of the thumb beside a bass that it strikes at once before or after', () => {
    let fast = 0;
    for (const tune of committeeTunes().filter(({ rhythm }) => rhythm === 'jig' || rhythm === 'slip jig')) {
      const { measures } = make(tune, { settings: { level: 4 }, capo: 'auto' });
      for (const { notes } of measures)
        for (const fill of notes.filter(n => n.role === 'inner')) {
          const near = notes.filter(
            n =>
              n.role === 'bass' &&
              ticksToSeconds(Math.abs(n.start - fill.start), tune.quartersPerMinute) < 0.2 &&
              n.start !== fill.start,
          );
          if (!near.length) continue;
          fast += 1;
          expect(fill.string, tune.title).toBeLessThan(5);
        }
    }
    expect(fast).toBeGreaterThan(10);
  });
});

describe('no measure harder than a pupil manages', () => {
  const total = (a: Arrangement, index: number) => measureDifficulty(a, index).total;
  it('plays each measure at the highest level that is no harder, and says what it left out', () => {
    fc.assert(
      fc.property(
        tunes({ low: -7, high: 10 }),
        fc.constantFrom('fingerstyle', 'chord-melody'),
        fc.integer({ min: 20, max: 120 }).map(tenths => tenths / 10),
        (generated, style, hardest) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const at = (settings: Partial<ArrangeSettings>) =>
            arrange(tune, {
              id: 'x',
              instrument: 'guitar',
              style: style as 'fingerstyle',
              capo: 0,
              settings,
            });
          const levels = LEVELS.map(level => at({ level }).arrangement);
          const fitted = at({ level: 4, hardest }).arrangement;
          if (!fitted || levels.some(level => !level)) return;
          for (const [index, measure] of fitted.measures.entries()) {
            const possible = levels.filter(level => total(level!, index) <= hardest);
            const wanted = possible.at(-1) ?? levels[0]!;
            const notes = (m: typeof measure) =>
              m.notes.map(n => [n.start, n.string, n.fret, n.finger, n.graces?.length]);
            expect(notes(measure)).toEqual(notes(wanted.measures[index]!));
            const told = fitted.ledger
              .filter(line => line.measures.includes(measure.id))
              .map(line => line.text);
            expect(told.some(text => text.includes('even as the melody alone'))).toBe(!possible.length);
            expect(told.some(text => text.startsWith('only as level'))).toBe(
              possible.length > 0 && wanted !== levels.at(-1),
            );
          }
        },
      ),
      { numRuns: cases(8) },
    );
  });
  it('counts what is struck again where the melody leaves a pattern no string', () => {
    const low = readAbc(
      'X:1\nT:Low\nR:waltz\nM:3/4\nL:1/8\nQ:1/4=85\nK:C\n"D"A3AA/A/B|"Csus4"f4 f/f/d/B/|"Csus4"f4 f2|]\n',
    )[0]!.tune;
    const full = make(low, { settings: { level: 3 } });
    expect(full.ledger.some(line => line.text.includes('the bass keeps the beat'))).toBe(true);
    const hardest = total(full, 0) - 0.01;
    expect(total(make(low, { settings: { level: 3, hardest } }), 0)).toBeLessThanOrEqual(hardest);
  });
  it('counts the tempo that it is made for', () => {
    const at = (quartersPerMinute: number) =>
      make(REEL, { quartersPerMinute, settings: { level: 4, hardest: 5 } }).measures.flatMap(m => m.notes)
        .length;
    expect(at(60)).toBeGreaterThan(at(160));
    expect(make(REEL, { quartersPerMinute: 60 }).quartersPerMinute).toBe(60);
  });
});

describe('bass schools (common practice)', () => {
  const roots = REEL.measures.map(m => bassClass(parseChord(m.chords[0]!.symbol)!));
  /** The basses of all measures but the last, where the thumb comes to rest. */
  const going = (bass: NonNullable<ArrangeSettings['bass']>) =>
    basses(make(REEL, { settings: { bass } })).slice(0, -1);
  it.each(['steady', 'alternating', 'strong', 'walking'] as const)(
    '%s: strikes nothing under the last note but its chord',
    bass => {
      const last = basses(make(REEL, { settings: { bass } })).at(-1)!;
      const { start } = REEL.measures.at(-1)!.events.at(-1)!;
      expect(last.filter(n => n.start > start)).toEqual([]);
      expect(last[0]!.class).toBe(roots.at(-1));
    },
  );
  it('goes on where the tune goes back', () => {
    const again = {
      ...REEL,
      measures: REEL.measures.map((m, i) => (i === REEL.measures.length - 1 ? { ...m, repeatEnd: true } : m)),
    };
    const beats = basses(make(again, { settings: { bass: 'steady' } }))
      .at(-1)!
      .map(n => n.start / pulseTicks(REEL.meter));
    expect(beats).toEqual([0, 1, 2, 3]);
  });
  it('steady: the root on each beat', () => {
    for (const [i, measure] of going('steady').entries()) {
      expect(measure.map(n => n.start / pulseTicks(REEL.meter))).toEqual([0, 1, 2, 3]);
      expect(measure.every(n => n.class === roots[i])).toBe(true);
    }
  });
  it('alternating: the root, then fifth or third, in turn', () => {
    for (const [i, measure] of going('alternating').entries()) {
      expect(measure[0]!.class).toBe(roots[i]);
      expect(measure.filter((_, beat) => beat % 2 === 1).some(n => n.class !== roots[i])).toBe(true);
    }
  });
  it('alternation under C, G, Am, D, E and F uses two or three bass strings, root strings first', () => {
    const rootStrings = {
      C: [5, 'E'],
      G: [6, 'G'],
      Am: [5, 'E'],
      D: [4, 'D'],
      E: [6, 'E'],
      F: [4, 'F'],
    } as const;
    for (const [symbol, [string, melody]] of Object.entries(rootStrings)) {
      const held = tuneOf('C', `"${symbol}"${melody}4|${melody}4|]`);
      const [measure] = basses(make(held, { settings: { bass: 'alternating' } }));
      const used = new Set(measure!.map(n => n.string));
      expect(measure![0]!.class, symbol).toBe(bassClass(parseChord(symbol)!));
      if (symbol !== 'F') expect(measure![0]!.string, symbol).toBe(string);
      expect(used.size, symbol).toBeGreaterThanOrEqual(2);
      expect(
        [...used].every(s => s >= 4),
        symbol,
      ).toBe(true);
    }
  });
  it('strong: roots on strong beats only', () => {
    for (const measure of going('strong'))
      expect(measure.map(n => n.start / pulseTicks(REEL.meter))).toEqual([0, 2]);
  });
  it('walking: steps into the next chord', () => {
    const line = basses(make(REEL, { settings: { bass: 'walking' } }));
    let stepped = 0;
    for (const [i, measure] of line.slice(0, -1).entries()) {
      expect(measure[0]!.class).toBe(roots[i]);
      const lead = Math.abs(measure.at(-1)!.midi - line[i + 1]![0]!.midi) % 12;
      if (lead <= 2 || lead >= 10) stepped += 1;
    }
    expect(stepped).toBeGreaterThanOrEqual(5);
  });
  it('drone: one open string of the key all through', () => {
    const used = new Set(
      basses(make(tuneOf('D', '"D"dfaf|"G"gbgd|"A"aeca|"D"d4|]'), { settings: { bass: 'drone' } }))
        .flat()
        .map(n => n.class),
    );
    expect([...used].every(pc => pc === 2 || pc === 9)).toBe(true);
  });
  it('none: melody only', () =>
    expect(basses(make(REEL, { settings: { bass: 'none' } })).flat()).toEqual([]));
});

describe('levels for beginners (common practice)', () => {
  it('level 2 has a bass under every first beat and change, whether the symbol is written again or not', () => {
    const once = tuneOf('C', '"C"cegc|cege|"G7"dfgB|"C"cedc|c4|]');
    const a = make(once, { settings: { level: 2 } });
    for (const measure of a.measures)
      expect(measure.notes.filter(n => n.role === 'bass' && n.start === 0)).toHaveLength(1);
    // One low note a measure and no more, as the chords change.
    expect(a.measures.flatMap(m => m.notes.filter(n => n.role !== 'melody'))).toHaveLength(5);
  });
  const made = new Map<number, { title: string; arrangement: Arrangement }[]>();
  /** Traditional tunes at a level, made once for all that is asked of them. */
  const traditional = (level: 1 | 2 | 3) => {
    const known = made.get(level);
    if (known) return known;
    const own = oneIn(5, committeeTunes()).map(tune => ({
      title: tune.title,
      arrangement: make(tune, { capo: 'auto', settings: { level } }),
    }));
    made.set(level, own);
    return own;
  };
  it('levels 1 and 2 of traditional tunes lie in first position, with a capo at the third fret at most', () => {
    const frets = (level: 1 | 2 | 3) =>
      traditional(level).flatMap(({ arrangement }) =>
        arrangement.measures.flatMap(m => m.notes.map(n => n.fret)),
      );
    const beyond = (level: 1 | 2 | 3) => frets(level).filter(fret => fret > 4).length / frets(level).length;
    for (const level of [1, 2] as const) {
      for (const { title, arrangement } of traditional(level))
        expect(arrangement.setup.capo, title).toBeLessThanOrEqual(3);
      expect(Math.max(...frets(level)), `level ${level}`).toBeLessThanOrEqual(7);
      expect(beyond(level)).toBeLessThan(0.03);
    }
    expect(beyond(3)).toBeGreaterThan(beyond(2));
  }, 60_000);
  it('at levels 1 and 2 no note is looked for up the neck that lies in first position, too', () => {
    for (const level of [1, 2] as const)
      for (const { title, arrangement } of traditional(level)) {
        const { setup, measures } = arrangement;
        const astray = measures.flatMap(m =>
          m.notes.filter(({ start, string, fret }) => {
            const alone = m.notes.every(n => n.start !== start || n.string === string);
            const low = placesOf(setup, noteAt(setup, string, fret)).some(place => place.fret <= 4);
            return fret > 4 && alone && low;
          }),
        );
        expect(
          astray.map(n => `${n.string}/${n.fret}`),
          `${title}, level ${level}`,
        ).toEqual([]);
      }
  }, 60_000);
  it('a last note on the lowest root there is stands alone: nothing else would leave its chord upright', () => {
    // Camptown Races in D, an octave down: it ends on the open fourth string.
    const races = committeeTunes().find(tune => tune.title === 'Camptown Races')!;
    const a = make(races, { capo: 'auto', settings: { level: 2 } });
    expect(a.measures.at(-1)!.notes.map(n => noteMidi(a.setup, n))).toEqual([50]);
  });
  it('with a given capo all levels share one plan and the same hands', () => {
    const high = tuneOf('Eb', '"Eb"gbge|"Ab"aeca|"Bb"bfdf|"Eb"e4|]');
    const given = ([1, 2, 3] as const).map(level =>
      playedMelody(make(high, { capo: 1, settings: { level } })).map(n => [n.string, n.fret, n.finger]),
    );
    expect(given[0]).toEqual(given[2]);
    expect(given[1]).toEqual(given[2]);
  });
});

it('an easy arrangement that is made fuller keeps its octave and its melody where the hand has learned it', () => {
  // All the Pretty Little Horses, from memory: in first position an octave down, over basses one would play it high.
  const tune = tuneOf(
    'Em',
    '"Em"E2EF|"Am"GA"B7"B2|"Em"edBA|"B7"B4|"Em"BedB|"Am"AG"B7"FA|"Em"G2"B7"F2|"Em"E4|]',
  );
  const easy = make(tune, { capo: 'auto', settings: { level: 1 } });
  expect(easy.octaveShift).toBe(-12);
  expect(make(tune, { capo: 'auto' }).octaveShift).toBe(0);
  const fuller = make(tune, {
    capo: easy.setup.capo,
    settings: { level: 3 },
    keep: { present: easy },
  });
  expect(fuller.octaveShift).toBe(-12);
  const pitches = (a: Arrangement) => playedMelody(a).map(n => noteMidi(a.setup, n));
  expect(pitches(fuller)).toEqual(pitches(easy));
});

describe('a ringing melody', () => {
  it('lies across strings so that notes ring into each other longer than in a plain one', () => {
    // Melodies by step: those of broken chords ring in one position anyway.
    for (const body of [
      '"G"GABc|"D"dBAF|"G"GBdg|"D"fdAF|"G"GABG|"C"cBAG|"D"FGAF|"G"G4|]',
      '"G"DEFG|"G"ABcd|"D"dcBA|"G"GFED|"C"EFGA|"G"BAGF|"D"EFGA|"G"G4|]',
    ]) {
      const tune = tuneOf('G', body);
      const plain = make(tune, { style: 'melody' });
      const ringing = make(tune, { style: 'melody', settings: { ringing: true } });
      expect(ringFactor(ringing)).toBeGreaterThan(ringFactor(plain));
      const sameString = (a: Arrangement) => {
        const line = playedMelody(a);
        return line.slice(1).filter((n, i) => n.string === line[i]!.string).length;
      };
      expect(sameString(ringing)).toBeLessThan(sameString(plain));
      expect(faultsOf(ringing, tune)).toEqual([]);
    }
  });
});

describe('a melody up the neck', () => {
  it('lies higher than it does by itself, as far as its strings allow', () => {
    const tune = tuneOf('G', '"G"GABc|"D"dBAF|"G"GBdg|"D"fdAF|"G"GABG|"C"cBAG|"D"FGAF|"G"G4|]');
    const mean = (a: Arrangement) => {
      const frets = playedMelody(a).map(n => n.fret);
      return frets.reduce((sum, fret) => sum + fret, 0) / frets.length;
    };
    for (const style of ['melody', 'fingerstyle'] as const) {
      const [low, high] = [false, true].map(up => make(tune, { style, settings: { high: up } }));
      expect(mean(high!), style).toBeGreaterThan(mean(low!) + 1);
      expect(faultsOf(high!, tune)).toEqual([]);
    }
  });
});

describe('making a part anew', () => {
  it('leaves other measures as they are, and keeps what is pinned', () => {
    fc.assert(
      fc.property(
        tunes({ low: -5, high: 10 }),
        fc.nat(20),
        fc.nat(3),
        anySettings,
        (generated, at, width, settings) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const present = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
          if (present.problem) return;
          const from = at % tune.measures.length;
          const to = Math.min(tune.measures.length - 1, from + width);
          const anew = tune.measures.slice(from, to + 1).map(m => m.id);
          const next = make(tune, { settings, keep: { present: present.arrangement, anew } });
          for (const index of present.arrangement.measures.keys()) {
            if (index >= from && index <= to) continue;
            const plain = (a: Arrangement) => a.measures[index]!.notes.map(({ pluck: _pluck, ...n }) => n);
            expect(plain(next)).toEqual(plain(present.arrangement));
          }
          expect(faultOf('arrangements', next)).toBeUndefined();
          expect(faultsOf(next, tune)).toEqual([]);
        },
      ),
      { numRuns: cases(12) },
    );
  });
  it('a note moved by hand stays on its string', () => {
    const present = make(REEL);
    const target = present.measures[0]!.notes.find(n => n.role === 'melody' && n.string === 1)!;
    const moved = edit(startHistory(present), 'string', target.id, { string: 2 });
    if ('error' in moved) throw new Error(moved.error);
    const next = make(REEL, { settings: { bass: 'steady' }, keep: { present: moved.present } });
    const same = next.measures[0]!.notes.find(n => n.start === target.start && n.role === 'melody')!;
    expect(same.string).toBe(2);
    expect(same.pinned).toBe(true);
    expect(findNote(next, same.id)).toBeDefined();
    expect(faultsOf(next, REEL)).toEqual([]);
  });
});
