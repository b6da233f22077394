import { expect, it } from 'vitest';
import { readAbc } from '../../formats';
import { ledgerTexts, noteMidi } from '../../score';
import { arrange } from '../index';
import { clashes } from '../search/candidates';

it('what stands in for a string of a pattern rubs no semitone under the melody (common practice: no minor ninth)', () => {
  // Up the neck over E minor nothing but B lies under the hand where the melody has C.
  const tune = readAbc(
    'X:1\nT:T\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=88\nK:Em\n"Em"BBB|BAG|GFE|EGB|eee|edc|"Am"cBA|ABc|"B7"BcB|^dcB|"Em"BAG|GFE|"B7"FFF|FGF|"Em"EEE|E3|]',
  )[0]!.tune;
  const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
  const { setup, measures } = arrangement!;
  const under = measures.flatMap(({ notes }) =>
    notes
      .filter(note => note.role === 'melody')
      .flatMap(top =>
        notes
          .filter(own => own.role === 'inner' && own.start === top.start)
          .map(own => [noteMidi(setup, top), noteMidi(setup, own)] as const),
      ),
  );
  expect(Math.max(...measures.flatMap(own => own.notes.map(note => note.fret)))).toBe(12);
  expect(under.length).toBeGreaterThan(15);
  expect(under.filter(([top, own]) => clashes(top, own))).toEqual([]);
});

it('of two strings of a pattern that are plucked at once none stands in on a thumb’s string where one has room (common practice)', () => {
  const tune = readAbc(
    'X:1\nT:T\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=88\nK:Am\n"Am"c2B|A3|"Dm"d2c|"Am"c2B|A3|"E7"B2d|"Am"c2B|A3|"E7"B2B|"Am"A2A|]',
  )[0]!.tune;
  const { arrangement } = arrange(tune, {
    id: 'a',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { bass: 'pattern', pattern: 'B (32) (32)', bassTurns: true },
  });
  const plucked = arrangement!.measures.slice(0, -1).flatMap(({ notes }) => {
    const low = notes.filter(n => n.role === 'melody' && n.string === 3 && n.fret === 2);
    return notes.filter(n => n.role === 'inner' && low.some(m => m.start < n.start));
  });
  // Under A on string 3 the fourth string alone goes with the bass.
  expect(plucked.length).toBeGreaterThan(2);
  expect(new Set(plucked.map(n => n.string))).toEqual(new Set([4]));
});

it('a string that would sound as the bass does is left out where another goes with it, rather than taken up the neck (common practice)', () => {
  const tune = readAbc(
    'X:1\nT:T\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=104\nK:G\n"G"ggg|"D7"fef|"G"gab|"D7"agf|"Em"gba|"C"gfe|"D7"def|"G"g3|]',
  )[0]!.tune;
  const request = { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0, transposition: 0 } as const;
  const { arrangement } = arrange(tune, request);
  const climbs = arrangement!.measures[2]!.notes;
  // The root lies on string 4 at fret 5, as high as the open third string.
  expect(climbs.filter(n => n.role === 'bass').map(n => `${n.string}/${n.fret}`)).toEqual(['4/5']);
  expect(climbs.filter(n => n.role === 'inner').map(n => `${n.string}/${n.fret}`)).toEqual(['2/0', '2/0']);
  expect(ledgerTexts(arrangement!).join()).toContain('string 3 of the pattern would sound as another does');
});
