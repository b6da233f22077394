import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { playingOrder } from '../timeline';
import { chordSpans, formOf, measureNumbers, sectionLabels, sectionsOf, suggestChords } from './index';

const tuneOf = (body: string, head = 'M:4/4\nL:1/4\nK:G') =>
  readAbc(`X:1\nT:Form\n${head}\n${body}\n`)[0]!.tune;
const order = (body: string) => playingOrder(tuneOf(body)).map(i => i + 1);

describe('playing order', () => {
  it('plays through without signs', () => expect(order('GABc|GABc|]')).toEqual([1, 2]));
  it('repeats from the last repeat sign or the start', () => {
    expect(order('GABc|dddd:|GABc|dddd:|')).toEqual([1, 2, 1, 2, 3, 4, 3, 4]);
    expect(order('|:GABc:||:dddd:|')).toEqual([1, 1, 2, 2]);
    expect(order('G4|:GABc:|d4|]')).toEqual([1, 2, 2, 3]);
  });
  it('takes first and second endings in turn', () => {
    expect(order('|:GABc|1 d4:|2 G4|]')).toEqual([1, 2, 1, 3]);
    expect(order('|:GABc|1 d4|e4:|2 G4|A4||cccc|]')).toEqual([1, 2, 3, 1, 4, 5, 6]);
  });
  it('plays as often as the endings ask', () => {
    expect(order('|:GABc|1,3 d4:|2 e4:|4 G4|]')).toEqual([1, 2, 1, 3, 1, 2, 1, 4]);
  });
  it('A A B B of eight-measure parts: 16 measures written, 32 played (common practice)', () => {
    const eight = 'GABc|'.repeat(7);
    const tune = tuneOf(`|:${eight}GABc:||:${eight}GABc:|`);
    expect(tune.measures).toHaveLength(16);
    expect(playingOrder(tune)).toHaveLength(32);
    expect(formOf(tune.measures)).toEqual(['A', 'A', 'B', 'B']);
  });
});

describe('sections and numbers', () => {
  it('uses names the source gives', () => {
    const tune = tuneOf('P:Verse\nGABc|dddd||\nP:Chorus\nGABc|G4|]');
    expect(sectionsOf(tune.measures).map(s => [s.name, s.from, s.to])).toEqual([
      ['Verse', 0, 2],
      ['Chorus', 2, 4],
    ]);
  });
  it('of one name are told apart by the number that their first measure has', () => {
    const tune = tuneOf('D|P:A\nGABc|dddd||\nP:B\nGABc|G4||\nP:A\nGABc|G4|]', 'M:4/4\nL:1/4\nK:G');
    expect(sectionLabels(tune.measures)).toEqual(['A from the pickup', 'B', 'A from measure 5']);
  });
  it('a pickup has no number, belongs to its section, and its complement closes the measure', () => {
    const tune = tuneOf('D|:GABc|GGG:|', 'M:4/4\nL:1/4\nK:G');
    expect(tune.measures.map(m => m.offset > 0)).toEqual([true, false, false]);
    expect(measureNumbers(tune.measures)).toEqual([0, 1, 2]);
    expect(sectionsOf(tune.measures)).toHaveLength(1);
  });
});

describe('chords', () => {
  it('hold until the next one, over barlines', () => {
    expect(chordSpans(tuneOf('"G"GABc|dd"C"ee|]')).map(s => [s.symbol, s.ticks / 10080])).toEqual([
      ['G', 6],
      ['C', 2],
    ]);
  });
  it('suggests the common ones for a bare melody that spells them', () => {
    const tune = suggestChords(tuneOf('GBdB|cege|dfaf|G4|]', 'M:4/4\nL:1/4\nK:G'));
    expect(tune.measures.map(m => m.chords[0]!.symbol)).toEqual(['G', 'C', 'D7', 'G']);
  });
  it('a modal tune gets the chord on its flat seventh, not the dominant', () => {
    const tune = suggestChords(tuneOf('AcEA|GBdG|AcEA|GDB,G,|A4|]', 'M:4/4\nL:1/4\nK:Ador'));
    expect(tune.measures.map(m => m.chords[0]!.symbol)).toEqual(['Am', 'G', 'Am', 'G', 'Am']);
  });
});
