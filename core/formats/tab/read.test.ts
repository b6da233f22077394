/** Text tab in: what people type is read, and what was guessed is said. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faultOf } from '../../records';
import { cases as runs } from '../../testing/setup';
import { slipped } from '../../testing/slips';
import { beats, six, strings } from '../../testing/tabs';
import { pieceOf } from '../piece';
import { readTab } from './index';

describe('tabs as people type them', () => {
  /** Text, notes as "beat:string/fret", how many things were guessed and left out at most. */
  const cases: [habit: string, text: string, notes: string[][], guesses: number, leftOut: number][] = [
    ['quarters, evenly spaced', six('0---1---3---1---|'), [['0:1/0', '1:1/1', '2:1/3', '3:1/1']], 3, 0],
    [
      'a dash before the first number',
      six('-0-1-3-5-0-1-3-5-|'),
      [['0:1/0', '0.5:1/1', '1.5:1/5', '1:1/3', '2.5:1/1', '2:1/0', '3.5:1/5', '3:1/3']],
      3,
      0,
    ],
    ['a measure that begins late', six('-0-------|-----3---|'), [['0:1/0'], ['2:1/3']], 3, 0],
    ['frets of two digits', six('-10--12--8---7---|'), [['0:1/10', '1:1/12', '2:1/8', '3:1/7']], 3, 0],
    [
      'no names of strings',
      six('0---1---3---1---|').replace(/^.\|/gm, '|'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'names and a space',
      six('0---1---3---1---|').replace(/^(.)\|/gm, '$1 |'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'names and a colon',
      six('0---1---3---1---|').replace(/^(.)\|/gm, '$1:'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'names and a dash',
      six('0---1---3---1---|').replace(/^(.)\|/gm, '$1-'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    ['no bar at the end', six('0---1---3---1---'), [['0:1/0', '1:1/1', '2:1/3', '3:1/1']], 3, 0],
    [
      'double bars',
      six('0---1---3---1---||0---0---0---0---||'),
      [
        ['0:1/0', '1:1/1', '2:1/3', '3:1/1'],
        ['0:1/0', '1:1/0', '2:1/0', '3:1/0'],
      ],
      3,
      0,
    ],
    [
      'two systems',
      `${six('0---1---3---1---|')}\n\n${six('3---3---3---3---|')}`,
      [
        ['0:1/0', '1:1/1', '2:1/3', '3:1/1'],
        ['0:1/3', '1:1/3', '2:1/3', '3:1/3'],
      ],
      3,
      0,
    ],
    [
      'dashes of a typesetter',
      six('0---1---3---1---|').replace(/---/g, '———'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    ['letters of lengths above', `  Q. E H\n${six('0--1-3--|')}`, [['0:1/0', '1.5:1/1', '2:1/3']], 2, 0],
    ['a rest among the letters', `  (Q) Q H\n${six('----1-3--|')}`, [['1:1/1', '2:1/3']], 2, 0],
    [
      'lengths of a triplet',
      `  E3 E3 E3 Q H\n${six('0--1--3--5-5--|')}`,
      [['0.3333333333333333:1/1', '0.6666666666666666:1/3', '0:1/0', '1:1/5', '2:1/5']],
      2,
      0,
    ],
    [
      'lengths that do not add up',
      `  Q Q H H\n${six('0---1---3---1---|')}`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      4,
      0,
    ],
    [
      'a count below',
      `${six('0---1-1-3-------|')}\n  1   2 & 3   4`,
      [['0:1/0', '1.5:1/1', '1:1/1', '2:1/3']],
      2,
      0,
    ],
    [
      'a count above with e and a',
      `  1 e & a 2   3   4\n${six('0-1-3-1-0---3---3---|')}`,
      [['0.25:1/1', '0.5:1/3', '0.75:1/1', '0:1/0', '1:1/0', '2:1/3', '3:1/3']],
      2,
      0,
    ],
    [
      'triplets by spacing',
      six('0--1--3--5--------0--------3--------|').replace('5--------', '5--------'),
      [['0.3333333333333333:1/1', '0.6666666666666666:1/3', '0:1/0', '1:1/5', '2:1/0', '3:1/3']],
      3,
      0,
    ],
    ['three four', `meter: 3/4\n\n${six('0---1---3---|')}`, [['0:1/0', '1:1/1', '2:1/3']], 2, 0],
    [
      'six eight',
      `6/8\n\n${six('0-1-3-0-1-3-|')}`,
      [['0.5:1/1', '0:1/0', '1.5:1/0', '1:1/3', '2.5:1/3', '2:1/1']],
      2,
      0,
    ],
    [
      'a bass under the melody',
      strings({
        e: '0-------3-------|',
        B: '----1-------1---|',
        G: '----------------|',
        D: '----------------|',
        A: '3---------------|',
        E_: '--------3-------|',
      }),
      [['0:1/0', '0:5/3', '1:2/1', '2:1/3', '2:6/3', '3:2/1']],
      3,
      0,
    ],
    [
      'two digits over one',
      strings({
        e: '-10-------|',
        B: '--9-------|',
        G: '----------|',
        D: '----------|',
        A: '-0--------|',
        E_: '----------|',
      }),
      [['0:1/10', '0:2/9', '0:5/0']],
      3,
      0,
    ],
    [
      'a mandolin of four strings',
      ['E', 'A', 'D', 'G']
        .map((n, i) => `${n}|${i === 1 ? '2---3---5---3---|' : '----------------|'}`)
        .join('\n'),
      [['0:2/2', '1:2/3', '2:2/5', '3:2/3']],
      3,
      0,
    ],
    [
      'a tenor guitar of four strings',
      ['A', 'D', 'G', 'C']
        .map((n, i) => `${n}|${i === 0 ? '2---3---5---3---|' : '----------------|'}`)
        .join('\n'),
      [['0:1/2', '1:1/3', '2:1/5', '3:1/3']],
      3,
      0,
    ],
    [
      'a five-course mandolin',
      ['E', 'A', 'D', 'G', 'C']
        .map((n, i) => `${n}|${i === 4 ? '2---3---5---3---|' : '----------------|'}`)
        .join('\n'),
      [['0:5/2', '1:5/3', '2:5/5', '3:5/3']],
      3,
      0,
    ],
    [
      'a guitar of seven strings',
      ['e', 'B', 'G', 'D', 'A', 'E', 'B']
        .map((n, i) => `${n}|${i === 6 ? '2---3---5---3---|' : '----------------|'}`)
        .join('\n'),
      [['0:7/2', '1:7/3', '2:7/5', '3:7/3']],
      3,
      0,
    ],
    [
      'a guitar of eight strings without names',
      Array.from({ length: 8 }, (_, i) => `|${i === 7 ? '2---3---5---3---|' : '----------------|'}`).join(
        '\n',
      ),
      [['0:8/2', '1:8/3', '2:8/5', '3:8/3']],
      3,
      0,
    ],
    [
      'another tuning by the names of the rows',
      ['d', 'A', 'G', 'D', 'A', 'D']
        .map((n, i) => `${n}|${i === 5 ? '0---0---0---0---|' : '----------------|'}`)
        .join('\n'),
      [['0:6/0', '1:6/0', '2:6/0', '3:6/0']],
      3,
      0,
    ],
    [
      'words of the song below',
      `${six('0---1---3---1---|')}\n  Down by  the brook`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      4,
      0,
    ],
    [
      'a remark below',
      `${six('0---1---3---1---|')}\n  take care that all of these notes go on sounding`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      1,
    ],
    [
      'small letters of lengths',
      `  q.   e h\n${six('0----1-3-----|')}`,
      [['0:1/0', '1.5:1/1', '2:1/3']],
      2,
      0,
    ],
    [
      'E as a chord',
      `  E       A\n${six('0---1---3---1---|')}`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'a count of beats only',
      `  1   2   3   4\n${six('0-1-3---1-3-0---|')}`,
      [['0:1/0', '0.5:1/1', '1:1/3', '2.5:1/3', '2:1/1', '3:1/0']],
      3,
      0,
    ],
    [
      'a count without spaces',
      `  1&2&3&4&\n${six('0-1--3-1|')}`,
      [['0:1/0', '1:1/1', '2.5:1/3', '3.5:1/1']],
      2,
      0,
    ],
    [
      'a count of three',
      `  1   2   3     1   2   3\n${six('0---1---3---|-0---1-------|')}`,
      [
        ['0:1/0', '1:1/1', '2:1/3'],
        ['0:1/0', '1:1/1'],
      ],
      2,
      0,
    ],
    [
      'three places in every measure',
      six('0---1---3---|0---1-------|'),
      [
        ['0:1/0', '1:1/1', '2:1/3'],
        ['0:1/0', '1:1/1'],
      ],
      3,
      0,
    ],
    [
      'six places in every measure, the fourth without its neighbours',
      six('0-----3---1-|0-1-3-1-0-1-|'),
      [
        ['0:1/0', '1.5:1/3', '2.5:1/1'],
        ['0.5:1/1', '0:1/0', '1.5:1/1', '1:1/3', '2.5:1/1', '2:1/0'],
      ],
      3,
      0,
    ],
    [
      'chords that are struck again without a dash between',
      strings({
        e: '00-0-00-|',
        B: '11-1-11-|',
        G: '00-0-00-|',
        D: '22-2-22-|',
        A: '33-3-33-|',
        E_: '--------|',
      }),
      [[0, 0.5, 1.5, 2.5, 3].flatMap(beat => ['1/0', '2/1', '3/0', '4/2', '5/3'].map(p => `${beat}:${p}`))],
      4,
      0,
    ],
    [
      'strokes down and up over uneven spacing',
      `  d  du udu\n${six('0--00-000----|')}`,
      [['0:1/0', '1.5:1/0', '1:1/0', '2.5:1/0', '3.5:1/0', '3:1/0']],
      4,
      0,
    ],
    [
      'the thickest string at the top',
      six('0---1---3---1---|', 5).split('\n').toReversed().join('\n'),
      [['0:6/0', '1:6/1', '2:6/3', '3:6/1']],
      4,
      0,
    ],
    [
      'numbers of strings',
      six('0---1---3---1---|', 1)
        .split('\n')
        .map((row, i) => `${i + 1}${row.slice(1)}`)
        .join('\n'),
      [['0:2/0', '1:2/1', '2:2/3', '3:2/1']],
      3,
      0,
    ],
    [
      'rows that are left out of a later system',
      `${six('0---1---3---1---|')}\n\nB|0---1---3---1---|\nG|----------------|\nA|3---------------|`,
      [
        ['0:1/0', '1:1/1', '2:1/3', '3:1/1'],
        ['0:2/0', '0:5/3', '1:2/1', '2:2/3', '3:2/1'],
      ],
      3,
      0,
    ],
    [
      'a system right under another, with its chords between',
      `${six('0---1---3---1---|')}\n  G       C\n${six('3---3---3---3---|')}`,
      [
        ['0:1/0', '1:1/1', '2:1/3', '3:1/1'],
        ['0:1/3', '1:1/3', '2:1/3', '3:1/3'],
      ],
      3,
      0,
    ],
    [
      'systems without a line between them',
      `${six('0---1---3---1---|')}\n${six('3---3---3---3---|')}`,
      [
        ['0:1/0', '1:1/1', '2:1/3', '3:1/1'],
        ['0:1/3', '1:1/3', '2:1/3', '3:1/3'],
      ],
      3,
      0,
    ],
    [
      'two systems of a mandolin without a line between them',
      ['E|0---2---3---5---|', 'A|----------------|', 'D|----------------|', 'G|----------------|']
        .join('\n')
        .concat('\nE|----------------|\nA|0---0---0---0---|\nD|----------------|\nG|----------------|'),
      [
        ['0:1/0', '1:1/2', '2:1/3', '3:1/5'],
        ['0:2/0', '1:2/0', '2:2/0', '3:2/0'],
      ],
      3,
      0,
    ],
    [
      'a count that is spaced otherwise than the notes',
      `  1  2  3  4\n${six('0-1-3-1-0-1-3-1-|')}`,
      [['0.5:1/1', '0:1/0', '1.5:1/1', '1:1/3', '2.5:1/1', '2:1/0', '3.5:1/1', '3:1/3']],
      3,
      0,
    ],
    [
      'an empty line behind each line',
      six('0---1---3---1---|').replace(/\n/g, '\n\n'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'frames that are drawn',
      six('0---1---3---1---|').replace(/-/g, '─').replace(/\|/g, '│'),
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
    [
      'what the signs mean, at the head',
      `The Long Field\nh = hammer-on, p = pull-off\n(x): touch lightly\n\n${six('0---1---3---1---|')}`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      1,
    ],
    ['repeat signs', six(':0---1---3---1---:|'), [['0:1/0', '1:1/1', '2:1/3', '3:1/1']], 3, 0],
    ['signs that nobody knows', six('0---1---3?--1---|'), [['0:1/0', '1:1/1', '2:1/3', '3:1/1']], 3, 1],
    [
      'a title, a capo and a tuning in plain words',
      `The Long Field\nCapo 2nd fret\nTuning: DADGAD\n\n${six('0---1---3---1---|').replace(/^.\|/gm, '|')}`,
      [['0:1/0', '1:1/1', '2:1/3', '3:1/1']],
      3,
      0,
    ],
  ];
  it('there are thirty of them and more', () => expect(cases.length).toBeGreaterThanOrEqual(30));
  it.each(cases)('%s', (_, text, notes, guesses, leftOut) => {
    const reading = readTab(text);
    expect(reading.questions).toEqual([]);
    expect(beats(reading.measures)).toEqual(notes.map(m => [...m].sort()));
    expect(reading.guesses.length, JSON.stringify(reading.guesses)).toBeLessThanOrEqual(guesses);
    expect(reading.leftOut.length, JSON.stringify(reading.leftOut)).toBe(leftOut);
    for (const remark of [...reading.guesses, ...reading.leftOut]) expect(remark.line).toBeGreaterThan(0);
  });
  it('techniques as people write them', () => {
    const kinds = (row: string) =>
      readTab(six(row)).measures[0]!.notes.map(n =>
        (n.techniques ?? []).map(({ ...t }) => ('from' in t ? t.kind : t)),
      );
    expect(kinds('-5h7p5---|')).toEqual([[], ['hammer'], ['pull']]);
    expect(kinds('-5-h-7---|')).toEqual([[], ['hammer']]);
    expect(kinds('-5/7-7\\5---|')).toEqual([[], ['slide'], [], ['slide']]);
    expect(kinds('-5s7---|')).toEqual([[], ['slide']]);
    expect(kinds('--/7--7\\---|')).toEqual([
      [{ kind: 'slide-in', way: 'below' }],
      [{ kind: 'slide-off', way: 'below' }],
    ]);
    expect(kinds('-7b9--7b(9)--7b--7b9r7--|')).toEqual(
      ['up', 'up', 'up', 'release'].map(shape => [{ kind: 'bend', semitones: 2, shape }]),
    );
    expect(kinds('-x--X--<12>--[12]--5~--|')).toEqual([
      [{ kind: 'dead' }],
      [{ kind: 'dead' }],
      [{ kind: 'harmonic' }],
      [{ kind: 'harmonic' }],
      [{ kind: 'vibrato' }],
    ]);
    expect(readTab(six('-3---(3)-|')).measures[0]!.notes[1]).toMatchObject({ fret: 3, tie: true });
  });
  it('says what it can’t be sure of, and asks where it can’t go on', () => {
    const asked = (text: string) => readTab(text).questions.map(q => q.message);
    expect(asked('just some words')).toEqual([expect.stringMatching(/no rows of strings/)]);
    expect(asked(six('0---1---|').split('\n').slice(1).join('\n'))).toEqual([
      expect.stringMatching(
        /5 rows: which instrument\? Say it at the head, or write the row that is missing/,
      ),
    ]);
    expect(asked(six('0---44--|'))).toEqual([expect.stringMatching(/fret 44 is not on this neck/)]);
    expect(readTab(six('-7h5---|')).guesses.map(g => g.message)).toContain(
      'a hammer-on to a lower fret is taken as a pull-off',
    );
  });
  it('with slips of any kind they give a piece that is in order, or a question; nothing hangs', () => {
    const typed = cases.map(([, text]) => text);
    fc.assert(
      fc.property(slipped(typed, '-|0139hpb/~()<>{}:x \n&PMAaEeGwq_w[]*'), text => {
        const reading = readTab(text);
        const piece = pieceOf(reading, { tuneId: 't', id: 'a' });
        if (piece.error !== undefined) expect(reading.questions.length).toBeGreaterThan(0);
        else {
          expect(faultOf('arrangements', piece.arrangement), text).toBeUndefined();
          expect(faultOf('tunes', piece.tune), text).toBeUndefined();
        }
      }),
      { numRuns: runs(150) },
    );
    for (const sign of ['-', ' ', '1 ', 'PM', '~', '(', 'x |', '\n', 'e|-1 x\n'])
      expect(readTab(sign.repeat(399_999 / sign.length)).measures).toEqual([]);
    expect(readTab(`e|${'-'.repeat(5000)}|`).questions[0]?.message).toBe('a line has at most 4000 columns');
  });
});
