/** Chords by the numbers of their degrees (common practice of sessions and harmony books). */
import { describe, expect, it } from 'vitest';
import { asked, chordsOf, read } from '../../testing/songs';
import { kindOfText } from '../text';
import { readSong } from './index';

const inKey = (key: string, row: string) =>
  chordsOf(read(`key: ${key}\n\n${row}\nDown by the river`)).join(' ');

describe('chords by numbers', () => {
  it.each([
    ['G', '1  4  5  1', 'G C D G'],
    ['D', '1  6m  2m7  57', 'D Bm Em7 A7'],
    ['G', '1/3  4  5sus4  5', 'G/B C Dsus4 D'],
    ['Eb', '1  b7  4  4m', 'Eb Db Ab Abm'],
    ['C', '| 1 . 4 . | 5 | % |', 'C F@2 G G'],
    // Nobody says of a chord that it is minor: each is what it is in its key.
    ['G', '1  5  6  4', 'G D Em C'],
    ['G', '1  6m  2  5', 'G Em A D'],
    ['A', 'I  IV  V7  I', 'A D E7 A'],
    ['C', 'I  vi  ii7  V7', 'C Am Dm7 G7'],
    ['C', 'I  III7  vi  vii°', 'C E7 Am B°'],
    ['Am', 'i  iv  V7  i', 'Am Dm E7 Am'],
    ['Am', 'i  VI  III  VII', 'Am F C G'],
    ['A mixolydian', 'I  bVII  IV  I', 'A G D A'],
  ])('in %s: %s', (key, row, chords) => {
    expect(inKey(key, row)).toBe(chords);
  });
  it('stand over the words that they stood over', () => {
    const song = read('Key of D, 3/4\n\n1       6m\nDown by the river again');
    expect(song.measures.map(({ chords }) => chords.map(chord => chord.symbol).join())).toEqual(['D', 'Bm']);
    expect(song.measures.flatMap(({ events }) => events.flatMap(({ words }) => words?.[0] ?? []))).toEqual([
      'Down by',
      'the river again',
    ]);
  });
  it('how they are read is said; without a key one is asked for', () => {
    expect(readSong('key: D\n\n1  4  5\nDown by the river').guesses).toContainEqual({
      line: 3,
      column: 1,
      message: 'chords by numbers are read in D major',
    });
    const text = 'By the River\n\n1  4  5\nDown by the river';
    expect(asked(text)).toEqual(['3: chords by numbers: say in which key they stand, such as "key: G"']);
    expect(kindOfText(text)).toBeUndefined();
  });
  it.each(['I, I, I', '1 2 3 4', 'I', 'vi', '1'])('"%s" in a song that names its chords is words', row => {
    const song = read(`key: G\n\nG    C    D\nDown by the river\n${row}\nG   D\nagain`);
    expect(chordsOf(song).filter(Boolean)).toEqual(['G', 'C', 'D', 'G', 'D']);
  });
});

describe('chords of a line', () => {
  it('are parted by a dash between all of them; other dashes hold', () => {
    expect(chordsOf(read('Am - C – G - D'))).toEqual(['Am', 'C', 'G', 'D']);
    expect(chordsOf(read('| Am - C - | G |'))).toEqual(['Am C@2', 'G']);
    expect(chordsOf(read('G - - C'))).toHaveLength(4);
  });
  it('may stand in round brackets: one may leave them out', () => {
    expect(chordsOf(read('G     (G7)\nDown by the river'))).toEqual(['G', 'G7']);
    expect(chordsOf(read('(G C) D'))).toEqual(['G C@2', 'D']);
  });
  it('a row of chords with a remark behind is no words of the row above', () => {
    const { tune, leftOut } = readSong('C   G\nC   D  (stop)\nDown by the river');
    expect(chordsOf(tune!)).toEqual(['C', 'G', 'C', 'D']);
    expect(leftOut.map(({ line, message }) => `${line}: ${message}`)).toEqual(['2: the remark "stop"']);
  });
});
