/** Song sheets as notes, messages and band books have them: marks, repeat signs, beats by slashes. Common practice, no source. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chordsOf, played, read, sung } from '../../testing/songs';
import { kindOfText } from '../text';
import { readSong, writeChordPro } from './index';

const left = (text: string) => readSong(text).leftOut.map(({ line, message }) => `${line}: ${message}`);

describe('marks of plain-text markup', () => {
  const PLAIN = 'Lamp\n\nVerse 1\nG      D\nOh my lamp is low\n\nChorus\nC  G\nShine on\n';
  it.each([
    [
      'hashes and fences',
      '# **Lamp**\n\n## **Verse 1**\n```\nG      D\nOh my lamp is low\n```\n### Chorus\n```text\nC  G\nShine on\n```\n',
    ],
    [
      'stars around names and chords',
      '**Lamp**\n\n**Verse 1:**\n**G**      **D**\nOh my      lamp is low\n\n**Chorus**\n**C**  **G**\nShine on\n',
    ],
    [
      'lines drawn between parts',
      'Lamp\n=====\n\nVerse 1\nG      D\nOh my lamp is low\n---\nChorus\nC  G\nShine on\n***\n',
    ],
  ])('%s', (_, text) => {
    const [plain, marked] = [read(PLAIN), read(text)];
    expect([marked.title, kindOfText(text)]).toEqual(['Lamp', 'song']);
    expect(played(marked)).toEqual(played(plain));
    expect(chordsOf(marked)).toEqual(chordsOf(plain));
    expect([sung(marked, 0), sung(marked, 1)]).toEqual([sung(plain, 0), sung(plain, 1)]);
    expect(left(text)).toEqual([]);
  });
  it('bullets before what is said of a song and before its parts', () => {
    const tune = read('Lamp\n- Capo: 2\n* Key: G\n\n- Verse: G D\n- Chorus: C G x2\n');
    expect([tune.title, tune.key.tonic]).toEqual(['Lamp', 'A']);
    expect(played(tune)).toEqual(['Verse', 'Chorus']);
    expect(chordsOf(tune)).toHaveLength(6);
  });
  it('stars around what is said of a song', () => {
    const reading = readSong(
      '# Lamp\n*Style: slow waltz*\n**Capo:** 2 | **Key:** G | **Time:** 3/4\n**Strum:** ↓ ↓↑ ↓↑\n\n## Verse\nG D\n',
    );
    expect([reading.questions, reading.leftOut]).toEqual([[], []]);
    expect(reading.tune).toMatchObject({ title: 'Lamp', rhythm: 'slow waltz', meter: { beats: 3, unit: 4 } });
    expect([reading.capo, reading.strum?.pattern]).toEqual([2, 'D . D U D U']);
  });
  it('a remark keeps its stars, and in ChordPro a hash begins one', () => {
    expect(left('Verse\nG D\n**softly now**\n')).toEqual(['3: the remark "**softly now**"']);
    expect(left('# not a title\n{title: Lamp}\n[G]Oh\n')).toEqual([]);
    expect(read('# not a title\n{title: Lamp}\n**Verse**\n[G]Oh\n').title).toBe('Lamp');
    expect(read('# not a title\n{title: Lamp}\n[G]Oh\n').title).toBe('Lamp');
  });
});

describe('repeat signs', () => {
  it('around a line have it played twice, or as often as is said', () => {
    expect(chordsOf(read('|: G C | D G :|'))).toEqual(['G C@2', 'D G@2', 'G C@2', 'D G@2']);
    expect(chordsOf(read('||: G | D :||'))).toEqual(['G', 'D', 'G', 'D']);
    expect(chordsOf(read('|: G | D :| x3'))).toHaveLength(6);
    expect(chordsOf(read('|:G|D:|'))).toEqual(['G', 'D', 'G', 'D']);
  });
  it('around several lines have what stands between them played again, words once', () => {
    const tune = read('Verse\n|: G | D |\n   Oh  my lamp\n| Em | C :|\n  is   low\n| A | A |\n');
    expect(chordsOf(tune)).toEqual(['G', 'D', 'Em', 'C', 'G', 'D', 'Em', 'C', 'A', 'A']);
    expect(sung(tune, 0).slice(0, 2)).toEqual(['[G]Oh [D]my lamp', '[Em]is [C]low']);
    // Without a beginning it goes back to that of the part.
    expect(chordsOf(read('Verse\n| G | D |\n| Em | C :|\n'))).toHaveLength(8);
  });
  it('that are not followed are told with their place', () => {
    expect(left('Verse\n|: G | D |\n| Em | C |\n')).toEqual([
      expect.stringMatching(/^2: the repeat that begins here has no end/),
    ]);
    expect(left('Verse\n| G |: D | C :| Em |\n')).toEqual([
      expect.stringMatching(/^2: a repeat sign among the chords/),
    ]);
  });
});

describe('beats by slashes', () => {
  it.each([
    ['G / / /  C / D /', ['G', 'C D@2']],
    ['G . C .', ['G C@2']],
    ['G / / / / / / /', ['G', '']],
    ['N.C. / / / G / / /', ['N.C.', 'G']],
    // One between all of the chords parts them; not whole measures, or no slashes: each is a measure.
    ['Am / F / C / G', ['Am', 'F', 'C', 'G']],
    ['G / / D C', ['G', '', '', 'D', 'C']],
    ['G \\ \\ \\ C \\ \\ \\', ['G', 'C']],
    ['G - - - C', ['G', '', '', '', 'C']],
  ])('%s', (text, chords) => expect(chordsOf(read(`Verse\n${text}\n`))).toEqual(chords));
  it('in three there are three to a measure, with words over them', () => {
    const tune = read('meter: 3/4\n\nVerse\nG / /  D / /\nOh my lamp is low\n');
    expect(chordsOf(tune)).toEqual(['G', 'D']);
    expect(sung(tune, 0).join(' ')).toContain('[G]Oh');
    expect(chordsOf(read(writeChordPro(tune)))).toEqual(['G', 'D']);
  });
});

describe('chords at the ends of rows', () => {
  it.each([
    'Verse\nOh my lamp is low   [G D]\nShine on for me     [Em C]\n',
    'Verse\nOh my lamp is low (G D)\nShine on for me (Em C)\n',
    'Verse\nOh my lamp is low | G D |\nShine on for me | Em | C\n',
  ])('begin with the words, and go on at their end: %j', text => {
    const tune = read(text);
    expect(chordsOf(tune)).toEqual(['G', 'D', 'Em', 'C']);
    expect(sung(tune, 0)).toEqual(['[G]Oh my lamp is low [D]', '[Em]Shine on for me [C]']);
    expect(readSong(text).guesses).toContainEqual(
      expect.objectContaining({ line: 2, message: expect.stringContaining('at the ends of the rows') }),
    );
  });
  it('a single one stands over the last word', () => {
    expect(sung(read('Verse\n[G]Oh my lamp is low [D]\n[C]Shine for me [G]\n'), 0)[0]).toBe(
      '[G]Oh my lamp is low [D]',
    );
  });
});

describe('what players say between the rows', () => {
  it('a part over the chords of another, several numbers in a name, the road, counts', () => {
    const text =
      'Verse 1 & 2:\nG   D\nOh my\n\nChorus\nC  G\nShine\nD.S. al Coda\n\nSolo over the chorus chords\n\nInstrumental: chords of the verse\n\nEnd on G\n1 2 3 4\n';
    const tune = read(text);
    expect(played(tune)).toEqual(['Verse 1 & 2', 'Chorus', 'Solo', 'Instrumental']);
    expect(chordsOf(tune).slice(-4)).toEqual(['C', 'G', 'G', 'D']);
    expect(left(text)).toEqual([
      '8: the remark "D.S. al Coda"',
      '14: the remark "End on G"',
      '15: the remark "1 2 3 4"',
    ]);
  });
  it('heads with bars between what they say', () => {
    const reading = readSong(
      'Lamp\nCapo: 2nd fret | Key: G (sounds A) | Tempo: 90bpm | 3/4\n\nVerse\nG D\nOh my\n',
    );
    expect(reading.questions).toEqual([]);
    expect(reading.capo).toBe(2);
    expect(reading.tune).toMatchObject({ meter: { beats: 3, unit: 4 }, quartersPerMinute: 90 });
  });
  it('names of chords over their grips', () => {
    const { tune, choices } = readSong(
      'G      D      Em\n320003 xx0232 022000\n\nVerse\nG D Em\nOh my lamp\n',
    );
    expect(chordsOf(tune!)).toEqual(['G', 'D', 'Em']);
    expect(Object.values(choices)).toEqual(['320003', 'xx0232', '022000']);
  });
});

describe('chords first, and words behind them', () => {
  it('each line of words is sung to a line of the chords, in turn, and that is told', () => {
    const text = 'G C G D\n\nOh my lamp is low and dim\nBurn for me to-night again\n';
    const tune = read(text);
    expect(chordsOf(tune)).toEqual(['G', 'C', 'G', 'D', 'G', 'C', 'G', 'D']);
    expect(sung(tune, 0)).toEqual([
      '[G]Oh my [C]lamp is [G]low [D]and dim',
      '[G]Burn for [C]me [G]to-night [D]again',
    ]);
    expect(readSong(text).guesses).toContainEqual(
      expect.objectContaining({ line: 3, message: expect.stringContaining('shared out evenly') }),
    );
    expect(
      sung(read('Verse\nG C\nD G\n\nOh my lamp\nBurn for me\nOh my light\n'), 0).map(line =>
        line.slice(0, 3),
      ),
    ).toEqual(['[G]', '[D]', '[G]']);
  });
  it('of an intro nobody sings, and words with chords over them are no part of it', () => {
    expect(sung(read('Intro\nG C\n\nVerse\nG     D\nOh my lamp\nlow\n'), 1)[0]).toContain('[G]Oh');
  });
});

describe('verses one below the other under each line of chords', () => {
  const text =
    'Lamp\n\nVerse\nG        D\n1. Oh my lamp is low\n2. And my heart is slow\nC        G\n1. Shine for me a while\n2. Shine a thousand mile\n\nChorus\nC G\nShine\n';
  it('are read one behind the other, with the chords of the first', () => {
    const tune = read(text);
    expect(sung(tune, 0)).toEqual(['[G]Oh my [D]lamp is low', '[C]Shine [G]for me a while']);
    expect(sung(tune, 1)).toEqual(['[G]And my [D]heart is slow', '[C]Shine [G]a thousand mile']);
    expect(readSong(text).guesses).toContainEqual(
      expect.objectContaining({ line: 4, message: expect.stringContaining('one behind the other') }),
    );
    // What is kept reads the same.
    expect(sung(read(tune.song!), 1)).toEqual(sung(tune, 1));
  });
  it('a single line of chords over numbered verses is as it was', () => {
    expect(
      readSong('G        D\n1. Oh my lamp is low\n2. And my heart is slow\n')
        .guesses.map(g => g.message)
        .join(),
    ).not.toContain('one behind the other');
  });
});

describe('strums and picks', () => {
  it.each([
    ['Strum: ↓ ↓↑ ↑↓↑', '4/4', 'D . D U . U D U'],
    ['Picking: p i m a m i', '6/8', 'B 3 2 1 2 3'],
    ['Picking: p(im)a(im)', '4/4', 'B (32) 1 (32)'],
    ['Fingerpicking pattern: 5 3 2 1 2 3', '6/8', '5 3 2 1 2 3'],
  ])('%s', (line, meter, pattern) => {
    const { strum, questions } = readSong(`${line}\nmeter: ${meter}\n\nVerse\nC G\n`);
    expect(questions).toEqual([]);
    expect(strum?.pattern).toBe(pattern);
  });
});

describe('names of parts', () => {
  it('with a remark behind a dash, or chords behind a bar or dash', () => {
    const text = 'Intro | G D | Em C | x2\n\nCHORUS - strummed\nC  G\nShine on\n\nOutro - G D G\n';
    const tune = read(text);
    expect(played(tune).map(name => name.toLowerCase())).toEqual(['intro', 'chorus', 'outro']);
    expect(chordsOf(tune)).toEqual(['G D@2', 'Em C@2', 'G D@2', 'Em C@2', 'C', 'G', 'G', 'D', 'G']);
    expect(left(text)).toEqual(['3: the remark "strummed"']);
  });
  it('with words for numbers, which of them it is, chords in brackets behind them, or rows of strings alone', () => {
    const words = 'VERSE ONE\nG D\nOh my\n\nVERSE TWO\nOh you\n\nChorus\nC G\nShine\n\nFinal Chorus\n';
    expect(played(read(words)).map(name => name.toLowerCase())).toEqual(['verse', 'verse', 'chorus x2']);
    expect(played(read('Chorus\nC G\nShine\n\nVerse\nG\nOh\n\nDouble Chorus:\n'))).toEqual([
      'Chorus',
      'Verse',
      'Chorus x2 again',
    ]);
    expect(chordsOf(read('Verse (G - D - Em)\n'))).toEqual(['G', 'D', 'Em']);
    const strings = 'Intro\ne|--0-|\nB|-1--|\nG|0---|\nD|----|\nA|3---|\nE|----|\n\nVerse\nC G\nOh my\n';
    expect(played(read(strings))).toEqual(['Verse']);
    expect(left(strings)).toEqual([expect.stringMatching(/^2: the rows of strings are not read here/)]);
  });
  it('slashes for bars, and chords in brackets alone over words', () => {
    expect(chordsOf(read('Verse\n/ G / D / C D / G /\n'))).toEqual(['G', 'D', 'C D@2', 'G']);
    expect(chordsOf(read('Verse\n/G /D /C D /G\nOh my lamp is low\n'))).toEqual(['G', 'D', 'C D@2', 'G']);
    expect(sung(read('Verse\n[G]    [D]   [Em]\nOh my  lamp  low\n'), 0)).toEqual([
      '[G]Oh my [D]lamp [Em]low',
    ]);
  });
  it('small pictures and quotes around them, and feels as players call them', () => {
    expect(read('🎸 “Lamp”\n\n🎵 Verse 1\nG D\nOh my\n').title).toBe('Lamp');
    expect(played(read('🎸 Lamp\n\n🎵 Verse 1\nG D\nOh my\n'))).toEqual(['Verse 1']);
    expect(read('Lamp\nFeel: swung 8ths\n\nG D\n').feel).toBe('swing');
  });
  it('and digits raised behind a root', () => {
    expect(chordsOf(read('Verse\nF⁷ Am⁷ D⁹\n'))).toEqual(['F7', 'Am7', 'D9']);
  });
});

it('marks, signs and slashes anywhere: a tune in order, or a question (property)', () => {
  const piece = fc.constantFrom(
    'G',
    'Am7',
    '|',
    '|:',
    ':|',
    '||:',
    '/',
    '.',
    '-',
    '**',
    '##',
    '# ',
    '- ',
    'Verse',
    'Chorus:',
    '\n',
    '\n\n',
    '```',
    '---',
    'x2',
    'oh my',
    '[D]',
    '%',
  );
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 24 }), pieces => {
      const { tune } = readSong(pieces.join(' '));
      if (tune) expect(tune.measures.every(({ ticks }) => ticks > 0)).toBe(true);
    }),
    { numRuns: 300 },
  );
});
