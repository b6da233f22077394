/** Chord names that people write otherwise: German ones, minor chords in small letters, all in small letters. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { noSuchChord } from '../chord';
import { chordsOf, read, sung } from '../testing/songs';
import { readSong } from './song';

describe('chord names in which H is B, and B is B♭ (common practice from Germany to Bohemia)', () => {
  const SHEET =
    'Lamp on the Sill\nKey: Hm\n\nHm      F#7  B  Hm\nDown by the river again\n[G]Home [G/H]by the [H7]light\n| Hm . H7 . | B | C/H | Hm |';
  it('are read so throughout, over words, in brackets and between bars, and it is said once', () => {
    const song = readSong(SHEET);
    expect(chordsOf(song.tune!).join(' ')).toBe('Bm F#7 Bb Bm G G/B B7 Bm B7@2 Bb C/B Bm');
    expect(song.tune!.key).toEqual({ tonic: 'B', mode: 'minor' });
    expect(song.guesses.filter(({ message }) => message.includes('H is read as B'))).toEqual([
      { line: 2, column: 1, message: 'H is among its chords: H is read as B, and B as B♭' },
    ]);
  });
  it('stand over the words that they stood over', () => {
    const words = (line: string) =>
      sung(read(`${line}\nDown by the river again\n`), 0).map(own => own.replace(/\[.*?\]/g, '|'));
    expect(words('H   B   E  H7')).toEqual(words('A   A   A  A7'));
  });
  it('a song without an H, or with one among its words alone, is as it stands', () => {
    expect(chordsOf(read('B   E   F#\nDown by the river\n'))).toEqual(['B', 'E', 'F#']);
    const song = readSong('B   E   F#\nH is for the harbour\n[B]H [E]it is');
    expect(chordsOf(song.tune!)[0]).toBe('B');
    expect(song.guesses.some(({ message }) => message.includes('H is read'))).toBe(false);
  });
});

/** Chords of a song whose lines of chords stand over words. */
const over = (...lines: string[]) =>
  chordsOf(read(lines.map(line => `${line}\nDown by the river where the reeds bend low`).join('\n'))).join(
    ' ',
  );

describe('German names of altered notes (common practice)', () => {
  it('are read, H or not', () => {
    expect(over('D  A7  Fis  H7', 'Es  As  B  Cism7')).toBe('D A7 F# B7 Eb Ab Bb C#m7');
    expect(over('Des  Ges7  Es/B')).toBe('Db Gb7 Eb/Bb');
    expect(readSong('Fis  H\nDown by the river').guesses[0]?.message).toMatch(/^H is among its chords/);
    expect(readSong('Fis  Cis7\nDown by the river').guesses[0]?.message).toMatch(
      /^its chords have German names/,
    );
  });
  it('a suspended chord is none of them', () => {
    expect(over('Esus4  E  Asus2  A')).toBe('Esus4 E Asus2 A');
  });
  it('keep the chords over their words', () => {
    const words = (line: string) =>
      sung(read(`${line}\nDown by the river again\n`), 0).map(own => own.replace(/\[.*?\]/g, '|'));
    expect(words('Fis  Cis H    H7')).toEqual(words('A    A   A    A7'));
  });
  it.each([
    ['Tonart: h-Moll', 'B', 'minor'],
    ['key: Fis-Dur', 'F#', 'major'],
    ['Am Ufer, B-Dur, 3/4', 'Bb', 'major'],
    ['Tonart Es Dur', 'Eb', 'major'],
  ])('"%s" is a key', (head, tonic, mode) => {
    expect(read(`${head}\n\n| E | A | E |`).key).toEqual({ tonic, mode });
  });
  it('a capo by its German name', () => {
    expect(readSong('Kapo 2. Bund\n\n| E | A | E |').tune).toMatchObject({ key: { tonic: 'F#' } });
  });
});

describe('chords in small letters (common practice)', () => {
  it('are minor beside majors in capitals', () => {
    expect(over('d  A7  d', 'g  C  F  d7', 'h°  fis')).toBe('Dm A7 Dm Gm C F Dm7 B° F#m');
    expect(over('G  e  C  D7', 'h  e')).toBe('G Em C D7 Bm Em');
    expect(over('asus4  A  d/F')).toBe('Asus4 A Dm/F');
  });
  it('are what they would be in capitals where all are small, or minor chords have an m in capitals, too', () => {
    expect(over('am  f  c  g7')).toBe('Am F C G7');
    expect(over('d  a7  d', 'g  d')).toBe('D A7 D G D');
    expect(over('Am  f  C  g')).toBe('Am F C G');
    expect(over('bm  em  f#7  bbmaj7')).toBe('Bm Em F#7 Bbmaj7');
  });
  it('with and without m beside capitals: by the key', () => {
    expect(over('C  am  f  g', 'C  f  g  C')).toBe('C Am F G C F G C');
    expect(over('G  e  am  D', 'G  h  e  D')).toBe('G Em Am D G Bm Em D');
  });
  it('in brackets among the words', () => {
    expect(chordsOf(read('[d]Down by the [A7]river and the [g]reeds [d]bend')).join(' ')).toBe('Dm A7 Gm Dm');
  });
  it('how they are read is said once, with the line of the first', () => {
    const { guesses } = readSong('By the River\n\nd  A7  d\nDown by the river\ng  d\nagain');
    expect(guesses.filter(({ message }) => message.includes('small letters'))).toEqual([
      { line: 3, column: 1, message: 'chords in small letters are minor: d is read as Dm' },
    ]);
  });
  it.each(['a', 'do do do', 'a a a', 'go', 'Ah, ah', 'add a dime', 'be bad', 'As a'])(
    'but "%s" among the words is a line of words',
    words => {
      const song = read(`G    C    D\nDown by the river\nG    D\n${words}\nEm   C   G\nwhere the reeds bend`);
      expect(chordsOf(song).join(' ')).toBe('G C D G D Em C G');
    },
  );
  it('a song that names its chords as usual is as it stands', () => {
    const text = readFileSync(new URL('../../demo/songs/lamp.cho', import.meta.url), 'utf8');
    expect(readSong(text).guesses.filter(({ message }) => /German|small letters|H is/.test(message))).toEqual(
      [],
    );
  });
});

describe('chords in solfège (common practice in Romance languages)', () => {
  const SHEET =
    'Titolo: La barca\nTonalità: Do\n\nDo       Sol7\nBarca che vai\nLa m      Fa/La\nla la la\nSib     FA#m7  Do\ndimmi se torni';
  it('are read by their letters, which is said once', () => {
    const song = readSong(SHEET);
    expect(chordsOf(song.tune!).join(' ')).toBe('C G7 Am F/A Bb F#m7 C');
    expect(song.tune).toMatchObject({ title: 'La barca', key: { tonic: 'C', mode: 'major' } });
    expect(song.guesses.filter(({ message }) => message.includes('Do is read as C'))).toHaveLength(1);
    expect(song.leftOut).toEqual([]);
  });
  it('stand over their words, in brackets too', () => {
    expect(sung(readSong(SHEET).tune!, 0)[1]).toBe('[Am]la la la [F/A]');
    expect(sung(read('[Ré]Luna que [La7]brilla\n[Si m]dime'), 0)).toEqual([
      '[D]Luna que [A7]brilla',
      '[Bm]dime',
    ]);
  });
  it('with a remark among them, as German ones', () => {
    expect(chordsOf(read('Do  Sol7 (ferma)\nBarca che vai nel mare')).join(' ')).toBe('C G7');
    expect(chordsOf(read('Hm  Fis7 (leise)\nLeise rieselt der Regen')).join(' ')).toBe('Bm F#7');
  });
  it('are sung where the song has chords in letters', () => {
    const song = read('G    C    D\nDo re mi fa sol\nG       D\nLa la la la\nC G\nfa la');
    expect(chordsOf(song).join(' ')).toBe('G C D G D C G');
    expect(sung(song, 0)[0]).toBe('[G]Do re [C]mi [D]fa sol');
  });
  it('are asked for by their letters where one is typed by itself', () => {
    expect(noSuchChord('Solm7')).toContain('in English it is called Gm7');
  });
});
