import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { checkArrangement } from '../../check';
import { faultOf } from '../../records';
import { tunes } from '../../testing/tunes';
import { TICKS_PER_WHOLE } from '../../time';
import { lengthFaults, melodyNotes, rereadTune } from '../../tune';
import { readAbc, writeChords } from './index';

describe('reading generated ABC', () => {
  it('finds key, meter, every pitch and every measure length', () => {
    fc.assert(
      fc.property(tunes(), generated => {
        const [entry] = readAbc(generated.abc);
        expect(entry!.problems.filter(p => !/there (are no notes|is no melody)/.test(p.message))).toEqual([]);
        const { tune } = entry!;
        expect(tune.key).toEqual(generated.key);
        // How its beats go together is heard from its notes, and adds up (the schema asks for that).
        expect(tune.meter).toMatchObject(generated.meter);
        expect(faultOf('tunes', tune)).toBeUndefined();
        expect(tune.measures.map(m => m.ticks)).toEqual(generated.lengths);
        expect(melodyNotes(tune).map(n => n.midi)).toEqual(generated.melody);
        expect(lengthFaults(tune)).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what ABC can say', () => {
  const one = (abc: string) => readAbc(abc)[0]!;
  const head = 'X:1\nT:T\nM:4/4\nL:1/8\nK:D\n';

  it('heading: title, meter, key in every mode, unit length, tempo, composer, kind', () => {
    const { tune } = one(
      'X:7\nT:A Title\nC:A. Maker\nR:jig\nM:6/8\nL:1/16\nQ:3/8=100\nK:F#mix\nf2f2f2 f6|]\n',
    );
    expect(tune).toMatchObject({
      title: 'A Title',
      composer: 'A. Maker',
      rhythm: 'jig',
      meter: { beats: 6, unit: 8 },
      key: { tonic: 'F#', mode: 'mixolydian' },
      quartersPerMinute: 150,
    });
    expect(tune.measures[0]!.events[0]!.ticks).toBe(10080 / 2);
  });
  it('accidentals hold to the barline, ties carry them over it', () => {
    const { tune } = one(`${head}^g2g2 g4-|g4 g4|]`);
    expect(melodyNotes(tune).map(n => n.midi)).toEqual([80, 80, 80, 80, 79]);
  });
  it('triplets, other tuplets, grace notes, slurs, rests, chords of notes', () => {
    const { tune, problems } = one(`${head}(3ABc (5:4ABcde z2|(AB) {cd}e2 [DFA]4|]`);
    const [first, second] = tune.measures;
    expect(first!.events.slice(0, 3).map(e => e.ticks)).toEqual([3360, 3360, 3360]);
    expect(first!.events[3]!.tuplets).toMatchObject([{ actual: 5, normal: 4 }]);
    expect(first!.events.at(-1)).not.toHaveProperty('pitch');
    expect(second!.events[0]!.slurStarts).toBe(1);
    expect(second!.events[1]!.slurEnds).toBe(1);
    expect(second!.events[2]!.graces).toHaveLength(2);
    expect(second!.events[3]!).toMatchObject({ pitch: { step: 'A', octave: 4 } });
    expect(second!.events[3]!.lower).toHaveLength(2);
    expect(problems).toEqual([]);
  });
  it('words under their notes, several verses, hyphens', () => {
    const { tune } = one(`${head}A2B2 c2d2|]\nw:hea-ther on moors\nw:second verse is here\n`);
    expect(tune.measures[0]!.events.map(e => e.words)).toEqual([
      ['hea-', 'second'],
      ['ther', 'verse'],
      ['on', 'is'],
      ['moors', 'here'],
    ]);
  });
  it('chord symbols, and remarks that are none', () => {
    const { tune, problems } = one(`${head}"D"A4 "Bm7"B4|"^slowly"A4 "foo"A4|]`);
    expect(tune.measures[0]!.chords).toEqual([
      { id: 'c1', start: 0, symbol: 'D' },
      { id: 'c2', start: 20160, symbol: 'Bm7' },
    ]);
    expect(problems).toEqual([
      {
        severity: 'warning',
        line: 6,
        column: expect.any(Number),
        message: '"foo" is not a chord symbol; it is kept as a remark',
      },
    ]);
    expect(tune.measures[1]!.events.map(e => e.remarks)).toEqual([['slowly'], ['foo']]);
    // A finger of a fiddle.
    const fiddled = one(`${head}"4"A8|]`);
    expect(fiddled.problems[0]!.message).toBe('"4" is not a chord symbol; it is left out');
    expect(fiddled.tune.measures[0]!.events[0]).not.toHaveProperty('remarks');
  });
  it('chords that may be left out, and others that may stand in their place (ABC 2.1, 4.18)', () => {
    const { tune, problems } = one(`${head}"(D)"A4 "G(Em)"B4|"Gma7"A4 "D/f#"A4|]`);
    expect(tune.measures.flatMap(({ chords }) => chords.map(({ symbol }) => symbol))).toEqual([
      'D',
      'G',
      'Gma7',
      'D/f#',
    ]);
    expect(problems.map(({ message }) => message)).toEqual(['of "G(Em)" G is taken; Em is left out']);
  });
  it('a sign that breaks a line of the page is no music (ABC 2.1, 6.1.1)', () => {
    const { tune, problems } = one(`${head}A4 B4|$c4 d4|$\nA8|]`);
    expect(problems).toEqual([]);
    expect(tune.measures).toHaveLength(3);
  });
  it('a full measure ends where its line of text ends, with or without a bar line; another goes on', () => {
    const bars = (body: string) => one(`${head}${body}`).tune.measures.map(m => m.ticks / TICKS_PER_WHOLE);
    expect(bars('A4 B4\nc4 d4\ne8|]')).toEqual([1, 1, 1]);
    expect(bars('A4 B4\n|c4 d4|]')).toEqual([1, 1]);
    expect(bars('A4\nB4|c8|]')).toEqual([1, 1]);
    expect(one(`${head}A4 B4\nc4 d4|]`).problems).toEqual([]);
    // An accidental ends with its measure.
    expect(melodyNotes(one(`${head}=c8\nc8|]`).tune).map(n => n.midi)).toEqual([72, 73]);
  });
  it.each([
    ['D.C.', 'da-capo'],
    ['D.C. al Fine', 'da-capo'],
    ['D.S.', 'dal-segno'],
    ['Fine', 'fine'],
    ['^Fine', 'fine'],
    ['To Coda', 'to-coda'],
  ])('"%s" over a note is the mark of the road %s', (words, mark) => {
    const { tune, problems } = one(`${head}A8|B6"${words}"B2|]`);
    expect(tune.measures[1]!.marks).toEqual([mark]);
    expect(problems).toEqual([]);
  });
  it('signs of the road with a capital letter', () => {
    expect(one(`${head}A8|!Segno!B8|c8!D.S.!|]`).tune.measures[1]!.marks).toEqual(['segno']);
  });
  it('changes of key and meter within the tune', () => {
    const { tune } = one(`${head}f8|[K:G][M:3/4]f6|]`);
    expect(melodyNotes(tune).map(n => n.midi)).toEqual([78, 78]);
    expect(tune.measures[1]).toMatchObject({
      key: { tonic: 'G', mode: 'major' },
      meter: { beats: 3, unit: 4 },
    });
    expect(melodyNotes(one(`${head}c8|[K:G]c8|]`).tune).map(n => n.midi)).toEqual([73, 72]);
  });
  it('a whole rest fills its measure, whatever the meter was before; in a longer one it is a whole', () => {
    const [first] = readAbc('X:1\nT:R\nM:3/4\nL:1/8\nK:C\nz8|[M:9/8]z8C|[M:2/4]z8|[M:4/4]z8|C8|]\n');
    expect(first!.problems).toEqual([]);
    expect(first!.tune.measures.map(({ ticks }) => ticks / (TICKS_PER_WHOLE / 8))).toEqual([6, 9, 4, 8, 8]);
  });
  it('notes and rests of five eighths are what they are', () => {
    const [first] = readAbc('X:1\nT:F\nM:5/8\nL:1/8\nK:C\nC5|z5|C2 D3|]\n');
    expect(first!.problems).toEqual([]);
    expect(first!.tune.measures.map(m => m.events.map(e => e.ticks / (TICKS_PER_WHOLE / 8)))).toEqual([
      [5],
      [5],
      [2, 3],
    ]);
  });
  it('a tune book of many tunes', () => {
    const entries = readAbc(`%abc-2.1\n\n${head}A8|]\n\nfree text\n\nX:2\nT:Second\nK:G\nG4|]\n`);
    expect(entries.map(e => e.tune.title)).toEqual(['T', 'Second']);
  });
  it('Windows line ends and a byte order mark', () => {
    expect(one(`\uFEFF${head}A8|]`.replace(/\n/g, '\r\n')).problems).toEqual([]);
  });
});

describe('what is wrong, and where', () => {
  const errors = (abc: string) => readAbc(abc)[0]!.problems.filter(p => p.severity === 'error');
  it('a character that is no music: line and column', () => {
    expect(errors('X:1\nT:T\nL:1/4\nK:D\nABcd|\nAB?d|]\n')).toEqual([
      { severity: 'error', line: 6, column: 3, message: '"?" is not ABC music' },
    ]);
  });
  it('lines are counted in the whole book', () => {
    const second = readAbc('X:1\nT:A\nK:D\nA4|]\n\nX:2\nT:B\nK:D\nA4|\nq4|]\n')[1]!;
    expect(second.problems[0]).toMatchObject({ line: 10, column: 1 });
  });
  it('a missing key, no notes, no tune at all', () => {
    expect(
      errors('X:1\nT:T\nABcd|]\n')
        .map(p => p.message)
        .join(),
    ).toMatch(/key is missing/);
    expect(errors('X:1\nT:T\nK:D\n').map(p => p.message)).toEqual(['there are no notes in this tune']);
    const song = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"z4|"D"z4|]\n')[0]!;
    expect(song.problems).toMatchObject([
      { severity: 'warning', message: expect.stringMatching(/no melody/) },
    ]);
    expect(song.tune.measures.map(m => m.chords[0]!.symbol)).toEqual(['G', 'D']);
    expect(readAbc('just words\n')).toEqual([]);
    expect(readAbc('')).toEqual([]);
  });
  it('a measure that is too long', () => {
    const { problems } = readAbc('X:1\nT:T\nM:3/4\nL:1/4\nK:D\nABc|ABcd|]\n')[0]!;
    expect(problems).toEqual([
      { severity: 'warning', line: 6, column: 5, message: expect.stringContaining('measure 2') },
    ]);
  });
  it('text of any kind never throws', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), fc.string({ maxLength: 60 }), (body, heading) => {
        for (const entry of readAbc(`X:1\nT:${heading}\nK:D\n${body}\n`)) {
          for (const p of entry.problems) expect(p.line).toBeGreaterThan(0);
        }
      }),
      { numRuns: 400 },
    );
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...'ABcd|:[]()"^_=,\'/234 z{}-<>~!.\\&%+*'), { maxLength: 80 }),
        chars => {
          readAbc(`X:1\nT:T\nK:D\n${chars.join('')}\n`);
        },
      ),
      { numRuns: 800 },
    );
  });
});

describe("the examples that Debian's abcmidi package ships", () => {
  const folder = '/usr/share/doc/abcmidi/examples';
  const files = readdirSync(folder).filter(name => /\.abc(\.gz)?$/.test(name));
  it('are there', () => expect(files.length).toBeGreaterThan(5));
  it.each(files)('%s is read, or refused with reason and place, and arranged where it was read', name => {
    const bytes = readFileSync(join(folder, name));
    const book = readAbc((name.endsWith('.gz') ? gunzipSync(bytes) : bytes).toString('utf8'));
    expect(book.length).toBeGreaterThan(0);
    for (const { tune, problems } of book) {
      for (const p of problems) {
        expect(p.line).toBeGreaterThan(0);
        expect(p.column).toBeGreaterThan(0);
        expect(p.message.length).toBeGreaterThan(5);
      }
      if (problems.some(p => p.severity === 'error')) continue;
      expect(melodyNotes(tune).length).toBeGreaterThan(0);
      const result = arrange(tune, { id: 'x', instrument: 'mandolin', style: 'fingerstyle', capo: 0 });
      if (result.arrangement)
        expect(checkArrangement(result.arrangement, tune).filter(f => f.kind !== 'length')).toEqual([]);
      else expect(result.problem.offers.length).toBeGreaterThan(0);
    }
  });
});

describe('writing chords into a tune', () => {
  const bare = (abc: string) => abc.replace(/"[^"]*"/g, '');
  const each = (symbols: string[]) => symbols.map((symbol, measure) => ({ measure, start: 0, symbol }));
  it('refuses a place at which nothing begins', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\nc4|c4|]\n')[0]!;
    expect(() => writeChords(tune, [{ measure: 1, start: 10080, symbol: 'G' }])).toThrow(
      'no note of measure 2 begins at tick 10080',
    );
  });
  it('under a note that is held over another voice that moves there', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\nV:1\nc4|c4|]\nV:2\nEFGA|G4|]\n')[0]!;
    const chords = [
      { measure: 0, start: 0, symbol: 'C' },
      { measure: 0, start: 3 * 10080, symbol: 'F' },
    ];
    const written = writeChords(tune, chords);
    expect(written.abc).toContain('V:1\n"C"c4|c4|]\nV:2\nEFG"F"A|G4|]');
    expect(rereadTune(written, readAbc(written.abc!)[0]!.tune).measures).toEqual(written.measures);
  });
  it('into its measures and its text alike: read again, the text gives the same tune', () => {
    fc.assert(
      fc.property(tunes({ low: -3, high: 12 }), generated => {
        const { tune } = readAbc(bare(generated.abc))[0]!;
        // At the first note of a measure, and at a further one of every second measure.
        const chords = tune.measures.flatMap(({ events }, measure) =>
          measure % 3 === 2
            ? []
            : [events[0], measure % 2 ? events[Math.floor(events.length / 2)] : undefined]
                .filter((event, i) => event && (i === 0 || event.start > 0))
                .map((event, i) => ({
                  measure,
                  start: event!.start,
                  symbol: ['G', 'Em7', 'D/F#'][(measure + i) % 3]!,
                })),
        );
        const written = writeChords(tune, chords);
        expect(
          written.measures.flatMap((m, measure) =>
            m.chords.map(({ start, symbol }) => ({ measure, start, symbol })),
          ),
        ).toEqual(chords);
        const again = rereadTune(written, readAbc(written.abc!)[0]!.tune);
        expect(again.measures).toEqual(written.measures);
      }),
      { numRuns: 200 },
    );
  });
  it('leaves chords that are there, repeats, endings and words alone', () => {
    const abc =
      'T:No number\nM:3/4\nL:1/4\nK:G\nD|:G2B|"D"A3|1 G3:|2 (3GAB c||\nw:lo la lo la\nM:2/4\nP:B\n{a}g2|z2|]\n';
    const { tune } = readAbc(abc)[0]!;
    const written = writeChords(tune, each(['C', 'G', 'X', 'Em', 'Am', 'C', 'G']));
    const again = rereadTune(written, readAbc(written.abc!)[0]!.tune);
    expect(again.measures).toEqual(written.measures);
    expect(again.measures.map(m => m.chords.map(c => c.symbol))).toEqual([
      ['C'],
      ['G'],
      ['D'],
      ['Em'],
      ['Am'],
      ['C'],
      ['G'],
    ]);
    expect(written.abc).toContain('w:lo la lo la');
  });
  it('a tune without a text gets them in its measures', () => {
    const { abc: _abc, ...tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\ncdef|]\n')[0]!.tune;
    expect(writeChords(tune, each(['C'])).measures[0]!.chords).toMatchObject([{ start: 0, symbol: 'C' }]);
  });
});

describe('a text as it was copied from a page or a letter', () => {
  const lines = [
    'X:1',
    'T:The Ferry',
    'M:6/8',
    'L:1/8',
    'K:D',
    'd2A FAd|f2d AFA|',
    'G3 E3|d3 e3|]',
    'w: la la la la more',
  ];
  const read = (text: string) => {
    const [entry] = readAbc(text);
    return {
      title: entry!.tune.title,
      measures: entry!.tune.measures.length,
      abc: entry!.tune.abc,
      faults: entry!.problems.filter(p => !/empty line/.test(p.message)).map(p => [p.line, p.column]),
    };
  };
  const plain = read(lines.join('\n'));
  it('is read when indented, quoted or broken by the page’s own sign, and places are those of the text', () => {
    expect(plain).toMatchObject({ title: 'The Ferry', measures: 4, faults: [[8, 16]] });
    expect(read(lines.map(line => `   ${line}`).join('\n'))).toEqual({ ...plain, faults: [[8, 19]] });
    expect(read(lines.map(line => `> > ${line}`).join('\n'))).toEqual({ ...plain, faults: [[8, 20]] });
    const page = lines.join('<br>');
    expect(read(page)).toEqual({ ...plain, faults: [[1, page.indexOf('more') + 1]] });
    expect(read(lines.join('\n\n'))).toEqual({ ...plain, faults: [[15, 16]] });
  });
  it('goes on behind empty lines where a heading has no key yet, or with music; words behind it are free text', () => {
    const gaps = [
      ...lines.slice(0, 2),
      '',
      ...lines.slice(2, 6),
      '',
      ...lines.slice(6),
      '',
      'A tune that | everybody likes.',
    ];
    expect(read(gaps.join('\n'))).toEqual({ ...plain, faults: [[10, 16]] });
    expect(readAbc(gaps.join('\n'))[0]!.problems.filter(p => /empty line/.test(p.message))).toHaveLength(2);
    expect(readAbc('X:1\nT:One\nK:C\nCDEF|\n\nX:2\nT:Two\nK:C\nG4|\n').map(e => e.problems)).toEqual([
      [],
      [],
    ]);
  });
});
