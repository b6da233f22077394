/** Dictation: what is said becomes notes, what contradicts itself is asked about at its place. */
import { describe, expect, it } from 'vitest';
import { TICKS_PER_QUARTER } from '../../time';
import { readDictation } from './index';

const BEAT = TICKS_PER_QUARTER;
const read = (text: string, meter = { beats: 4, unit: 4 }) => readDictation(text, { meter });
/** Notes as "start length s2 f3", in quarters. */
const notes = (text: string, meter?: { beats: number; unit: number }) => {
  const { measures, questions } = read(text, meter);
  expect(questions).toEqual([]);
  return measures.map(m =>
    m.notes
      .toSorted((a, b) => a.start - b.start || a.string - b.string)
      .map(n => `${n.start / BEAT} ${+(n.ticks / BEAT).toFixed(3)} s${n.string} f${n.fret}`),
  );
};
const techniques = (text: string) =>
  read(`${text} ...`).measures[0]!.notes.map(n => n.techniques?.map(({ ...t }) => t) ?? []);
const asked = (text: string, meter?: { beats: number; unit: number }) =>
  read(text, meter).questions.map(q => `${q.line}:${q.column} ${q.message}`);

describe('a dictation', () => {
  it('carries the string and the length over', () => {
    expect(notes('s4 E 0 2h3 s3 0 2/4 Q r | s1 H 3 3')).toEqual([
      ['0 0.5 s4 f0', '0.5 0.5 s4 f2', '1 0.5 s4 f3', '1.5 0.5 s3 f0', '2 0.5 s3 f2', '2.5 0.5 s3 f4'],
      ['0 2 s1 f3', '2 2 s1 f3'],
    ]);
  });
  it('puts together what stands in square brackets, and keeps its own string outside', () => {
    expect(notes('s2 Q [1 s5 3] 3 H [s3 0] ')).toEqual([
      ['0 1 s2 f1', '0 1 s5 f3', '1 1 s2 f3', '2 2 s3 f0'],
    ]);
  });
  it('a whole grip slides', () => {
    const { measures } = read('[s2 Q 5/7 s3 5/7] ...');
    expect(measures[0]!.notes.map(n => [n.start / BEAT, n.string, n.fret, n.techniques?.[0]?.kind])).toEqual([
      [0, 2, 5, undefined],
      [1, 2, 7, 'slide'],
      [0, 3, 5, undefined],
      [1, 3, 7, 'slide'],
    ]);
  });
  it('goes back to the beginning of the measure for another layer', () => {
    expect(notes('s1 Q 0 1 3 1 & bass: s5 H 3 3')[0]).toEqual([
      '0 1 s1 f0',
      '0 2 s5 f3',
      '1 1 s1 f1',
      '2 1 s1 f3',
      '2 2 s5 f3',
      '3 1 s1 f1',
    ]);
    expect(read('s1 W 0 & bass: s5 H 3 3').measures[0]!.notes.map(n => n.role)).toEqual([
      undefined,
      'bass',
      'bass',
    ]);
  });
  it('has repeats, endings, parts and words', () => {
    const text = [
      'part: Verse',
      '|: s1 Q 0 1 3 1 & bass: s5 W 0 | auto: s2 Q 1 H 3 ... |',
      'w: Down by the val-ley *',
      'w: Up_on the hill there',
      '1st: s1 W 0 :| 2nd: s1 W 3 ||',
      'w: * so',
      'part: Chorus',
      's1 W 0 | x2 :|x3',
    ].join('\n');
    const { measures, questions } = read(text);
    expect(questions).toEqual([]);
    expect(measures.map(m => [m.section, m.ending, m.repeat])).toEqual([
      ['Verse', undefined, { start: true }],
      [undefined, undefined, undefined],
      [undefined, [1], { end: true }],
      [undefined, [2], undefined],
      ['Chorus', undefined, undefined],
      [undefined, undefined, { end: true, passes: 3 }],
    ]);
    expect(measures[0]!.words).toEqual([
      { start: 0, verses: ['Down', 'Up on'] },
      { start: BEAT, verses: ['by', 'the'] },
      { start: 2 * BEAT, verses: ['the', 'hill'] },
      { start: 3 * BEAT, verses: ['val-', 'there'] },
    ]);
    expect(measures[1]!.words).toEqual([{ start: 0, verses: ['ley'] }]);
    expect(measures.slice(2, 4).map(m => m.words?.[0]?.verses)).toEqual([undefined, ['so']]);
    expect(asked(':| s1 W 0')).toEqual(['1:1 there is no measure before this that a repeat could end with']);
    expect(asked('s1 H 0\npart: B\n3')).toEqual([
      '2:1 “part:” stands between measures: end the one before it with |',
    ]);
    expect(asked('s1 W 0 |\nw: one too ma-ny')).toEqual([
      '2:1 here are more syllables than notes of the melody: 4, not 1',
    ]);
    expect(asked('s1 H 0 1st: 3')).toEqual(['1:8 “1st:” stands at the beginning of a measure']);
  });
  it('says groups and measures again', () => {
    expect(notes('s1 E (0 3) x4')[0]).toHaveLength(8);
    expect(notes('s1 W 3 | x3 | 5')).toEqual([['0 4 s1 f3'], ['0 4 s1 f3'], ['0 4 s1 f3'], ['0 4 s1 f5']]);
  });
  it('knows triplets, dots, sounding on within the measure and over its barline', () => {
    expect(notes('s1 E3 0 1 3 Q. 3 E 1 Q 0')[0]).toEqual([
      '0 0.333 s1 f0',
      `${1 / 3} 0.333 s1 f1`,
      `${2 / 3} 0.333 s1 f3`,
      '1 1.5 s1 f3',
      '2.5 0.5 s1 f1',
      '3 1 s1 f0',
    ]);
    expect(
      read('s1 E3 0 1 3 0 1 3 Q 3 3').measures[0]!.notes.map(n => n.tuplets?.map(t => t.group)[0]),
    ).toEqual([1001, 1001, 1001, 1002, 1002, 1002, undefined, undefined]);
    const { measures } = read('s1 Q 0 - 1 3 | - H. 5');
    expect(measures[0]!.notes.map(n => n.ticks / BEAT)).toEqual([2, 1, 1]);
    expect(measures[1]!.notes[0]).toMatchObject({ start: 0, fret: 3, tie: true });
  });
  it('knows every technique', () => {
    expect(techniques('s2 E /7')).toEqual([[{ kind: 'slide-in', way: 'below' }]]);
    expect(techniques('s2 E \\7')).toEqual([[{ kind: 'slide-in', way: 'above' }]]);
    expect(techniques('s2 E 7\\ 7/')).toEqual([
      [{ kind: 'slide-off', way: 'below' }],
      [{ kind: 'slide-off', way: 'above' }],
    ]);
    expect(techniques('s2 E 7b9 7b8r7 7b9rb9 7^9')).toEqual(
      [
        [2, 'up'],
        [1, 'release'],
        [2, 'repeat'],
        [2, 'pre'],
      ].map(([semitones, shape]) => [{ kind: 'bend', semitones, shape }]),
    );
    expect(techniques('s2 E 5h7p5 5/7\\5 5//7')).toEqual([
      [],
      [{ kind: 'hammer', from: '?' }],
      [{ kind: 'pull', from: '?' }],
      [],
      [{ kind: 'slide', from: '?' }],
      [{ kind: 'slide', from: '?' }],
      [],
      [{ kind: 'slide', from: '?', again: true }],
    ]);
    expect(techniques('s2 E <12> 5<17> x 5~ 5> 5m 5. 5=')).toEqual([
      [{ kind: 'harmonic' }],
      [{ kind: 'harmonic', touch: 12 }],
      [{ kind: 'dead' }],
      [{ kind: 'vibrato' }],
      [{ kind: 'accent' }],
      [{ kind: 'palm-mute' }],
      [{ kind: 'damp' }],
      [{ kind: 'let-ring' }],
    ]);
    const { notes: graced } = read("s2 E {2}3:2'm {2/}3:t ...").measures[0]!;
    expect(graced).toMatchObject([
      { fret: 3, graces: [2], finger: 2, pluck: 'm' },
      { fret: 3, graces: [2], graceBy: 'slide', finger: 5 },
    ]);
  });
  it('has a heading, chords, remarks and a pickup', () => {
    const { heading, measures, pickup } = read(
      'title: Lantern Step\ntuning: D A D G A D\nmeter: 3/4\ncapo: 2\nkey: Em\ntempo: 96\n# a remark\npickup s1 Q 2 | "Em" s2 H. 3 # held\n',
    );
    expect(heading).toEqual({
      title: 'Lantern Step',
      tuning: ['D4', 'A3', 'G3', 'D3', 'A2', 'D2'],
      meter: { beats: 3, unit: 4 },
      capo: 2,
      key: { tonic: 'E', mode: 'minor' },
      quartersPerMinute: 96,
    });
    expect(pickup).toBe(BEAT);
    expect(measures.map(m => [m.ticks / BEAT, m.chords?.[0]?.name])).toEqual([
      [1, undefined],
      [3, 'Em'],
    ]);
  });
});

describe('what contradicts itself', () => {
  it.each([
    ['5', /^1:1 on which string\?/],
    ['s1 E 4h2 ...', /^1:8 a hammer-on goes to a higher fret, and 2 is not above 4$/],
    ['s1 E 2p4 ...', /a pull-off goes to a lower fret/],
    ['s1 E 4/2 ...', /“\/” slides up, and 2 is below 4/],
    ['s1 E 2\\4 ...', /“\\” slides down, and 4 is above 2/],
    ['s1 E 7b7 ...', /^1:7 a bend goes one to four frets up/],
    ['s7 1', /^1:1 there is no string 7: there are 6$/],
    ['s1 30 ...', /^1:4 string 1, E: fret 30 is not on this neck/],
    ['s1 [3 s1 5] ...', /struck twice at once/],
    [
      's1 Q 1 2 3',
      /measure 1 is too short by a quarter: it holds 3 of 4 beats.*or begin it with the word pickup/,
    ],
    ['s1 Q 1 2 3 4 5', /measure 1 is too long by a quarter: it holds 5 of 4 beats/],
    ['s1 W 1 | pickup Q 2 ...', /a pickup stands before the first measure/],
    ['s1 (3 5 ...', /this bracket is not closed/],
    ['s1 [3 s2 5 | 3', /this bracket is not closed in its measure/],
    ['s1 3y ...', /^1:5 “y” is no sign behind a fret/],
    ['"Hm" s1 W 3', /“Hm” is no chord that is known here/],
    ['x2', /no measure before this/],
    ['s1 W 3 x2', /again is said of a measure behind its barline/],
    ['- s1 3', /nothing sounds here/],
    ['meter: 4/5\ns1 W 3', /^1:1 a meter is written as/],
    ['\n\ns1 W 3 | s2 Q hello ...', /^3:15 a fret is expected, not “hello”/],
    ['', /nothing is written here yet/],
  ])('%j is asked about', (text, message) => {
    expect(asked(text)[0]).toMatch(message);
  });
  it('all that is to be asked is asked at once', () => {
    expect(asked('s1 Q 1 2 | s2 E 4h2')).toHaveLength(3);
  });
});
