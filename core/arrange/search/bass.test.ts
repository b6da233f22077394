import { describe, expect, it } from 'vitest';
import { bassClass, chordClasses, parseChord } from '../../chord';
import { readAbc } from '../../formats/abc';
import { noteAt } from '../../instrument';
import { mod12, scaleOf } from '../../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  explainNote,
  isStruck,
  ledgerTexts,
  scoreChordAt,
} from '../../score';
import { committeeTunes } from '../../testing/committee';
import { faultsOf } from '../../testing/findings';
import { oneIn } from '../../testing/setup';
import { isCompound, pulseTicks, TICKS_PER_QUARTER } from '../../time';
import type { Tune } from '../../tune';
import { arrange } from '../index';

const tuneOf = (key: string, body: string, meter = '4/4', tempo = 100): Tune =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nQ:1/4=${tempo}\nK:${key}\n${body}\n`)[0]!.tune;
const make = (tune: Tune, settings: Partial<ArrangeSettings> = {}): Arrangement => {
  const result = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0, settings });
  if (result.problem) throw new Error(result.problem.message);
  expect(faultsOf(result.arrangement, tune)).toEqual([]);
  return result.arrangement;
};
const bassOf = (a: Arrangement, measure: number) =>
  a.measures[measure]!.notes.filter(n => n.role === 'bass').sort((x, y) => x.start - y.start);
const classOf = (a: Arrangement, n: { string: number; fret: number }) =>
  mod12(noteAt(a.setup, n.string, n.fret));

describe('where the tune begins and closes, and where it lies too low for a bass (common practice)', () => {
  const chordsOf = (title: string, level: ArrangeSettings['level'], capo: number | 'auto') => {
    const tune = committeeTunes().find(own => own.title.startsWith(title))!;
    const request = { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo } as const;
    return arrange(tune, { ...request, settings: { level } }).arrangement!;
  };
  it('a root of the melody on string 4 is its own bass, rather than turned over on its fifth', () => {
    // Harvest Home in D goes down to D3; only the fifth on the open fifth string lies below.
    const { measures } = chordsOf('Harvest Home', 3, 0);
    const first = measures[1]!.notes.filter(n => n.start === 0);
    expect(first.map(n => `${n.string}/${n.fret}`)).toEqual(['4/0']);
  });
  it('where the root is out of reach on the accent it comes in turn, not the fifth', () => {
    // Under B flat and B at frets 6 and 7 C lies at fret 3 of the fifth string: in reach from the first of them only.
    const rag = readAbc(
      'X:1\nT:Rag\nM:2/4\nL:1/16\nQ:1/4=84\nK:C\n"C"eceg aeg2|"D7"d^fac\' "G7"bgfd|"C"eceg aeg2|"C7"b2g2 e2_b2|"F"a2f2 "Fm"_a2f2|"C"c8|]\n',
    )[0]!.tune;
    const a = make(rag, { bass: 'alternating' });
    const classes = bassOf(a, 3).map(note => classOf(a, note));
    expect(classes).toEqual([4, 0]);
  });
  it.each(['fingerstyle', 'chord-melody'] as const)(
    '%s: a tune that ends on its low root has the last chord over it, and no third under it',
    style => {
      // Down to D3 on the open fourth string, under which no D lies; up to A5, so that it can't go an octave higher.
      const low = tuneOf('D', '"D"a f d A|F D A, F,|"A"E, A, "D"D,2|]', '4/4', 120);
      const a = arrange(low, { id: 'x', instrument: 'guitar', capo: 0, style }).arrangement!;
      const last = a.measures.at(-1)!.notes.filter(n => n.start === 2 * TICKS_PER_QUARTER);
      expect(last.map(n => `${n.string}/${n.fret}`)).toEqual(['1/2', '2/3', '3/2', '4/0']);
      expect(explainNote(a, last[0]!.id)).toContain('over the melody, which is its bass');
    },
  );
  it.each(['fingerstyle', 'chord-melody'] as const)(
    '%s: a third that has no place under the last note rings over it a beat later, in a hymn and under a short one not',
    style => {
      const endOf = (last: string, rhythm?: string) => {
        const tune = tuneOf('D', `"D"F A d A|"A7"G E C E|${last}|]`, '4/4', 100);
        const asked = { id: 'x', instrument: 'guitar', capo: 0, style } as const;
        const a = arrange({ ...tune, ...(rhythm && { rhythm }) }, asked).arrangement!;
        return { a, notes: a.measures.at(-1)!.notes.filter(n => !n.tie) };
      };
      const { a, notes } = endOf('"D"D4');
      expect(notes.map(n => [n.start / TICKS_PER_QUARTER, n.string, n.fret])).toEqual([
        [0, 2, 3],
        [0, 3, 2],
        [0, 4, 0],
        [1, 1, 2],
      ]);
      expect(explainNote(a, notes.at(-1)!.id)).toContain('rings over the last note');
      // A hymn has its melody on top to the end; a quarter is over before a third could ring; E minor has its third.
      expect(endOf('"D"D4', 'hymn').notes.every(n => n.start === 0)).toBe(true);
      expect(endOf('"D"D2 F D').notes.every(n => n.string > 1 || n.role === 'melody')).toBe(true);
      expect(endOf('"Em"E4').notes.every(n => n.start === 0)).toBe(true);
    },
  );
  it('the third rings over a last chord also where the finger that it needs lay on one of its notes: A minor under A', () => {
    // "Scarborough Fair": its A on string 3 under C on string 2, fret 1, for the index.
    const fair = committeeTunes().find(({ title }) => title === 'Scarborough Fair')!;
    const a = arrange(fair, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' })
      .arrangement!;
    const last = a.measures.at(-1)!.notes.map(n => `${n.string}/${n.fret}@${n.start / TICKS_PER_QUARTER}`);
    expect(last).toEqual(['3/2@0', '4/2@0', '5/0@0', '2/1@1']);
  });
  it('the last chord lies where the hand is, also where it comes on a beat that takes turns: A x022, D xx023', () => {
    const lastOf = (title: string, capo: number) => {
      const { measures } = chordsOf(title, 3, capo);
      const notes = measures.at(-1)!.notes.filter(n => n.start > 0);
      return notes.map(n => `${n.string}/${n.fret}`).sort();
    };
    expect(lastOf('Pop Goes the Weasel', 3)).toEqual(['3/2', '4/2', '5/0']);
    expect(lastOf('Haste to the Wedding', 0)).toEqual(['2/3', '3/2', '4/0']);
  });
  it('the first and the last chord stand on their root in every tune, at every level with a bass', () => {
    for (const { title } of oneIn(5, committeeTunes()))
      for (const level of [2, 4] as const) {
        const a = chordsOf(title, level, 'auto');
        const chords = a.measures.flatMap((m, index) => m.chords.map(chord => ({ chord, index })));
        for (const { chord, index } of [chords[0]!, chords.at(-1)!]) {
          const struck = a.measures[index]!.notes.filter(n => n.start === chord.start);
          if (!struck.length) continue;
          const lowest = struck.reduce((low, n) =>
            noteAt(a.setup, n.string, n.fret) < noteAt(a.setup, low.string, low.fret) ? n : low,
          );
          const parsed = parseChord(chord.sounding)!;
          if (lowest.role === 'bass')
            expect(classOf(a, lowest), `${title} ${chord.sounding}`).toBe(bassClass(parsed));
        }
      }
  });
});

/** A long melody note on string 1 over each chord, so that only the thumb moves. */
const UNDER: [chord: string, top: string, root: string, fifth: string, third: string][] = [
  ['C', 'g4', 'C', 'G', 'E'],
  ['G', 'g4', 'G', 'D', 'B'],
  ['Am', 'e4', 'A', 'E', 'C'],
  ['D', '^f4', 'D', 'A', 'F#'],
  ['E', 'e4', 'E', 'B', 'G#'],
  ['F', 'f4', 'F', 'C', 'A'],
];
/** A measure that goes on: what closes a tune is chosen with its whole chord. */
const underChord = (chord: string, top: string) => tuneOf('C', `"${chord}"${top}|${top}|]`);
const PITCH: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, 'F#': 6, G: 7, 'G#': 8, A: 9, B: 11 };

describe('alternating bass (common practice)', () => {
  it.each(UNDER)('%s: the root on 1 and 3, the fifth on 2 and 4', (chord, top, root, fifth) => {
    const a = make(underChord(chord, top), { bass: 'alternating' });
    const classes = bassOf(a, 0).map(n => classOf(a, n));
    expect([classes[0], classes[2]]).toEqual([PITCH[root], PITCH[root]]);
    expect(classes[1]).toBe(PITCH[fifth]);
  });
  it.each(UNDER)('%s: the root and the third in turn, where asked for', (chord, top, root, _fifth, third) => {
    const a = make(underChord(chord, top), { bass: 'alternating', alternation: 'third' });
    const classes = bassOf(a, 0).map(n => classOf(a, n));
    expect([classes[0], classes[2]]).toEqual([PITCH[root], PITCH[root]]);
    expect([classes[1], classes[3]]).toEqual([PITCH[third], PITCH[third]]);
  });
  it.each([
    ['Am', 'e4', [5, 4, 6, 4], 2],
    ['C', 'g4', [5, 4, 6, 4], 2],
    ['E', 'e4', [6, 4, 5, 4], 2],
    ['E7', 'e4', [6, 4, 5, 4], 0],
    ['G', 'B4', [6, 4, 6, 4], 0],
    ['B7', '^f4', [5, 4, 6, 4], 1],
  ])('over three strings: %s goes round on what its shape has there', (chord, top, strings, fourth) => {
    const a = make(underChord(chord, top), { bass: 'alternating', alternation: 'three' });
    expect(bassOf(a, 0).map(n => n.string)).toEqual(strings);
    expect(bassOf(a, 0)[1]!.fret).toBe(fourth);
  });
  it('the root lies on its usual string: C 5, G 6, D 4, A 5, E 6, F 6 or 4', () => {
    for (const [chord, top] of UNDER) {
      const a = make(underChord(chord, top), { bass: 'strong' });
      const strings: Record<string, number[]> = { C: [5], G: [6], D: [4], Am: [5], E: [6], F: [6, 4] };
      expect(strings[chord], chord).toContain(bassOf(a, 0)[0]!.string);
    }
  });
  it('each meter has its own custom: 5/4 as three and two, 12/8 on four pulses', () => {
    const five = make(tuneOf('G', '"G"g5|g5|]', '5/4'));
    expect(bassOf(five, 0).map(n => [n.start / TICKS_PER_QUARTER, classOf(five, n) === 7])).toEqual([
      [0, true],
      [1, false],
      [2, false],
      [3, true],
      [4, false],
    ]);
    expect(bassOf(make(tuneOf('G', '"G"g6|g6|]', '12/8')), 0)).toHaveLength(4);
  });
});

describe('a running bass at the full level', () => {
  const TUNE = tuneOf('C', '"C"g4|"F"a4|"G"g4|"C"e4|]');
  it('steps into the next chord from a scale note, on another string than the bass that sounds', () => {
    const full = make(TUNE, { level: 4, bass: 'strong' });
    const plain = make(TUNE, { level: 3, bass: 'strong' });
    let runs = 0;
    for (const [index, measure] of full.measures.entries()) {
      const own = bassOf(full, index).filter(
        n => !bassOf(plain, index).some(p => p.start === n.start && p.string === n.string),
      );
      for (const run of own) {
        runs += 1;
        expect(run.start).toBe(measure.ticks - TICKS_PER_QUARTER / 2);
        expect(scaleOf(TUNE.key)).toContain(classOf(full, run));
        const goal = bassClass(parseChord(full.measures[index + 1]!.chords[0]!.sounding)!);
        const away = mod12(classOf(full, run) - goal);
        expect([1, 2, 10, 11]).toContain(away);
      }
    }
    expect(runs).toBeGreaterThan(0);
  });
});

describe('what stands in', () => {
  it('is told in the ledger: no bass where none lies under the hand, another note than the root', () => {
    const high = make(tuneOf('G', '"F#"^a\'4|"Ab"_e\'4|"B"^d\'4|]'));
    for (const line of ledgerTexts(high)) expect(line).not.toMatch(/undefined|NaN/);
    const told = ledgerTexts(high).join(' ');
    expect(told).toMatch(/Measures? 1\b.*nothing sounds with the melody where F♯ begins/);
    const stands = make(tuneOf('G', '"G"b\'4|"G"g4|]'));
    const [first] = bassOf(stands, 0);
    expect(classOf(stands, first!)).not.toBe(PITCH.G);
    expect(ledgerTexts(stands).join(' ')).toMatch(
      /Measure 1: D stands in for the bass G, which is out of reach there/,
    );
    for (const [index] of high.measures.entries()) {
      const chord = parseChord(high.measures[index]!.chords[0]!.sounding)!;
      const [first] = bassOf(high, index);
      const right = first && first.start === 0 && classOf(high, first) === bassClass(chord);
      if (!right) expect(told).toMatch(new RegExp(`Measures? [\\d, ]*\\b${index + 1}\\b`));
    }
  });
});

describe('a picking pattern under a melody', () => {
  const TUNE = tuneOf('C', '"C"g2e2|"Am"e2c2|"F"a2f2|"G"g4|]');
  const strokes = (a: Arrangement, measure: number) => {
    const { notes } = a.measures[measure]!;
    return [...new Set(notes.map(n => n.start))]
      .sort((x, y) => x - y)
      .map(start =>
        notes
          .filter(n => n.start === start && isStruck(n))
          .sort((x, y) => y.string - x.string)
          .map(n => (n.role === 'melody' ? 'm' : n.string))
          .join(''),
      )
      .join(' ');
  };
  it('gives the thumb its notes and fills below the melody, which keeps its place', () => {
    const a = make(TUNE, { bass: 'pattern', pattern: 'B 3 2 3 A 3 2 3' });
    expect(strokes(a, 0)).toMatch(/^5m 3 /);
    for (const measure of a.measures)
      for (const note of measure.notes.filter(n => n.role === 'inner')) {
        const melody = measure.notes.find(
          n => n.role === 'melody' && n.start <= note.start && note.start < n.start + n.ticks,
        );
        if (melody) expect(note.string).toBeGreaterThan(melody.string);
        expect(measure.notes.filter(n => n.start === note.start && n.string === note.string)).toHaveLength(1);
      }
    expect(a.measures.flatMap(m => m.notes).filter(n => n.role === 'inner').length).toBeGreaterThan(10);
  });
  it('lets a finger that the melody needs pluck the melody', () => {
    const a = make(TUNE, { bass: 'pattern', pattern: '(B1) 2 3 2' });
    // The pinch is bass and melody, not a third note with them; but the last chord is full.
    for (const measure of a.measures.slice(0, -1))
      expect(measure.notes.filter(n => n.start === 0)).toHaveLength(2);
  });
  it('is there from level 3 on; easier levels keep the hands', () => {
    const inner = (level: 1 | 2 | 3 | 4) =>
      make(TUNE, { bass: 'pattern', pattern: 'B 3 2 3 A 3 2 3', level })
        .measures.flatMap(m => m.notes)
        .filter(n => n.role === 'inner').length;
    expect([inner(1), inner(2)]).toEqual([0, 0]);
    expect(inner(3)).toBeGreaterThan(0);
  });
});

describe('a walking bass (common practice)', () => {
  // Sixteen tunes of two, three and four beats, each in its own key.
  const book = committeeTunes()
    .filter(tune => !isCompound(tune.measures[1]!.meter))
    .filter((_, index) => index % 3 === 0)
    .slice(0, 16);
  /** Each bass note between two others, with whether the chord has it and how far the others lie, over the whole book. */
  const line = book.flatMap(tune => {
    const a = make(tune, { bass: 'walking' });
    const notes = a.measures.flatMap((measure, m) =>
      measure.notes
        .filter(n => n.role === 'bass')
        .sort((x, y) => x.start - y.start)
        .map(n => {
          const chord = parseChord(scoreChordAt(a, m, n.start)?.sounding ?? '');
          const midi = noteAt(a.setup, n.string, n.fret);
          const pitchClass = mod12(midi);
          const inChord = chord !== undefined && chordClasses(chord).includes(pitchClass);
          return { midi, inChord, foreign: !inChord && !scaleOf(tune.key).includes(pitchClass) };
        }),
    );
    return notes.slice(1, -1).map(({ midi, inChord, foreign }, i) => ({
      inChord,
      foreign,
      to: Math.abs(notes[i + 2]!.midi - midi),
      from: Math.abs(midi - notes[i]!.midi),
    }));
  });
  const share = (of: typeof line, which: (note: (typeof line)[number]) => boolean) =>
    of.filter(which).length / of.length;

  it('never stands still for long', () => {
    expect(line.length).toBeGreaterThan(400);
    expect(share(line, n => n.from === 0)).toBeLessThan(0.005);
  });
  it('in two goes from a root to the fifth and back while a chord stays: a step and back is no walk', () => {
    const march = readAbc(
      'X:1\nT:T\nM:2/4\nL:1/4\nQ:1/4=100\nK:C\n"C"e2|g2|e2|e2|"G7"d2|f2|g2|d2|"C"e2|g2|"F"a2|"G7"g2|"C"e2|]\n',
    )[0]!.tune;
    const made = make(march, { bass: 'walking' });
    const root = (m: number) => bassClass(parseChord(scoreChordAt(made, m, 0)!.sounding)!);
    const turns = [0, 1, 2, 4, 5, 6].flatMap(m =>
      bassOf(made, m)
        .filter(n => n.start > 0)
        .map(n => mod12(classOf(made, n) - root(m))),
    );
    expect(turns.length).toBeGreaterThan(4);
    expect(turns.filter(degree => ![4, 7].includes(degree))).toEqual([]);
  });
  it('keeps to chord and scale: a step from outside is for other music than this', () => {
    expect(share(line, n => n.foreign)).toBeLessThan(0.005);
  });
  it('comes to a note beside the chord by step, and leaves it by step', () => {
    const between = line.filter(note => !note.inChord);
    expect(between.length).toBeGreaterThan(50);
    expect(share(between, n => n.from > 2 && n.to > 2)).toBeLessThan(0.01);
    expect(share(between, n => n.from > 2 || n.to > 2)).toBeLessThan(0.2);
  });
});

it('an open bass rings through its beat unless another is struck or the melody wants its string', () => {
  let open = 0;
  for (const tune of oneIn(8, committeeTunes()))
    for (const bass of ['alternating', 'walking'] as const) {
      const a = make(tune, { bass });
      for (const [m, measure] of a.measures.entries())
        for (const note of bassOf(a, m)) {
          if (note.fret > 0) continue;
          open += 1;
          const until = measure.notes
            .filter(n => n.start > note.start && (n.role === 'bass' || n.string === note.string))
            .map(n => n.start);
          const end = Math.min(measure.ticks, note.start + pulseTicks(measure.meter), ...until);
          expect(note.start + note.ticks, `${tune.title}, measure ${m + 1}`).toBeGreaterThanOrEqual(end);
        }
    }
  expect(open).toBeGreaterThan(100);
});
