/** Tabs from where H is B and B is B♭ (common practice from Germany to Bohemia). */
import { describe, expect, it } from 'vitest';
import { readTab } from './index';

const ROWS = ['0---1---3---1---|', '----------------|', '0---------------|', '----------------|'];
const rows = (names: string, music: readonly string[] = ROWS) =>
  names
    .split(' ')
    .map((name, i) => `${name}|${music[i] ?? '----------------|'}`)
    .join('\n');
const chords = (text: string) =>
  readTab(text).measures.map(m => (m.chords ?? []).map(({ name }) => name).join(' '));

describe('rows of strings by German names', () => {
  it.each(['e H G D A E', 'e h g d A E', 'E H G D A E'])('%s are those of a guitar', names => {
    const plain = readTab(rows('e B G D A E'));
    const read = readTab(rows(names));
    expect(read.questions).toEqual([]);
    expect(read.measures).toEqual(plain.measures);
    expect(read.heading.instrument).toBe(plain.heading.instrument);
  });
  it('with other tunings: Es As Des Ges B Es is a half step down', () => {
    const read = readTab(rows('es b ges des as es'));
    expect(read.questions).toEqual([]);
    expect(read.heading.tuning ?? []).toEqual(['Eb4', 'Bb3', 'Gb3', 'Db3', 'Ab2', 'Eb2']);
  });
});

describe('chords over the rows', () => {
  it.each([
    ['H7      Em', 'B7 Em'],
    ['Fis     h', 'F# Bm'],
    ['G       e', 'G Em'],
    ['Am      H7', 'Am B7'],
    ['E       H', 'E B'],
  ])('%s', (line, names) => {
    expect(chords(`  ${line}\n${rows('e B G D A E')}`)).toEqual([names]);
  });
  it.each(['H       H', 'h   p', 'H   P', 'h'])('but "%s" alone are signs', line => {
    expect(chords(`  ${line}\n${rows('e B G D A E')}`).join('')).not.toMatch(/B/);
  });
  it.each(['A       D', 'E'])('eighths and a half right under "%s" are none', line => {
    const read = readTab(`  ${line}\n  E   E   H   E\n${rows('e B G D A E')}`);
    expect(chords(`  ${line}\n  E   E   H   E\n${rows('e B G D A E')}`)).toEqual([line.replace(/ +/, ' ')]);
    expect(read.guesses.filter(({ message }) => message.includes('H is'))).toEqual([]);
  });
  it.each(['Stimmung: D A D G H E', 'Tuning DADGHE', 'in D-A-D-G-H-E'])('"%s" is a tuning', head => {
    const { heading, leftOut } = readTab(`Flusslied\n${head}\n\n${rows('e H G D A D')}`);
    expect(heading.tuning).toEqual(['E4', 'B3', 'G3', 'D3', 'A2', 'D2']);
    expect(leftOut).toEqual([]);
  });
  it('a key in German words is that of the piece', () => {
    expect(readTab(`Flusslied\nh-Moll\n\n${rows('e H G D A E')}`).heading).toMatchObject({
      title: 'Flusslied',
      key: { tonic: 'B', mode: 'minor' },
    });
  });
});
