/** Parts and verses of sheets that say little of themselves. */
import { describe, expect, it } from 'vitest';
import { chordsOf, played, read, sung } from '../../testing/songs';
import { readSong } from '..';
import { syllableStarts } from '../syllables';

/** Made up for these tests. */
describe('a song sheet (common practice)', () => {
  it.each([
    // The second syllable of "upon" would be sung to the chord: it stands over the word.
    [
      'Leave a [G]lamp in the [Em]window low',
      'Keep the kettle upon the fire',
      'Keep the [G]kettle [Em]upon the fire',
    ],
    [
      '[C]I can hear [D]the fer[G]ry call',
      'Leave the lamp a-burning there',
      '[C]Leave the lamp [D]a-burning [G]there',
    ],
    ['[G]Row me [C]over, [D]row me [G]home', 'Bring me back again', '[G]Bring [C]me [D]back [G]again'],
    // Fewer words than chords: the last come after them.
    ['[G]Row me [C]over, [D]row me [G]home', 'All alone', '[G]All [C]alone [D] [G]'],
    // What is played without words, at the end or all through.
    ['[G]Row me over [C] [G]', 'Row me home again', '[G]Row me home again [C] [G]'],
    ['G C D G', 'Over the river and over the sea', '[G]Over the [C]river [D]and over [G]the sea'],
  ])('a further verse in words alone has the chords of %j: %j', (model, words, laid) => {
    const { tune, questions } = readSong(`Verse 1\n${model}\n\nVerse 2\n${words}\n`);
    expect(questions).toEqual([]);
    expect(sung(tune!, 1).join(' | ')).toBe(laid);
  });
  it.each([
    [
      'verses by their numbers alone in a row',
      '1.\nG        C\nRow me over\nD        G\nRow me home\n\n2.\nBring me back again\nNever more to roam\n',
      ['[G]Row me [C]over/[D]Row me [G]home', '[G]Bring me back [C]again/[D]Never more [G]to roam'],
    ],
    [
      'verses of a row each',
      '1. [G]Row me [C]over, [D]row me [G]home\n2. Bring me back again, never more to roam\n',
      ['[G]Row me [C]over, [D]row me [G]home', '[G]Bring me back [C]again, [D]never more to [G]roam'],
    ],
    [
      'a verse that is twice as long',
      'Verse 1\n[G]Row me [C]over\n\nVerse 2\nBring me back again\nNever more to roam\n',
      ['[G]Row me [C]over', '[G]Bring me back [C]again/[G]Never more [C]to roam'],
    ],
    [
      'verses that are nothing but rows behind a blank one',
      '[G]Row me [C]over\n[D]Row me [G]home\n\nBring me back again\nNever more to roam\n\nChorus\n[C]Oh the [G]sea\n[C]Oh the [G]sky\n\nSomewhere there is land\nSilver is the sand\n',
      [
        '[G]Row me [C]over/[D]Row me [G]home',
        '[G]Bring me back [C]again/[D]Never more [G]to roam',
        '[C]Oh the [G]sea/[C]Oh the [G]sky',
        '[G]Somewhere [C]there is land/[D]Silver is [G]the sand',
      ],
    ],
    [
      'rows behind a bridge that nobody sings',
      'Verse\n[G]Row me [C]over\n[D]Row me [G]home\n\nBridge\nEm D\n\nBring me back again\nNever more to roam\n',
      [
        '[G]Row me [C]over/[D]Row me [G]home',
        '[Em] [D]',
        '[G]Bring me back [C]again/[D]Never more [G]to roam',
      ],
    ],
    [
      'a line in words alone under one that has its chords',
      '[Verse 1: softly]\n[Am]Walking down [G]the lane\n[F]Walking in [E7]the rain\n\nV2:\n[Am]Turning at [G]the gate\nCounting up to eight\n',
      [
        '[Am]Walking down [G]the lane/[F]Walking in [E7]the rain',
        '[Am]Turning at [G]the gate/[F]Counting up [E7]to eight',
      ],
    ],
    [
      'verses by the names of another language',
      'Strophe 1\n[G]Der Mond ist [D]aufge[G]gangen\n\nRefrain\n[C]So leg dich [G]nieder\n\nStrophe 2\nWie ist die Welt so stille\n',
      [
        '[G]Der Mond ist [D]aufge- [G]gangen',
        '[C]So leg dich [G]nieder',
        '[G]Wie ist die [D]Welt so [G]stille',
      ],
    ],
  ])('%s have the chords of the first', (_, text, parts) => {
    const { tune, questions } = readSong(`Title: Verses\n\n${text}`);
    expect(questions).toEqual([]);
    expect(parts.map((_part, i) => sung(tune!, i).join('/'))).toEqual(parts);
  });
  it.each([
    ['Tempo: 92 bpm  Time: 6/8', { quartersPerMinute: 138, meter: { beats: 6, unit: 8 } }, 0],
    ['Tempo: ca. 84', { quartersPerMinute: 84 }, 0],
    ['Tempo: 92-96 beats per minute', { quartersPerMinute: 92 }, 0],
    ['Meter: 3/4 waltz', { meter: { beats: 3, unit: 4 } }, 0],
    ['Capo: III', {}, 3],
    ['Capo VII  Key: D', {}, 7],
    ['3/4 in D', { meter: { beats: 3, unit: 4 }, key: { tonic: 'D', mode: 'major' } }, 0],
    ['Capo 2 - play in D shapes (sounds in E)', { key: { tonic: 'E', mode: 'major' } }, 2],
    ['Key - D', { key: { tonic: 'D', mode: 'major' } }, 0],
  ])('says of itself %j', (head, said, capo) => {
    const reading = readSong(`Title: Head\n${head}\n\nVerse\n[D]Over the fields of [A]barley\n`);
    expect(reading.questions).toEqual([]);
    expect(reading.leftOut).toEqual([]);
    expect(reading.tune).toMatchObject(said);
    expect(reading.capo).toBe(capo);
  });
  it.each([
    ['Verse: G C G D\nChorus: C G D G', ['Verse', 'Chorus']],
    ['Verse:\nG C G D\nOutro: G', ['Verse', 'Outro']],
    [
      'V:\nG C\nCh:\nC G\nBr: Em D\nV2: G C\nCh x2',
      ['Verse', 'Chorus', 'Bridge', 'Verse again', 'Chorus x2 again'],
    ],
    ['[Chorus]\nG C\n\n[Chorus - softly]', ['Chorus x2']],
    ['V\nG C\n\nC:\nC G\n\nB:\nEm D', ['Verse', 'Chorus', 'Bridge']],
    ['A:\nG C\n\nB:\nEm D\n\nC:\nC G', ['A', 'B', 'C']],
    ['Intro: G D\n\nVerse\nC G\n\nBreak (same as intro)', ['Intro', 'Verse', 'Break']],
    ['1. [Verse]\nG C! D*\n\n2. [Chorus]\nC G', ['Verse', 'Chorus']],
    // Its words may stand behind a part's name, too.
    ['G       C\nVerse: Row me over\nC     G\nChorus: Row', ['Verse', 'Chorus']],
  ])('has parts with nothing between them: %j', (text, parts) => {
    const { tune, questions } = readSong(`Title: Parts\n\n${text}\n`);
    expect(questions).toEqual([]);
    expect(played(tune!)).toEqual(parts);
  });
  it('titles and who made it, as people write them', () => {
    const head = (text: string) => readSong(`${text}\n\nVerse\n[D]Over the fields of [A]barley\n`).tune!;
    expect(head('Title - The Lantern')).toMatchObject({ title: 'The Lantern' });
    expect(head('The Lantern (trad.)')).toMatchObject({ title: 'The Lantern', composer: 'trad.' });
    expect(head('The Lantern\nTraditional Scottish')).toMatchObject({ composer: 'Traditional Scottish' });
    expect(head('Title: The Lantern (trad.)')).toMatchObject({ title: 'The Lantern', composer: 'trad.' });
    expect(head('The Lantern, traditional')).toMatchObject({ title: 'The Lantern', composer: 'traditional' });
  });
});

describe('rows of chords as people type them', () => {
  const lines = (text: string) => {
    const { tune, questions } = readSong(`Title: Rows\n\n${text}\n`);
    expect(questions).toEqual([]);
    return tune!;
  };
  it.each([
    [
      'dots and dashes that run into a chord',
      'G... D..  C--  G~\nLamp on the river today',
      '[G]Lamp [D]on [C]the ri- [G]ver today',
    ],
    ['a remark among them', 'G  (let ring)  C  [pause]\nShine a long while', '[G]Shine a long [C]while'],
    [
      'tabs, which lead to every eighth column',
      '\tG\tC\nLamp on\tthe old\triver',
      'Lamp on [G]the old [C]river',
    ],
  ])('%s', (_, text, line) => {
    expect(sung(lines(`Verse\n${text}`), 0)[0]).toBe(line);
  });
  it('behind the name of their part in brackets, with words too', () => {
    const song = lines('[Verse 1] G  D\nLamp on the river\n\n[Chorus] C  G\nShine\n\n[Chorus] x2');
    expect(played(song)).toEqual(['Verse 1', 'Chorus x3']);
    expect(sung(song, 0)).toEqual(['Lamp on [G]the [D]river']);
  });
  it.each([
    ['from the margin', 'when the evening is slow'],
    ['under its own chords', '                         when the evening is slow'],
  ])('over a long line of words that was broken, the rest %s', (_, rest) => {
    const { tune, guesses } = readSong(
      `Verse\nG                     C                G\nDown the long road we go\n${rest}\nD7           G\nNobody waits there\n`,
    );
    expect(sung(tune!, 0)[0]).toBe('[G]Down the long road we [C]go when the eve- [G]ning is slow');
    expect(guesses.map(({ message }) => message)).toContain(
      '“when the evening is slow” goes on with the row before: chords stand beyond that',
    );
  });
  it('a further verse in as many rows is broken alike, also where it is only behind a blank row', () => {
    const first =
      'Verse 1\nG                     C               G\nDown the long road we go\nwhen the evening is slow\nD7           G\nNobody waits there';
    const second = 'Round the old mill we come\nby the light of the sun\nEverybody sleeps there';
    for (const head of ['Verse 2\n', '\n']) {
      const tune = lines(`${first}\n${head}${second}`);
      expect(sung(tune, 1)).toEqual([
        '[G]Round the old mill we [C]come by the light [G]of the sun',
        '[D7]Everybody sleeps [G]there',
      ]);
    }
  });
  it('that end with their words leave the next row its last chord, as do rows of a verse', () => {
    const held = sung(lines('Verse\nG        C\nDown the long road we go\nwhen the evening is slow'), 0);
    expect(held).toEqual(['[G]Down the [C]long road we go', 'when the evening is slow']);
    const verse = lines(
      'Verse\nG            C\nDown the road\nwhen the evening\nis slow at last\nand far from home',
    );
    expect(sung(verse, 0)[0]).toBe('[G]Down the road [C]');
  });
  it('with the beats they last, where all of them say it; else C(4) is a suspended one', () => {
    expect(chordsOf(lines('Verse\nEm(2) G(2) | D(4)'))).toEqual(['Em G@2', 'D']);
    expect(chordsOf(lines('Verse\nC(4) G'))).toEqual(['C(4)', 'G']);
  });
  it('what is said of the key, and behind a row, is told and not sung', () => {
    const { tune, leftOut } = readSong(
      'Verse\nEm - D - C - G (2x), last time end on D\n\nKey change to A\n\nVerse 2 (as verse 1)\n',
    );
    expect(leftOut.map(({ message }) => message)).toEqual([
      'the remark "last time end on D"',
      'the remark "Key change to A"',
    ]);
    expect(played(tune!)).toEqual(['Verse x2']);
  });
});

describe('a chord over the middle of a word', () => {
  const over = (chords: string, words: string) => sung(read(`Verse\n${chords}\n${words}\n`), 0)[0];
  it('stands over the syllable that is nearest', () => {
    expect(over('G       A', 'Home before the')).toBe('[G]Home be- [A]fore the');
    expect(over('G    A', "G'night there's a light")).toBe("[G]G'night [A]there's a light");
    expect(over('   G     D', "There's a light")).toBe("[G]There's a [D]light");
    expect(over('G             D', 'Light the old lantern')).toBe('[G]Light the old [D]lantern');
    expect(over('G                 D', 'Light the old lantern')).toBe('[G]Light the old lan- [D]tern');
    expect(over('G        D', 'Down by streams of')).toBe('[G]Down by [D]streams of');
  });
  it.each([
    // Divided as dictionaries divide them (from memory), but for doubled consonants.
    ['before', 'be fore'],
    ["there's", "there's"],
    ['wa-ter', 'wa- ter'],
    ['mountain', 'moun tain'],
    ['children', 'chil dren'],
    ['wonder', 'won der'],
    ['table', 'ta ble'],
    ['mother,', 'mo ther,'],
    ['home,', 'home,'],
    ['schöner', 'schö ner'],
    ['corazón', 'co ra zón'],
    ['Madrugada', 'Ma dru ga da'],
  ])('%s has its syllables', (word, parts) => {
    const starts = syllableStarts(word);
    expect(starts.map((start, i) => word.slice(start, starts[i + 1])).join(' ')).toBe(parts);
  });
});
