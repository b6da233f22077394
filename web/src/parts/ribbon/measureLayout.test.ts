import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { arrange } from '#core/arrange';
import { readAbc } from '#core/formats';
import { standardSetup } from '#core/instrument';
import { TICKS_PER_QUARTER } from '#core/time';
import { trackOf } from '#core/track';
import { handmade } from '../../../../core/testing/handmade';
import {
  barreLines,
  fingerRows,
  laneTops,
  mayBarre,
  namedBarres,
  nearestMoment,
  pluckRows,
  ringTails,
  rowsOf,
  staffRoom,
  textWidth,
  USUAL_LANES,
  widestMeasure,
  xAt,
} from './measureLayout';

const book = readAbc(readFileSync(new URL('../../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));
const { measures, ...rest } = arrange(book[1]!.tune, {
  id: 'l',
  instrument: 'guitar',
  style: 'fingerstyle',
  capo: 0,
}).arrangement!;
const all = measures.map((_, i) => i);

const SPELLING = { names: 'both', pictures: false, plucks: true, thumb: false } as const;

describe('rows', () => {
  it.each([320, 700, 1000, 1600])('fill %i px in order, without losing a measure or running over', width => {
    const rows = rowsOf(measures, all, new Set([0, 8]), width, SPELLING);
    expect(rows.reduce((sum, r) => sum + r.widths.length, 0)).toBe(measures.length);
    expect(rows.map(r => r.from)).toEqual([...new Set(rows.map(r => r.from))].sort((a, b) => a - b));
    for (const row of rows) expect(row.widths.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(width + 0.01);
    expect(rows.some(r => r.from === 8)).toBe(true);
  });
  it('show only the measures asked for', () => {
    expect(rowsOf(measures, [3, 4], new Set([0, 8]), 900, SPELLING)).toHaveLength(1);
  });
});

describe('places in a measure', () => {
  it('are true to time: equal lengths take equal space', () => {
    const x = (part: number) => xAt(measures[0]!, 300, measures[0]!.ticks * part);
    expect(x(0.5) - x(0.25)).toBeCloseTo(x(1) - x(0.75), 9);
  });
  it('lead back to the moment that is nearest', () => {
    for (const note of measures[0]!.notes)
      expect(nearestMoment(measures[0]!, 300, xAt(measures[0]!, 300, note.start) + 2)).toBe(note.start);
  });
});

describe('ring tails', () => {
  const performed = trackOf({ measures, ...rest }, all).notes;
  const tails = ringTails(measures, performed);
  it('together are as long as the notes ring', () => {
    const drawn = tails.flat().reduce((sum, t) => sum + t.to - t.from, 0);
    expect(drawn).toBe(performed.reduce((sum, n) => sum + n.ringEnd - n.at, 0));
  });
  it('that come over a barline have gone on before it', () => {
    for (const [m, list] of tails.entries()) {
      for (const tail of list.filter(t => t.comesOver)) {
        expect(tails[m - 1]!.some(t => t.string === tail.string && t.goesOn)).toBe(true);
      }
    }
  });
});

describe('barres', () => {
  // Common practice: an F held as 133211, its bass first and the chord after it; then an open C.
  const f = [6, 5, 4, 3, 2, 1].map((string, i) => ({
    string,
    fret: [1, 3, 3, 2, 1, 1][i]!,
    finger: ([1, 3, 4, 2, 1, 1] as const)[i]!,
  }));
  const piece = handmade({
    setup: standardSetup('guitar'),
    notes: [
      { ...f[0]!, quarters: 1 },
      ...f.slice(2).map(note => ({ ...note, quarters: 2, start: 1 })),
      { string: 5, fret: 3, finger: 3, quarters: 4, measure: 1 },
      { string: 2, fret: 1, finger: 1, quarters: 4, measure: 1, start: 0 },
    ],
  });
  const lines = barreLines(piece.measures, trackOf(piece).holds);
  it('are one line from where the finger lies across to where it lifts', () => {
    expect(lines[0]).toHaveLength(1);
    expect(lines[0]![0]).toMatchObject({ fret: 1, strings: [1, 6], comesOver: false });
    expect(lines[0]![0]!.to).toBeGreaterThanOrEqual((piece.measures[0]!.ticks * 3) / 4);
    expect(lines[1]!.every(line => line.comesOver)).toBe(true);
  });
  it('have room wherever one is drawn', () => {
    for (const a of [piece, { ...rest, measures }]) {
      const drawn = barreLines(a.measures, trackOf(a).holds);
      for (const [m, list] of drawn.entries())
        if (list.some(line => !line.comesOver))
          expect(mayBarre(a.measures[m]!, a.measures[m + 1])).toBe(true);
    }
  });
});

it('lanes lie below each other in their order', () => {
  const tops = laneTops(
    {
      ...USUAL_LANES,
      staff: true,
      pictures: true,
      pictureHeight: 120,
      rhythm: true,
      thumb: true,
      difficulty: true,
      remarks: true,
      staffRoom: { above: 40, below: 60 },
      degrees: true,
      names: 'both',
      strings: 6,
      barres: true,
      endings: true,
      phrases: 0,
    },
    2,
  );
  const order = [
    tops.words,
    tops.chords,
    tops.pictures,
    tops.staff,
    tops.rhythmAbove,
    tops.strings,
    tops.rhythmBelow,
    tops.barres,
    tops.fingers,
    tops.plucks,
    tops.degrees,
    tops.count,
    tops.difficulty,
    tops.remarks,
    tops.height,
  ];
  expect(order).toEqual([...order].sort((a, b) => a - b));
});

it('the staff has room for the notes of open strings and of a high fret, and not more than it needs', () => {
  // E4 as a guitar's low E is written an octave higher: E3 lies seven letters below the bottom line.
  expect(staffRoom([3 * 7 + 2])).toEqual({ above: 40, below: 7 * 5 + 42 });
  expect(staffRoom([6 * 7])).toEqual({ above: 4 * 5 + 42, below: 34 });
  expect(staffRoom([])).toEqual({ above: 40, below: 34 });
});

describe('names of barres', () => {
  const barre = (fret: number, from: number, comesOver = false) => ({
    fret,
    strings: [1, 3] as const,
    from,
    to: 8,
    comesOver,
    goesOn: false,
  });
  const x = (tick: number) => 20 + 10 * tick;
  it('stand side by side where two fingers lie flat from the same beat, and both lines begin after them', () => {
    const [index, ring] = namedBarres([barre(2, 0), barre(4, 0)], x);
    expect(index!.label).toBe(index!.left);
    expect(ring!.label).toBeGreaterThan(index!.label + 12);
    expect(index!.line).toBe(ring!.line);
    expect(ring!.line).toBeGreaterThan(ring!.label + 12);
  });
  it('stay where their finger comes down otherwise', () => {
    for (const drawn of [
      namedBarres([barre(2, 0), barre(4, 6)], x),
      // What came over from the measure before has no name here.
      namedBarres([barre(2, 0, true), barre(4, 0)], x),
    ])
      for (const own of drawn) expect(own.label).toBe(own.left);
  });
});

describe('the finger lane', () => {
  const strum = (start: number, frets: [string: number, fret: number, finger: number][]) =>
    frets.map(([string, fret, finger]) => ({
      string,
      fret,
      finger: finger as 1,
      quarters: 1,
      start,
      role: 'inner' as const,
    }));
  const shape: [number, number, number][] = [
    [2, 1, 1],
    [3, 2, 2],
    [4, 3, 3],
  ];
  it('tells a strummed shape once, and another voicing of the same chord again', () => {
    const [measure] = handmade({
      setup: standardSetup('guitar'),
      notes: [
        ...strum(0, shape),
        ...strum(1, shape),
        ...strum(2, [
          [2, 6, 4],
          [3, 5, 2],
          [4, 3, 1],
        ]),
        ...strum(3, shape),
      ],
    }).measures;
    expect(fingerRows(measure!).map(({ tick, text }) => [tick / TICKS_PER_QUARTER, text])).toEqual([
      [0, '321'],
      [2, '124'],
      [3, '321'],
    ]);
  });
});

it('what the plucking hand does at one moment does not run into what it does at the next', () => {
  const grip = (['a', 'm', 'i', 'p'] as const).map((pluck, i) => ({
    string: i + 1,
    fret: 0,
    quarters: 0.5,
    start: 0,
    pluck,
  }));
  const [measure] = handmade({
    setup: standardSetup('guitar'),
    notes: [...grip, { string: 1, fret: 0, quarters: 0.5, start: 0.5, pluck: 'm' }],
  }).measures;
  const between = (thumb: boolean, plucks: boolean) => {
    const width = widestMeasure([measure!], [0], { ...SPELLING, thumb, plucks });
    const [first, second] = pluckRows(measure!, thumb).filter(row => !row.low);
    const at = (tick: number) => xAt(measure!, width, tick);
    const half = (text: string) => textWidth(text, 14) / 2;
    return at(second!.tick) - half(second!.text) - at(first!.tick) - half(first!.text);
  };
  expect(pluckRows(measure!, false).map(row => row.text)).toEqual(['pima', 'm']);
  expect(pluckRows(measure!, true).map(row => [row.low, row.text])).toEqual([
    [true, 'p'],
    [false, 'ima'],
    [false, 'm'],
  ]);
  for (const thumb of [false, true]) expect(between(thumb, true)).toBeGreaterThan(3);
  // No room is given away for a lane that is hidden.
  expect(between(false, false)).toBeLessThan(3);
});
