/** What is played where the melody is silent, and how a tune ends whose last note is held over. All of it common practice. */
import { describe, expect, it } from 'vitest';
import { classOfDegree, parseChord } from '../chord';
import { readAbc } from '../formats/abc';
import type { InstrumentId } from '../instrument';
import { mod12 } from '../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  explainNote,
  noteMidi,
  type ScoreNote,
  type Style,
} from '../score';
import { faultsOf } from '../testing/findings';
import { pulseTicks } from '../time';
import { arrange } from './index';

function made(
  body: string,
  style: Style,
  {
    instrument = 'guitar',
    settings,
  }: { instrument?: InstrumentId; settings?: Partial<ArrangeSettings> } = {},
): Arrangement {
  const { tune } = readAbc(`X:1\nT:Song\nL:1/8\n${body}\n`)[0]!;
  const { arrangement } = arrange(tune, {
    id: 's',
    instrument,
    style,
    capo: 0,
    ...(settings && { settings }),
  });
  expect(faultsOf(arrangement!, tune)).toEqual([]);
  return arrangement!;
}

/** What is struck at a place of a measure, thickest string first. */
const struckAt = ({ measures }: Arrangement, measure: number, start = 0): ScoreNote[] =>
  measures[measure]!.notes.filter(note => note.start === start && note.tie === undefined).sort(
    (a, b) => b.string - a.string,
  );

const classesOf = ({ setup }: Arrangement, notes: readonly ScoreNote[]) =>
  notes.map(note => mod12(noteMidi(setup, note)));

const LATE =
  'M:4/4\nQ:1/4=84\nK:Am\n"Am"z4 z ABc|"F"d c2 A4 A|"C"z G2 G GA c2|"G"B A3 z4|"Am"A8|"F"z8|"Am"z8|]';

describe('a chord melody', () => {
  it('keeps the beat that the melody leaves out: the chord is struck, the melody comes over it', () => {
    const guitar = made(LATE, 'chord-melody');
    const opening = struckAt(guitar, 0);
    expect(opening.length).toBeGreaterThanOrEqual(3);
    expect(classesOf(guitar, opening)[0]).toBe(9);
    expect(new Set(classesOf(guitar, opening))).toContain(0);
    expect(opening.every(note => note.role !== 'melody')).toBe(true);
    expect(explainNote(guitar, opening[0]!.id)).toContain('keeps the beat while the melody is silent');
    // A mandolin's is struck on three strings of four or more, where it was only what lies under the note that comes.
    expect(struckAt(made(LATE, 'chord-melody', { instrument: 'mandolin' }), 0).length).toBeGreaterThan(2);
  });
  it('leaves room for a melody that comes half a beat late', () => {
    const guitar = made(LATE, 'chord-melody');
    const [late] = guitar.measures[2]!.notes.filter(note => note.role === 'melody');
    const chord = struckAt(guitar, 2);
    expect(late!.start).toBeGreaterThan(0);
    expect(chord.length).toBeGreaterThanOrEqual(2);
    expect(chord.filter(note => note.string <= late!.string)).toEqual([]);
    expect(struckAt(guitar, 2, late!.start)).toEqual([late]);
  });
  it('goes on through measures without a melody, and after its end', () => {
    for (const instrument of ['guitar', 'mandolin', 'octave-mandolin'] as const) {
      const song = made(LATE, 'chord-melody', { instrument });
      for (const [measure, symbol] of [
        [5, 'F'],
        [6, 'Am'],
      ] as const) {
        const struck = classesOf(song, struckAt(song, measure));
        expect(struck.length, `${instrument}: ${symbol}`).toBeGreaterThanOrEqual(3);
        expect(struck).toContain(classOfDegree(parseChord(symbol)!, 3));
      }
    }
  });
  it('that doubles its melody waits for it', () => {
    const sixths = made(LATE, 'chord-melody', { settings: { doubling: 'sixths' } });
    expect(struckAt(sixths, 0)).toEqual([]);
    expect(struckAt(sixths, 6)).toEqual([]);
  });
});

it('what only the thumb has under a long note is struck again on the beat, rolled where it is slow', () => {
  const struckAgain = (tempo: number) => {
    const gospel = made(
      `M:12/8\nQ:3/8=${tempo}\nK:E\n"E"B,3 G,3 B,3 E3|"E7"=D3 B,3 G,6|"A"C3 E3 A3 a3|"E"E12|]`,
      'chord-melody',
    );
    const { notes, meter } = gospel.measures[1]!;
    const long = notes.filter(note => note.role === 'melody').at(-1)!;
    const after = notes.filter(note => note.start > long.start);
    expect(after.length).toBeGreaterThan(0);
    expect(after.every(({ string }) => string >= 4)).toBe(true);
    return after.some(({ start }) => start % pulseTicks(meter) !== 0);
  };
  expect([60, 40].map(struckAgain)).toEqual([false, true]);
});

describe('fingerstyle', () => {
  const SONG =
    'M:4/4\nQ:1/4=104\nK:A\n"A"A3 z z4|"D"z4 A2 F2|"A"A2 c2 e2 c2|"E"E3 z z4|"A"A3 z z4|"E"E4 G4|"A"A8|]';
  const song = made(SONG, 'fingerstyle', { settings: { bass: 'alternating' } });
  const fillsOf = (measure: number) => song.measures[measure]!.notes.filter(note => note.role === 'inner');

  it('answers in a rest of two beats between the thumb’s, not over what was sung', () => {
    for (const measure of [0, 4]) {
      const [sung] = song.measures[measure]!.notes.filter(note => note.role === 'melody');
      const fills = fillsOf(measure);
      expect(fills.length).toBeGreaterThanOrEqual(2);
      for (const fill of fills) expect(noteMidi(song.setup, fill)).toBeLessThan(noteMidi(song.setup, sung!));
    }
    // Before the melody begins, too.
    expect(fillsOf(1).filter(({ start }) => start < song.measures[1]!.ticks / 2).length).toBeGreaterThan(0);
  });
  it('is the same where the same comes again', () => {
    expect(song.measures[4]!.notes.map(({ start, string, fret }) => [start, string, fret])).toEqual(
      song.measures[0]!.notes.map(({ start, string, fret }) => [start, string, fret]),
    );
  });
  it('answers over a long note on a bass string, where nothing lies between it and its bass', () => {
    const low = made('M:4/4\nQ:1/4=88\nK:E\n"E"E,4 z4|"A"A2 c2 e4|"E"E,8|"A"a4 e4|"E"E8|]', 'fingerstyle', {
      settings: { bass: 'alternating' },
    });
    const held = low.measures[2]!.notes;
    const melody = held.find(note => note.role === 'melody')!;
    expect(melody.string).toBeGreaterThanOrEqual(4);
    const fills = held.filter(note => note.role === 'inner');
    expect(fills.length).toBeGreaterThan(1);
    for (const fill of fills) expect(fill.string).toBeLessThan(melody.string);
    expect(explainNote(low, fills[0]!.id)).toContain('over a long note of the melody, which lies low');
  });
  it('answers over a long note on string 3 where the thumb alone lies under it and would have to hurry', () => {
    const settings = { bass: 'alternating' } as const;
    const at = (tempo: number) =>
      made(`M:4/4\nQ:1/4=${tempo}\nK:G\n"G"B4 d4|"G"G8|"D7"A4 d4|"G"G8|]`, 'fingerstyle', { settings });
    const inner = (song: Arrangement) => song.measures[1]!.notes.filter(note => note.role === 'inner');
    const quick = inner(at(112));
    expect(quick.length).toBeGreaterThan(1);
    expect(new Set(quick.map(({ string }) => string))).toEqual(new Set([2]));
    expect(new Set(inner(at(56)).map(({ string }) => string))).toContain(4);
  });
});

describe('a picking pattern', () => {
  it('keeps its own strings over a long note on a bass string, and gives way to a short one', () => {
    const low = made('M:4/4\nQ:1/4=72\nR:ballad\nK:E\n"E"E,8|"A"a4 e4|"E"E2 F2 G2 B2|"E"E8|]', 'fingerstyle');
    const plucked = (measure: number) => low.measures[measure]!.notes.filter(note => note.role === 'inner');
    const [melody] = low.measures[0]!.notes.filter(note => note.role === 'melody');
    expect(melody!.string).toBeGreaterThanOrEqual(4);
    // B 3 2 3 B 3 2 3, the first with the melody that is its bass.
    expect(plucked(0).map(({ string }) => string)).toEqual([3, 2, 3, 3, 2, 3]);
    expect(plucked(2).length).toBeGreaterThan(1);
    for (const note of plucked(2)) {
      const over = low.measures[2]!.notes.findLast(own => own.role === 'melody' && own.start <= note.start)!;
      expect(note.string).toBeGreaterThan(over.string);
    }
  });
});

describe('the last chord', () => {
  const TIED = 'M:4/4\nQ:1/4=104\nK:G\n"G"B2 d2 d2 B2|"C"c2 e2 e2 c2|"G"B2 B2 "D"A2 AG-|"G"G8|]';
  it.each(['fingerstyle', 'chord-melody'] as const)(
    'is struck whole where it begins, under a note that is held over the barline (%s)',
    style => {
      const song = made(TIED, style);
      const last = struckAt(song, 3);
      expect(last.length).toBeGreaterThanOrEqual(2);
      expect(classesOf(song, last)[0]).toBe(7);
      const sounding = [...last, ...song.measures[3]!.notes.filter(note => note.tie !== undefined)];
      expect(sounding.length).toBeGreaterThanOrEqual(3);
      // The note before it is no close.
      const before = song.measures[2]!.notes.filter(note => note.start >= (song.measures[2]!.ticks * 7) / 8);
      expect(before.filter(note => note.role === 'inner')).toEqual([]);
    },
  );
  it.each(['fingerstyle', 'chord-melody'] as const)(
    'comes at the end of what is played after the melody (%s)',
    style => {
      const song = made('M:4/4\nQ:1/4=72\nK:C\n"C"c4 G4|"F"A4 "G"G4|"C"c8|"F"z8|"C"z8|]', style);
      const last = struckAt(song, 4);
      expect(last.length).toBeGreaterThanOrEqual(3);
      expect(classesOf(song, last)[0]).toBe(0);
      expect(song.measures[4]!.notes).toHaveLength(last.length);
      // Before it goes on.
      expect(song.measures[3]!.notes.filter(({ start }) => start > 0).length).toBeGreaterThan(1);
    },
  );
  it.each(['fingerstyle', 'chord-melody'] as const)(
    'lies on the last beat of a reel that leads back with an eighth, not on that; on a last note that is held it does (%s)',
    style => {
      const reel = (end: string, bars = ':|') =>
        made(`R:reel\nM:4/4\nQ:1/4=180\nK:Ador\n"Am"e2ce A2ce|"G"dBGB "Am"${end}${bars}`, style);
      const isFull = (song: Arrangement) =>
        [6, 7].map(eighth =>
          struckAt(song, 1, (eighth * song.measures[1]!.ticks) / 8).some(({ role }) => role === 'inner'),
        );
      expect(isFull(reel('cA AG'))).toEqual([true, false]);
      expect(isFull(reel('c2 A2'))).toEqual([true, false]);
      expect(isFull(reel('c3 A', '-|A8|]'))).toEqual([false, true]);
    },
  );
  it('leaves the index to the lowest fret: Dm6 stands over its root in the melody with its third', () => {
    const song = made(
      'M:4/4\nQ:1/4=100\nK:Dm\n"Dm6"A4 F2 D2|"A7"A2 c2 e2 g2|"A7"^c4 A4|"Dm6"D8|]',
      'fingerstyle',
    );
    const last = struckAt(song, 3);
    // x x 0 2 0 1, by the middle finger and the index.
    expect(last.map(({ string, fret }) => [string, fret])).toEqual([
      [4, 0],
      [3, 2],
      [2, 0],
      [1, 1],
    ]);
    expect(last.filter(({ fret }) => fret).map(({ finger }) => finger)).toEqual([2, 1]);
  });
});
