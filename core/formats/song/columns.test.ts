/** Sheets in two columns, as they are copied off a page. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { cases } from '../../testing/setup';
import { read, sung } from '../../testing/songs';
import { readSong } from '..';

/** Texts side by side, the second one from a column on. */
const beside = (left: string, right: string, column: number) => {
  const [one, two] = [left.split('\n'), right.split('\n')];
  const rows = Array.from({ length: Math.max(one.length, two.length) }, (_, i) =>
    `${(one[i] ?? '').padEnd(column)}${two[i] ?? ''}`.trimEnd(),
  );
  return rows.join('\n');
};
const FIRST = `Verse 1
G            C
Down by the mill where the river
G          D
runs I saw a boat go by`;
const SECOND = `Verse 2
G            C
Up on the hill where the barley
G           D
grows I saw the sun go down`;
const CHORUS = 'Chorus\nC              G\nRow, row, the miller’s boat\nD              G\nRow it to the sea';

it('two verses side by side are sung one after the other, and told', () => {
  const { guesses } = readSong(`The Boat\n\n${beside(FIRST, SECOND, 37)}\n\n${CHORUS}\n`);
  expect(guesses).toContainEqual({
    line: 3,
    column: 1,
    message: expect.stringContaining('one below the other'),
  });
  const tune = read(`The Boat\n\n${beside(FIRST, SECOND, 37)}\n\n${CHORUS}\n`);
  expect([0, 1, 2].map(part => sung(tune, part).join(' / '))).toEqual([
    '[G]Down by the [C]mill where the river / [G]runs I saw [D]a boat go by',
    '[G]Up on the hill [C]where the barley / [G]grows I saw [D]the sun go down',
    '[C]Row, row, the [G]miller’s boat / [D]Row it to the [G]sea',
  ]);
  // What is kept has its verses one below the other, and is read as the same.
  expect(readSong(tune.song!)).toMatchObject({ questions: [], tune: { measures: tune.measures } });
  expect(tune.song).not.toContain('river  ');
});
it('columns that go on under a blank line are read down the first, then down the second', () => {
  const page = `${beside(FIRST, SECOND.replace('Verse 2', 'Verse 3'), 40)}\n\n${beside(CHORUS, FIRST.replace('Verse 1', 'Bridge'), 40)}`;
  const names = read(page)
    .song!.split('\n')
    .filter(row => /^(Verse|Chorus|Bridge)/.test(row));
  expect(names).toEqual(['Verse 1', 'Chorus', 'Verse 3', 'Bridge']);
});
it('words alone may stand in two columns, too; what is asked or left out is told where it is in the text', () => {
  const words = beside(
    'Verse 2\nKeep the kettle on the fire\nKeep the kitchen warm',
    'Verse 3\nHear the barge upon the water\nHear the morning bell',
    34,
  );
  const text = `${FIRST}\n\n${words}\n`;
  const tune = read(text);
  expect([1, 2].map(part => sung(tune, part)[0]!.replace(/\[\w+\]/g, ''))).toEqual([
    'Keep the kettle on the fire',
    'Hear the barge upon the water',
  ]);
  const unknown = beside(FIRST, SECOND.replace('Verse 2', 'Verse 2 as the bridge'), 40);
  expect(readSong(unknown).questions).toMatchObject([{ line: 1, column: 41 }]);
  const unread = beside(FIRST, SECOND.replace('Verse 2', 'tempo: fast'), 40);
  expect(readSong(unread).leftOut).toMatchObject([{ line: 1, column: 41 }]);
});
it.each([
  [
    'words that are pulled apart under their chords',
    'G        C\nRow     me     over\nD           G\nRow me        home again',
  ],
  [
    'one row that has a wide gap',
    'G            C\nRow me over      row me home\nD      G\nNever more to roam',
  ],
  ['chords in bars', '| G     | C     |\n| D     | G     |\nRow me over\n| G     | C     |\nRow me home'],
  ['a title and its maker in a row', 'The Boat          made up\n\nG            C\nRow me over, row me home'],
])('%s are one column', (_, text) => {
  expect(
    readSong(text)
      .guesses.map(({ message }) => message)
      .join(),
  ).not.toContain('side by side');
});
it('any words over any chords read side by side as one below the other (property)', () => {
  const word = fc.constantFrom('lamp', 'river', 'boat', 'over', 'the', 'evening', 'stone', 'bell', 'hollow');
  const chord = fc.constantFrom('G', 'C', 'D7', 'Em', 'Am', 'F#m');
  const line = fc
    .tuple(fc.array(word, { minLength: 2, maxLength: 6 }), fc.array(chord, { minLength: 1, maxLength: 2 }))
    .map(([words, chords]) => {
      const text = words.join(' ');
      const second = text.indexOf(' ') + 1;
      const row =
        chords.length > 1
          ? chords[0]!.padEnd(Math.max(second, chords[0]!.length + 1)) + chords[1]!
          : chords[0]!;
      return `${row}\n${text}`;
    });
  const verse = fc.array(line, { minLength: 2, maxLength: 4 }).map(lines => lines.join('\n'));
  fc.assert(
    fc.property(verse, verse, fc.integer({ min: 3, max: 12 }), (one, two, gap) => {
      const widest = Math.max(...one.split('\n').map(row => row.length));
      const columns = read(beside(`Verse 1\n${one}`, `Verse 2\n${two}`, widest + gap));
      const below = read(`Verse 1\n${one}\n\nVerse 2\n${two}`);
      expect(columns.measures).toEqual(below.measures);
      expect(columns.order).toEqual(below.order);
    }),
    { numRuns: cases(40) },
  );
});
