import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../check';
import { bassClass, chordClasses, parseChord } from '../chord';
import { readAbc } from '../formats/abc';
import { noteAt, openNotes } from '../instrument';
import { mod12 } from '../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  explainNote,
  ledgerTexts,
  noteMidi,
  type ScoreNote,
  type Style,
} from '../score';
import { committeeTunes } from '../testing/committee';
import { faultsOf } from '../testing/findings';
import { oneIn } from '../testing/setup';
import { pulseTicks, TICKS_PER_QUARTER, ticksToSeconds } from '../time';
import type { Tune } from '../tune';
import { arrange } from './index';

const arranged = (
  body: string,
  head: string,
  style: Style,
  instrument: 'guitar' | 'mandolin' = 'guitar',
  capo: number | 'auto' = 0,
): Arrangement => {
  const { tune } = readAbc(`X:1\nT:T\n${head}\n${body}\n`)[0]!;
  const { arrangement } = arrange(tune, { id: 's', instrument, style, capo });
  return arrangement!;
};
const bassOf = (a: Arrangement, measure: number) =>
  a.measures[measure]!.notes.filter(n => n.role === 'bass').sort((x, y) => x.start - y.start);
const classOf = (a: Arrangement, n: ScoreNote) => mod12(noteAt(a.setup, n.string, n.fret));
const HIGH = 'M:4/4\nL:1/4\nK:C';

describe('fingerstyle on guitar (common practice)', () => {
  it('the melody stays in first position where its neighbours lie there', () => {
    // A minuet in G, from memory: its C comes between B on the open string and D at fret 3, and lies at fret 1.
    const body =
      '"G"D2G,A,B,C|"G"D2G,2G,2|"C"E2CDEF|"G"G2G,2G,2|"C"C2DCB,A,|"G"B,2CB,A,G,|"D"F,2G,A,B,G,|"D"A,6|]';
    const a = arranged(body, 'M:3/4\nL:1/8\nQ:1/4=112\nK:G', 'fingerstyle');
    const melody = a.measures.flatMap(m => m.notes.filter(n => n.role === 'melody'));
    const c = melody.filter(n => mod12(noteMidi(a.setup, n)) === 0);
    expect(c.length).toBeGreaterThan(4);
    for (const note of c) expect(`${note.string}/${note.fret}`).toBe('2/1');
  });
  it.each(['C', 'G', 'Am', 'D', 'E', 'F'])(
    'the thumb alternates under %s: root on 1 and 3, another chord note on 2 and 4',
    symbol => {
      const chord = parseChord(symbol)!;
      // A long melody note above, so that only the thumb moves.
      const top = { C: 'g4', G: 'g4', Am: 'e4', D: 'f4', E: 'e4', F: 'f4' }[symbol]!;
      const a = arranged(`"${symbol}"${symbol === 'D' ? '^f4|^f4' : `${top}|${top}`}|]`, HIGH, 'fingerstyle');
      const bass = bassOf(a, 0);
      expect(bass.map(n => n.start / TICKS_PER_QUARTER)).toEqual([0, 1, 2, 3]);
      const classes = bass.map(n => classOf(a, n));
      expect([classes[0], classes[2]]).toEqual([bassClass(chord), bassClass(chord)]);
      for (const other of [bass[1]!, bass[3]!]) {
        expect(chordClasses(chord)).toContain(classOf(a, other));
        expect(noteAt(a.setup, other.string, other.fret)).not.toBe(
          noteAt(a.setup, bass[0]!.string, bass[0]!.fret),
        );
      }
      expect(bass.every(n => n.pluck === 'p' && n.string >= 4)).toBe(true);
    },
  );
  it('a slash chord puts its bass under its start', () => {
    const a = arranged('"D/F#"a4|"G"g4|]', 'M:4/4\nL:1/4\nK:G', 'fingerstyle');
    expect(classOf(a, bassOf(a, 0)[0]!)).toBe(6);
  });
  it('the bass lands where the chord changes, also off the beat', () => {
    const a = arranged('"C"g3/2"G"g5/2|]', HIGH, 'fingerstyle');
    expect(bassOf(a, 0).map(n => n.start / TICKS_PER_QUARTER)).toContain(1.5);
  });
  it('a jig gets two bass notes a measure, a waltz one and its plucks', () => {
    expect(bassOf(arranged('"G"g3 b3|]', 'M:6/8\nL:1/8\nK:G', 'fingerstyle'), 0)).toHaveLength(2);
    const waltz = arranged('"G"g3|"G"g3|]', 'M:3/4\nL:1/4\nQ:1/4=120\nR:waltz\nK:G', 'fingerstyle');
    expect(bassOf(waltz, 0)).toHaveLength(1);
    expect(new Set(waltz.measures[0]!.notes.map(n => n.start)).size).toBe(3);
  });
  it('at the full level the bass runs by a real step into the next chord, not by one of another octave', () => {
    let runs = 0;
    for (const tune of oneIn(5, committeeTunes())) {
      const settings = { level: 4, bass: 'strong' } as const;
      const { arrangement } = arrange(tune, {
        id: 'r',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 'auto',
        settings,
      });
      const { measures, setup } = arrangement!;
      const basses = measures.flatMap(measure => measure.notes.filter(n => n.role === 'bass'));
      const changes = new Set(measures.flatMap(m => m.chords.map(chord => `${m.id} ${chord.start}`)));
      for (const [m, measure] of measures.entries())
        for (const run of measure.notes) {
          const end = run.start + run.ticks;
          const [where, at] = end < measure.ticks ? [measure, end] : [measures[m + 1], 0];
          const offBeat = (run.start + measure.offset) % pulseTicks(measure.meter) !== 0;
          if (!basses.includes(run) || !offBeat || !where || !changes.has(`${where.id} ${at}`)) continue;
          const next = where.notes.find(n => n.role === 'bass' && n.start === at);
          if (!next || changes.has(`${measure.id} ${run.start}`)) continue;
          runs += 1;
          // The thumb strikes again with the chord: in a fast jig it would have a fifth of a second for that.
          expect(ticksToSeconds(run.ticks, tune.quartersPerMinute), tune.title).toBeGreaterThan(0.2);
          const step = noteMidi(setup, next) - noteMidi(setup, run);
          expect(Math.abs(step), `${tune.title}, measure ${m + 1}`).toBeLessThanOrEqual(2);
        }
    }
    expect(runs).toBeGreaterThan(30);
  });
  it('at the full level the bass of a texture runs, too, not that of a pattern that is typed; why is told', () => {
    const header = (kind: string, meter: string) => `R:${kind}\nM:${meter}\nL:1/4\nQ:1/4=84\nK:G`;
    const offBeat = (
      body: string,
      heading: string,
      settings: Partial<ArrangeSettings>,
      style: Style = 'fingerstyle',
    ): [Arrangement, ScoreNote[]] => {
      const { tune } = readAbc(`X:1\nT:T\n${heading}\n${body}\n`)[0]!;
      const asked = { id: 'r', instrument: 'guitar', style, capo: 0 } as const;
      const { arrangement } = arrange(tune, { ...asked, settings });
      const runs = arrangement!.measures.flatMap(({ notes, meter }) =>
        notes.filter(({ role, start }) => role === 'bass' && start % pulseTicks(meter) !== 0),
      );
      return [arrangement!, runs];
    };
    for (const [body, heading, pattern] of [
      ['"G"d2B|"Am"c2c|"G"d2B|"D7"A2d|"G"G3|]', header('waltz', '3/4'), 'B 2 3'],
      ['"G"d2"Am"c2|"G"B2"Am"c2|"D"A2"Em"B2|"C"c2"D"d2|"G"d4|]', header('hymn', '4/4'), 'B 2 3 2'],
    ] as const) {
      const [made, runs] = offBeat(body, heading, { level: 4 });
      expect(runs.length, heading).toBeGreaterThan(0);
      expect(explainNote(made, runs[0]!.id)).toMatch(
        /The bass runs into \S+: a step (below|above) its bass\./,
      );
      expect(offBeat(body, heading, { level: 3 })[1], heading).toEqual([]);
      expect(offBeat(body, heading, { level: 4, bass: 'pattern', pattern })[1], heading).toEqual([]);
      // A chord melody's thumb, too, and its grips roll as they do without.
      const [full, ran] = offBeat(body, heading, { level: 4 }, 'chord-melody');
      const [plain, none] = offBeat(body, heading, { level: 3 }, 'chord-melody');
      const into = (own: Arrangement) =>
        ran.filter(({ id }) => explainNote(own, id).includes('The bass runs into'));
      expect(into(full).length, heading).toBeGreaterThan(0);
      expect(none.filter(({ id }) => explainNote(plain, id).includes('runs into'))).toEqual([]);
      const inner = (own: Arrangement) =>
        own.measures.flatMap(m => m.notes.filter(n => n.role === 'inner')).length;
      expect(inner(full)).toBeGreaterThan(0.8 * inner(plain));
    }
  });
  it('a pickup before the first chord stays bare', () => {
    const a = arranged('d|"G"g3 g|"C"c4|]', 'M:4/4\nL:1/4\nK:G', 'fingerstyle');
    expect(a.measures[0]!.notes.every(n => n.role === 'melody')).toBe(true);
    expect(bassOf(a, 1).length).toBeGreaterThan(0);
  });
  it('a melody note held over the barline is tied, not struck again', () => {
    const a = arranged('"C"g4-|"F"g2 a2|]', HIGH, 'fingerstyle');
    const held = a.measures[1]!.notes.find(n => n.start === 0 && n.role === 'melody')!;
    const before = a.measures[0]!.notes.find(n => n.role === 'melody')!;
    expect(held.tie).toBe(before.id);
    expect(held).not.toHaveProperty('pluck');
    const first = a.measures[0]!.notes.find(n => n.role === 'melody')!;
    expect([held.string, held.fret, held.finger]).toEqual([first.string, first.fret, first.finger]);
  });
});

describe.each(['mandolin', 'octave-mandolin', 'mandola', 'tenor-guitar'] as const)(
  'fingerstyle on the four strings of a %s',
  instrument => {
    const request = { id: 'f', instrument, style: 'fingerstyle', capo: 0 } as const;
    it('is for fingers: the thumb has a bass of the chord under the melody, whatever strings lie between', () => {
      let changes = 0;
      let bare = 0;
      let skips = 0;
      for (const tune of oneIn(8, committeeTunes())) {
        const a = arrange(tune, request).arrangement!;
        expect(faultsOf(a, tune)).toEqual([]);
        for (const [m, measure] of a.measures.entries()) {
          for (const { start, sounding } of measure.chords) {
            const struck = measure.notes.filter(n => n.start === start);
            const bass = struck.find(n => n.role === 'bass');
            const melody = struck.find(n => n.role === 'melody');
            if (!melody) continue;
            changes += 1;
            if (!bass) bare += 1;
            else {
              expect([bass.pluck, bass.string >= 3], `${tune.title} ${m}`).toEqual(['p', true]);
              expect(noteMidi(a.setup, bass)).toBeLessThan(noteMidi(a.setup, melody));
              if (bass.string > melody.string + 1) skips += 1;
              if (sounding) expect(chordClasses(parseChord(sounding)!)).toContain(classOf(a, bass));
            }
          }
        }
      }
      expect(changes).toBeGreaterThan(80);
      expect(bare / changes).toBeLessThan(0.06);
      expect(skips).toBeGreaterThan(10);
    });
    it('has the texture of its kind, as a guitar has: a waltz is bass, pluck, pluck', () => {
      const { tune } = readAbc(
        'X:1\nT:T\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=120\nK:G\n"G"g3|"D"a3|"G"b3|"G"g3|]\n',
      )[0]!;
      const a = arrange(tune, request).arrangement!;
      expect(a.settings).toMatchObject({ school: 'by-string', bass: 'pattern', pattern: 'B (32) (32)' });
      expect(a.measures.flatMap(m => m.notes).filter(n => n.role === 'inner').length).toBeGreaterThan(3);
    });
  },
);

it.each(['guitar', 'tenor-guitar'] as const)(
  'a grip on a %s leaves a finger to a melody that has just been plucked, also where it rests',
  instrument => {
    // Each phrase begins with a sixteenth.
    const tune = committeeTunes().find(own => own.title === 'Clementine')!;
    const made = arrange(tune, { id: 't', instrument, style: 'chord-melody', capo: 'auto' });
    expect(checkArrangement(made.arrangement!).filter(({ kind }) => kind === 'pluck')).toEqual([]);
  },
);

describe('chord melody', () => {
  it.each(['mandolin', 'guitar'] as const)(
    'on %s the melody lies on top of a grip at each chord change, at most three notes below',
    instrument => {
      const a = arranged('"C"g2 e2|"G"d2 B2|"Am"c2"F"a2|"C"g4|]', HIGH, 'chord-melody', instrument);
      const open = openNotes(a.setup);
      let grips = 0;
      for (const measure of a.measures) {
        for (const chord of measure.chords) {
          const notes = measure.notes.filter(n => n.start === chord.start);
          const melody = notes.find(n => n.role === 'melody')!;
          const below = notes.filter(n => n.role !== 'melody');
          expect(below.length).toBeLessThanOrEqual(3);
          if (below.length) grips += 1;
          const strings = notes.map(n => n.string).sort((x, y) => x - y);
          // One stroke of a pick takes them: neighbouring strings only. Fingers may skip strings.
          if (instrument === 'mandolin') expect(strings).toEqual(strings.map((_, i) => strings[0]! + i));
          else expect(new Set(strings).size).toBe(strings.length);
          for (const n of below) {
            expect(open[n.string - 1]! + n.fret).toBeLessThan(open[melody.string - 1]! + melody.fret);
            expect(chordClasses(parseChord(chord.sounding)!)).toContain(classOf(a, n));
          }
        }
      }
      expect(grips).toBeGreaterThanOrEqual(4);
      // Common practice: a thumb has the root below where the tune begins and closes.
      if (instrument === 'guitar')
        for (const measure of [a.measures[0]!, a.measures.at(-1)!]) {
          const lowest = measure.notes.filter(n => n.start === 0).sort((x, y) => y.string - x.string)[0]!;
          expect([lowest.role, lowest.string >= 4, classOf(a, lowest)]).toEqual(['bass', true, 0]);
        }
    },
  );
  it('a mandolin is picked, all strings of a grip in one stroke', () => {
    const a = arranged('"G"gdBd gdBd|]', 'M:4/4\nL:1/8\nK:G', 'chord-melody', 'mandolin');
    for (const n of a.measures[0]!.notes)
      expect(n.pluck).toBe((n.start / (TICKS_PER_QUARTER / 2)) % 2 ? 'up' : 'down');
  });
});

describe('fingerstyle with a pick (common practice)', () => {
  const { tune } = readAbc(
    'X:1\nT:Reel\nM:4/4\nL:1/8\nQ:1/2=92\nR:reel\nK:A\n"A"A2AB c2Bc|"D"d2ef d2Bc|"A"A2AB cBAF|"G"=G2B2 =G2EF|"A"A4 A4|]\n',
  )[0]!;
  const { arrangement } = arrange(tune, {
    id: 'p',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { school: 'pick' },
  });
  const { measures } = arrangement!;
  it('an accent is a stroke through the shape, from its bass to the melody', () => {
    const strokes = [0, 1, 3].map(measure =>
      measures[measure]!.notes.filter(({ start }) => start === 0)
        .sort((a, b) => b.string - a.string)
        .map(({ string, fret }) => `${string}/${fret}`),
    );
    expect(strokes).toEqual([
      // Under A, D and G: x022.., xx023., 3200.. .
      ['5/0', '4/2', '3/2'],
      ['4/0', '3/2', '2/3'],
      ['6/3', '5/2', '4/0', '3/0'],
    ]);
  });
  it('off the accent the melody is alone in first position, rather than up the neck for a bass beside it', () => {
    const melody = measures.flatMap(({ notes }) => notes.filter(({ role }) => role === 'melody'));
    expect(Math.max(...melody.map(({ fret }) => fret))).toBeLessThanOrEqual(4);
    expect(faultsOf(arrangement!, tune)).toEqual([]);
  });
});

describe('a melody alone (common practice)', () => {
  it('lies in the open position, on a guitar an octave down where that brings it there; on a mandolin as it is written', () => {
    const lies = (instrument: 'guitar' | 'mandolin', tunes: readonly Tune[]) =>
      tunes.map(tune => {
        const { arrangement } = arrange(tune, { id: 'm', instrument, style: 'melody', capo: 'auto' });
        const { measures, octaveShift, setup } = arrangement!;
        return {
          octaveShift,
          capo: setup.capo,
          highest: Math.max(...measures.flatMap(m => m.notes.map(n => n.fret))),
        };
      });
    const guitar = lies('guitar', oneIn(4, committeeTunes()));
    expect(guitar.filter(({ highest }) => highest > 5).length / guitar.length).toBeLessThan(0.25);
    expect(guitar.filter(({ capo }) => capo > 0).length / guitar.length).toBeLessThan(0.2);
    expect(guitar.filter(({ octaveShift }) => octaveShift < 0).length / guitar.length).toBeGreaterThan(0.5);
    for (const { octaveShift, highest } of lies('mandolin', committeeTunes())) {
      expect(octaveShift).toBe(0);
      expect(highest).toBeLessThanOrEqual(7);
    }
  });
  it('on a mandolin has about two frets a finger: 1 and 2 for the index, 3 and 4 the middle, 5 and 6 the ring finger', () => {
    const fretted = committeeTunes().flatMap(tune => {
      const { arrangement } = arrange(tune, { id: 'm', instrument: 'mandolin', style: 'melody', capo: 0 });
      return arrangement!.measures.flatMap(m => m.notes.filter(note => note.fret > 0 && note.fret < 7));
    });
    const natural = fretted.filter(note => note.finger === Math.ceil(note.fret / 2));
    expect(natural.length / fretted.length).toBeGreaterThan(0.94);
  });
});

describe('up the neck', () => {
  it('is planned for: key, capo and octave put the melody about the eighth fret, and nothing is found wrong', () => {
    const frets: number[] = [];
    let opened = 0;
    for (const tune of oneIn(8, committeeTunes())) {
      const settings = { high: true };
      const { arrangement } = arrange(tune, {
        id: 's',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 'auto',
        settings,
      });
      expect(faultsOf(arrangement!, tune), tune.title).toEqual([]);
      for (const { role, fret } of arrangement!.measures.flatMap(m => m.notes))
        if (role === 'melody') {
          if (fret) frets.push(fret + arrangement!.setup.capo);
          else opened += 1;
        }
    }
    const mean = frets.reduce((sum, fret) => sum + fret, 0) / frets.length;
    expect(mean).toBeGreaterThan(5);
    expect(mean).toBeLessThan(9);
    expect(opened / (opened + frets.length)).toBeLessThan(0.25);
  });
});

it('up the neck over a high capo is higher than the melody lies there by itself, and no more on the thick strings', () => {
  let higher = 0;
  let all = 0;
  const thick = { low: 0, high: 0 };
  for (const tune of oneIn(4, committeeTunes())) {
    const asked = { id: 's', instrument: 'guitar', style: 'fingerstyle', capo: 5 } as const;
    const low = arrange(tune, asked).arrangement;
    const keep = low && { present: low };
    const high = keep && arrange(tune, { ...asked, keep, settings: { high: true } }).arrangement;
    if (!low || !high) continue;
    const melodyIn = ({ measures }: typeof low) =>
      measures.map(m => m.notes.filter(note => note.role === 'melody'));
    const mean = (own: { fret: number }[]) => own.reduce((sum, { fret }) => sum + fret, 0) / own.length;
    const before = melodyIn(low);
    thick.low += before.flat().filter(note => note.string > 3).length;
    thick.high += melodyIn(high)
      .flat()
      .filter(note => note.string > 3).length;
    for (const [index, own] of melodyIn(high).entries()) {
      if (!own.length) continue;
      all += 1;
      if (mean(own) >= mean(before[index]!) + 1) higher += 1;
    }
  }
  expect(higher / all).toBeGreaterThan(0.4);
  // Not one note in ten more than by itself.
  expect(thick.high).toBeLessThan(1.1 * thick.low);
});

describe('what the ledger and the names say', () => {
  it('chords that were suggested, an octave that was moved', () => {
    const bare = arranged('GBdB|g4|]', 'M:4/4\nL:1/4\nK:G', 'fingerstyle');
    expect(ledgerTexts(bare).join(' ')).toMatch(/no chords: these were suggested/);
    const high = arranged('"G"b\'4|g\'4|]', 'M:4/4\nL:1/4\nK:G', 'melody');
    expect(high.octaveShift).toBe(-12);
    expect(ledgerTexts(high).join(' ')).toMatch(/octave lower/);
    // A fourth up and an octave down are a fifth down.
    const song = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"GBdB|g2 "D"f2|"G"g4|]\n')[0]!.tune;
    const lower = arrange(song, {
      id: 'l',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
      transposition: 5,
    });
    expect(lower.arrangement!.octaveShift).toBe(-12);
    expect(ledgerTexts(lower.arrangement!)).toEqual([
      'The whole tune is moved 7 semitones down, from G major to C major.',
    ]);
    const first = lower.arrangement!.measures[0]!.notes.find(note => note.role === 'melody')!;
    expect(explainNote(lower.arrangement!, first.id)).toMatch(
      /^The melody, 7 semitones lower than the tune has it\./,
    );
  });
  it('the same capo names shape and sound: G shapes at capo 2 sound A', () => {
    const a = arranged('"A"a4|"D"f4|"E"e4|]', 'M:4/4\nL:1/4\nK:A', 'fingerstyle', 'guitar', 2);
    expect(a.measures.map(m => m.chords[0]).map(c => [c!.shape, c!.sounding])).toEqual([
      ['G', 'A'],
      ['C', 'D'],
      ['D', 'E'],
    ]);
    for (const measure of a.measures) {
      for (const chord of measure.chords) {
        const sounding = chord.frets!.flatMap((f, i) =>
          f === null ? [] : [mod12(openNotes(a.setup)[i]! + f)],
        );
        expect(sounding.every(pc => chordClasses(parseChord(chord.sounding)!).includes(pc))).toBe(true);
      }
    }
  });
  it('grace notes stay on the string of their note where it has room for them; out of reach they are left out and told', () => {
    const a = arranged("{a}g4|{c''}g4|]", HIGH, 'melody');
    const [near, far] = a.measures.map(m => m.notes[0]!);
    expect(near!.graces!.map(g => [g.string, g.fret])).toEqual([[near!.string, near!.fret + 2]]);
    expect(far).not.toHaveProperty('graces');
    expect(ledgerTexts(a).join(' ')).toMatch(/Measure 2: a grace note is left out/);
  });
});

describe('measures that the tune repeats', () => {
  it('are played alike wherever they come', () => {
    const a = arranged('"C"cdef|"G"gfed|"C"cdef|"G"gfed|"C"cdef|"G"g4|]', HIGH, 'fingerstyle');
    const content = (i: number) =>
      a.measures[i]!.notes.map(n => `${n.start} ${n.string}/${n.fret} ${n.finger ?? ''}`);
    expect(content(2)).toEqual(content(0));
    expect(content(4)).toEqual(content(0));
    expect(content(3)).toEqual(content(1));
  });
  it('lean on each other; one that comes once is as it is best beside what became of its neighbours', () => {
    const a = arranged('"C"cdef|"G"gfed|"C"cdef|"F"fagf|"C"cdef|"G"g4|]', HIGH, 'chord-melody');
    const leant = a.measures.map(m => m.notes.some(n => n.nextBest?.more.alike !== undefined));
    expect(leant).toEqual([true, false, true, false, true, false]);
  });
});
