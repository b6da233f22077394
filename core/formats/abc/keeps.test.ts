/** What a source says beside its notes is kept, or named with its place. */
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { faultOf } from '../../records';
import { has, ledgerTexts } from '../../score';
import { rereadTune, transposeTune, voiceMeasures, voiceNames } from '../../tune';
import { readAbc } from './index';

const read = (body: string, head = '') => readAbc(`X:1\nT:T\nM:4/4\nL:1/4\n${head}K:D\n${body}\n`)[0]!;
const made = (body: string) =>
  arrange(read(body).tune, { id: 'a', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;

describe('what is kept', () => {
  it('a second voice, measure by measure beside the first, moved to another key with it', () => {
    const { tune, problems } = read('V:1\nABcd|A4|]\nV:2\nDEFG|D4|]\n');
    expect(problems).toEqual([]);
    expect(tune.measures.map(m => m.others!.length)).toEqual([1, 1]);
    expect(tune.measures[0]!.others![0]!.events.map(e => e.pitch!.step)).toEqual(['D', 'E', 'F', 'G']);
    expect(transposeTune(tune, 2).measures[0]!.others![0]!.events[0]!.pitch).toMatchObject({ step: 'E' });
    expect(faultOf('tunes', tune)).toBeUndefined();
    expect(rereadTune(tune, read('V:1\nABcd|A4|]\nV:2\nDEFG|D4|]\n').tune)).toEqual(tune);
    expect(ledgerTexts(made('V:1\nABcd|A4|]\nV:2\nDEFG|D4|]\n')).join()).toMatch(/another voice/);
  });
  it('further voices keep their places and names where one of them is left out of a measure', () => {
    const { tune, problems } = read(
      'V:1\nABcd|A4|B4|]\nV:2\nDEFG|D3|D4|]\nV:3\nA,A,A,A,|G,4|]\n',
      '%%score 1 2 3\nV:1\nV:2 name="Alto"\nV:3 clef=bass name="Cello"\n',
    );
    expect(problems.map(({ message }) => message)).toEqual([
      'measure 2 of voice 2 has another length than the first voice: it is left out',
    ]);
    expect(voiceNames(tune)).toEqual(['Alto', 'Cello']);
    const steps = (voice: number) =>
      voiceMeasures(tune, voice).map(({ events }) => events.map(({ pitch }) => pitch?.step ?? 'z').join(''));
    expect([steps(0), steps(1)]).toEqual([
      ['DEFG', 'z', 'D'],
      ['AAAA', 'G', 'z'],
    ]);
    expect(faultOf('tunes', tune)).toBeUndefined();
  });
  it('chords over further voices, where the melody holds its note', () => {
    const { tune, problems } = read('V:1\n"D"A4|"G"B4|]\nV:2\n"D"DE"A"FG|G4|]\nV:3\nD,2"A7"A,2|"C"G,4|]\n');
    expect(tune.measures.map(m => m.chords.map(({ start, symbol }) => [start / 10080, symbol]))).toEqual([
      [
        [0, 'D'],
        [2, 'A'],
      ],
      [[0, 'G']],
    ]);
    expect(problems.map(({ message }) => message)).toEqual([
      'the chord "A7" stands where another voice has "A"; it is left out',
      'the chord "C" stands where another voice has "G"; it is left out',
    ]);
    expect(faultOf('tunes', tune)).toBeUndefined();
  });
  it('as many voices as a tune keeps; of more it is told how many are left out', () => {
    const voices = (count: number) =>
      read(Array.from({ length: count }, (_, i) => `V:${i + 1}\nABcd|A4|]`).join('\n'));
    expect(voices(16).problems).toEqual([]);
    const { tune, problems } = voices(18);
    expect(problems.map(({ message }) => message)).toEqual([
      '2 voices beyond the 15 that a tune keeps beside its melody: left out',
    ]);
    expect(voiceNames(tune)).toHaveLength(15);
    expect(faultOf('tunes', tune)).toBeUndefined();
  });
  it('lower notes of a double stop', () => {
    const { tune } = read('[FA]4|]');
    expect(tune.measures[0]!.events[0]).toMatchObject({
      pitch: { step: 'A' },
      lower: [{ step: 'F', alter: 1 }],
    });
  });
  it('inline tempo, fermata, signs and remarks', () => {
    const { tune, problems } = read('A"^slowly"B !fermata!c !trill!.d|[Q:1/4=60]A4|]', 'Q:1/4=100\n');
    expect(problems).toEqual([]);
    const [first, second] = tune.measures;
    expect(first!.events.map(e => e.remarks)).toEqual([undefined, ['slowly'], undefined, undefined]);
    expect(first!.events[3]!.signs!.toSorted()).toEqual(['staccato', 'trill']);
    expect(first!.fermatas).toEqual([2 * 10080]);
    expect(second!.tempos).toEqual([{ start: 0, quartersPerMinute: 60 }]);
    expect(faultOf('tunes', tune)).toBeUndefined();
  });
  it('signs that a plucked string knows become techniques, the others are in the ledger', () => {
    const a = made('!accent!A.B!trill!c d|]');
    const [accented, stopped, trilled] = a.measures[0]!.notes;
    expect([has(accented!, 'accent'), has(stopped!, 'damp'), trilled!.techniques]).toEqual([
      true,
      true,
      undefined,
    ]);
    expect(ledgerTexts(a)).toContain('Measure 1: the sign "trill" of the source is left out.');
  });
  it('verses under no notes', () => {
    expect(read('ABcd|]\nW:A second verse\nW:goes on').tune.verses).toEqual(['A second verse', 'goes on']);
  });
});

describe('what is said, with line and column', () => {
  it.each<[string, string, string, number, number, RegExp]>([
    ['words without notes', 'ABcd|]\nw:one two three four five six', '', 7, 22, /"five six"/],
    ['a length of zero', 'A0Bcd|]', '', 6, 1, /no length/],
    ['a tuplet over the barline', 'AB(3cd|e A B c|]', '', 6, 8, /over the barline/],
    ['a voice of another length', 'V:1\nABcd|]\nV:2\nDEF|]\n', '', 9, 1, /voice 2/],
    ['a tempo out of range', 'ABcd|]', 'Q:1/4=2000\n', 5, 1, /400 is taken/],
    ['a tempo without a number', '[Q:"Slowly"]ABcd|]', '', 6, 1, /left out/],
    ['a meter that can not be counted', 'ABcd|]', 'M:5/3\n', 5, 1, /"5\/3"/],
    ['a sign at a barline', 'ABcd!fermata!|]', '', 6, 5, /stands at a barline/],
    [
      'a chord over another voice where the melody has one',
      'V:1\n"D"ABcd|]\nV:2\n"G"DEFG|]\n',
      '',
      9,
      1,
      /"G" stands where another voice has "D"/,
    ],
  ])('%s', (_, body, head, line, column, message) => {
    const text = `X:1\nT:T\n${head.startsWith('M:') ? '' : 'M:4/4\n'}L:1/4\n${head}K:D\n${body}\n`;
    const found = readAbc(text)[0]!.problems.filter(p => message.test(p.message));
    expect(found).toHaveLength(1);
    const [problem] = found;
    const shift = head && !head.startsWith('M:') && !head.startsWith('Q:') ? 1 : 0;
    expect([problem!.line - shift, Math.sign(problem!.column - column) <= 0]).toEqual([
      head.startsWith('M:') ? 4 : line,
      true,
    ]);
  });
});

describe('limits, in words and at once', () => {
  it.each([
    ['(999999999:1:99999ABc', /tuplet/],
    ['(3:2:99999ABc', /tuplet/],
    ['A////////////B', /halved/],
    ['A<<<<<<<<<B', /broken rhythm/],
    ['A99999999', /four digits/],
    ["A'''''''''''''''", /octaves/],
    ['Z9999|', /rest at once/],
    [`[${'A'.repeat(400)}]`, /struck together/],
    [`{${'g'.repeat(400)}}A`, /grace notes/],
    ['A'.repeat(700), /at most 600 notes/],
    ['A|'.repeat(2100), /at most 2000 measures/],
    ['A'.repeat(210_000), /characters/],
  ])('%.12s …', (body, message) => {
    const begun = performance.now();
    const { problems } = read(body);
    expect(
      problems
        .filter(p => p.severity === 'error')
        .map(p => p.message)
        .join(),
    ).toMatch(message);
    // Hours without the limits: a minute here is a machine that has stopped.
    expect(performance.now() - begun).toBeLessThan(60_000);
  });
  it('what stands in quotes, words and remarks may be as long as it likes', () => {
    expect(read(`"^${'9'.repeat(40)}"A4|] % (99999999\nw:${'/'.repeat(40)}`).problems).toEqual([]);
  });
  it('a text longer than any book', () => {
    expect(() => readAbc('x'.repeat(10_000_001))).toThrow(/Divide the book/);
  });
});
