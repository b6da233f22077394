/** The neck sheet against the score that it is drawn from. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { type History, startHistory } from '../edit';
import { pieceOf, readAbc, readSong, readText } from '../formats';
import { edit } from '../testing/edits';
import { anySettings } from '../testing/settings';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { type Arrangement, isDead, isStruck, neckSheet, STYLES } from './index';

/** Everything on the sheet is in the score, and the other way round; every picture is a grip that can be. */
function agrees(arrangement: Arrangement): void {
  const sheet = neckSheet(arrangement);
  for (const { frets, fingers } of sheet.flatMap(({ pictures }) => pictures))
    for (const { finger, fret, from, to } of fingers) {
      // No finger lies across a string that sounds lower than it.
      expect(frets.slice(from - 1, to).every(own => own === null || own >= fret)).toBe(true);
      const places = fingers.filter(other => other.finger === finger);
      if (arrangement.style === 'fingerstyle') expect(places).toHaveLength(1);
    }
  const struck = arrangement.measures.flatMap((measure, index) => {
    const starts = [...new Set(measure.notes.filter(isStruck).map(n => n.start))].sort((a, b) => a - b);
    return starts.map(start => ({
      index,
      start,
      notes: measure.notes.filter(n => n.start === start && isStruck(n)).sort((a, b) => b.string - a.string),
    }));
  });
  const drawn = sheet.flatMap(({ pictures }) =>
    pictures.flatMap(picture =>
      Array.from({ length: picture.times }, () =>
        picture.plucks.map(({ strings }) => ({ strings, picture })),
      ).flat(),
    ),
  );
  expect(drawn.map(d => d.strings)).toEqual(struck.map(s => s.notes.map(n => n.string)));
  for (const [i, { notes }] of struck.entries())
    for (const note of notes) {
      if (isDead(note)) continue;
      const { picture } = drawn[i]!;
      expect(picture.frets[note.string - 1]).toBe(note.fret);
      if (note.fret && note.finger)
        expect(
          picture.fingers.some(
            p =>
              p.finger === note.finger &&
              p.fret === note.fret &&
              p.from <= note.string &&
              note.string <= p.to,
          ),
        ).toBe(true);
    }
}

describe('the neck sheet', () => {
  it('a chord that is written with its notes is held so that they lie in it, under its usual fingers (common practice)', () => {
    const text = `key: G
"G" H [s6 3 s3 0] [s2 0 s1 3] | "Bm" [s5 2 s4 4 s3 4 s2 3] Q s1 2 s2 3 | "Cadd9" Q s5 3 s3 0 [s2 3 s1 3] s4 2 |
"D/F#" H [s6 2 s4 0] [s2 3 s1 2]`;
    const piece = pieceOf(readText(text), { id: 'x', tuneId: 't' });
    if (piece.error !== undefined) throw new Error(piece.error);
    const { arrangement } = piece;
    agrees(arrangement);
    const pictures = neckSheet(arrangement)[0]!.pictures;
    expect(
      pictures.map(({ frets }) =>
        frets
          .map(f => f ?? 'x')
          .reverse()
          .join(''),
      ),
    ).toEqual(['320003', 'x24432', 'x32033', '200232']);
    expect(
      pictures.map(p => p.fingers.map(f => `${f.finger}@${f.fret}:${f.from}-${f.to}`).join(' '))[1],
    ).toContain('1@2:1-5');
  });
  it('has every pluck, fret and finger of the score, whatever is arranged', () => {
    fc.assert(
      fc.property(
        tunes({ low: -5, high: 12 }),
        fc.constantFrom(...STYLES),
        fc.constantFrom('guitar', 'mandolin'),
        fc.integer({ min: 0, max: 4 }),
        anySettings,
        (generated, style, instrument, capo, settings) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const made = arrange(tune, { id: 'x', instrument: instrument as 'guitar', style, capo, settings });
          if (made.arrangement) agrees(made.arrangement);
        },
      ),
      { numRuns: cases(40) },
    );
  });
  it('folds what comes again, says where the plucks stay the same, and names a chord once', () => {
    const { tune } = readSong('Verse\nG G Em C\n');
    const { arrangement } = arrange(tune!, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B 3 2 3' },
    });
    agrees(arrangement!);
    const [verse] = neckSheet(arrangement!);
    expect(verse!.name).toBe('Verse');
    expect(
      verse!.pictures.map(p => [
        p.chord?.shape,
        p.times,
        p.plucks.map(s => s.strings.join('')).join(' '),
        p.samePlucks,
      ]),
    ).toEqual([
      ['G', 2, '6 3 2 3', false],
      ['Em', 1, '6 3 2 3', true],
      ['C', 1, '5 3 2', false], // It ends there.
    ]);
    // The whole shape, though not all of it is plucked.
    expect(verse!.pictures.map(p => p.frets)).toEqual([
      [3, 0, 0, 0, 2, 3],
      [0, 0, 0, 2, 2, 0],
      [0, 1, 0, 2, 3, null],
    ]);
  });
  it('tells the way of a strum', () => {
    const { tune } = readSong('Verse\nG Em\n');
    const { arrangement } = arrange(tune!, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B . D U . U D U' },
    });
    agrees(arrangement!);
    const [first] = neckSheet(arrangement!)[0]!.pictures;
    expect(first!.plucks.map(p => p.way ?? p.strings.join())).toEqual([
      '6',
      'down',
      'up',
      'up',
      'down',
      'up',
    ]);
  });
  it('draws pairs without a name up the neck as they are written, each with its own strings together', () => {
    const piece = pieceOf(
      readText('title: Pairs\nkey: G\n\nQ [s1 7 s3 7] [s1 5 s3 5] [s2 3 s4 4] [s2 1 s4 2] |\n'),
      { tuneId: 't', id: 'a' },
    );
    if (piece.error !== undefined) throw new Error(piece.error);
    agrees(piece.arrangement);
    const [section] = neckSheet(piece.arrangement);
    expect(section!.pictures.map(p => [p.frets.join(), p.plucks.map(own => own.strings)])).toEqual([
      ['7,,7,,,', [[3, 1]]],
      ['5,,5,,,', [[3, 1]]],
      [',3,,4,,', [[4, 2]]],
      [',1,,2,,', [[4, 2]]],
    ]);
  });
  it('a piece of many grips in three sections: named, over a bass, pairs without a name up to fret 8, a stretch over a capo', () => {
    const piece = pieceOf(
      readText(`title: Ladder to the Loft
capo: 2
key: A

H "G" [s6 3 s3 0] [s2 0 s1 3] | "D/F#" [s6 2 s4 0 s3 2] [s2 3 s1 2] | "Em" [s6 0 s4 2] Q s3 0 s2 0 | "C" E s5 3 s4 2 s3 0 s2 1 s1 0 s2 1 s3 0 s4 2 |
H [s3 7 s2 8] [s3 5 s2 6] | [s3 4 s2 5] [s3 2 s2 3] | [s4 5 s2 5] [s4 4 s2 3] | [s4 2 s2 1] [s4 0 s2 3] |
H "Am7" [s5 0 s4 2 s3 0] [s2 1 s1 0] | "D7" [s4 0 s3 2 s2 1 s1 2] - | "Bm" [s5 2 s4 4 s3 4 s2 3] Q s1 2 s2 3 | "Cadd9" Q s5 3 s3 0 [s2 3 s1 3] s4 2 |
H [s5 7 s3 7] [s5 5 s3 5] | [s5 3 s3 4] [s5 2 s3 4] | "G/B" [s5 2 s3 0 s2 0 s1 3] - | [s6 1 s1 5] [s6 3 s4 5] | [s4 7 s1 7] [s4 5 s1 5] | [s5 3 s2 5] [s5 0 s2 3] | W "G" roll [s6 3 s5 2 s4 0 s3 0 s2 0 s1 3]
`),
      { tuneId: 't', id: 'a' },
    );
    if (piece.error !== undefined) throw new Error(piece.error);
    const { measures } = piece.arrangement;
    const history = [4, 12].reduce(
      (now, at) => edit(now, 'bars', measures[at]!.id, { section: `Part ${at}` }) as History,
      startHistory(piece.arrangement),
    );
    agrees(history.present);
    const sections = neckSheet(history.present);
    expect(sections.map(({ name }) => name)).toEqual(['A', 'Part 4', 'Part 12']);
    const grips = sections.flatMap(({ pictures }) => pictures.map(({ frets }) => frets.join()));
    expect(new Set(grips).size).toBeGreaterThanOrEqual(24);
  });
});
