/** ChordPro as its published description has it (file format 6, directives from memory). */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { standardSetup } from '../../instrument';
import { faultOf } from '../../records';
import { cases } from '../../testing/setup';
import { played, read, sung } from '../../testing/songs';
import { playingOrder } from '../../timeline';
import { chordSpans, sheetOf, type Tune } from '../../tune';
import { readSong, setupSaid, writeChordPro, writeSongText } from './index';

describe('ChordPro', () => {
  const PRO = `{t: Harbour Song}
{artist: A Made-Up Name}
{key: G}
{time: 3/4}
{tempo: 120}
{capo: 2}
{define: Gadd base-fret 1 frets 3 2 0 0 3 3}
{textfont: Times}
# a remark of the file
{start_of_verse: Verse 1}
The [G]harbour lights are [C]low to[D]night
And [Gadd]nobody's at [D]home
{end_of_verse}
{soc}
[C]Sing it [G]over, [D7]sing it [G]slow
{eoc}
{sov label="Verse 2"}
The [G]fishing boats are [C]out of [D]sight
And [Gadd]nobody's a[D]lone
{eov}
{chorus}
{c: Interlude}
{start_of_grid}
| G . . | C . . | D7 . . | % |
{end_of_grid}
{sot}
e|--3--|
{eot}
{copyright: nobody}
{frobnicate: yes}
`;
  it('is read: heading, parts, recalls, defined grips, grids; what is not kept is named with its line', () => {
    const { tune, leftOut, choices, capo } = readSong(PRO);
    expect(tune).toMatchObject({
      title: 'Harbour Song',
      composer: 'A Made-Up Name',
      key: { tonic: 'A', mode: 'major' },
      meter: { beats: 3, unit: 4 },
      quartersPerMinute: 120,
    });
    expect(capo).toBe(2);
    expect(played(tune!)).toEqual(['Verse', 'Chorus', 'Verse', 'Chorus again', 'Interlude']);
    expect(sung(tune!, 0)).toEqual([
      'The [A]harbour lights are [D]low to- [E]night',
      "And [A]nobody's at [E]home",
    ]);
    expect(sung(tune!, 2)[1]).toBe("And [A]nobody's a- [E]lone");
    expect(Object.values(choices)).toEqual(['320033']);
    expect(leftOut.map(l => `${l.line}: ${l.message}`)).toEqual([
      '26: the tab is not read here',
      '29: "copyright" is not kept',
      '30: "{frobnicate: yes}" is no directive of ChordPro',
    ]);
  });
  it.each([
    'title',
    'subtitle',
    'artist',
    'composer',
    'lyricist',
    'copyright',
    'album',
    'year',
    'key',
    'time',
    'tempo',
    'duration',
    'capo',
    'meta',
    'comment',
    'highlight',
    'comment_italic',
    'comment_box',
    'image',
    'chorus',
    'start_of_chorus',
    'start_of_verse',
    'start_of_bridge',
    'start_of_tab',
    'start_of_grid',
    'define',
    'transpose',
    'chord',
    'textfont',
    'textsize',
    'textcolour',
    'chordfont',
    'chordsize',
    'chordcolour',
    'tabfont',
    'tabsize',
    'tabcolour',
    'new_page',
    'new_physical_page',
    'column_break',
    'pagetype',
    'columns',
    'new_song',
    'titles',
    'grid',
    'no_grid',
    'diagrams',
  ])('knows the directive %s', name => {
    const values: Record<string, string> = {
      key: 'G',
      time: '4/4',
      tempo: '100',
      capo: '1',
      define: 'X frets 1 2 3 3 2 1',
      chord: 'X frets 1 2 3 3 2 1',
    };
    const { leftOut, questions } = readSong(`{${name}: ${values[name] ?? 'x'}}\n[G]La\n`);
    expect([...leftOut, ...questions].map(l => l.message).filter(m => m.includes('no directive'))).toEqual(
      [],
    );
  });
  it('lines without words that share a measure come back as they are', () => {
    const tune = read('each: 2 beats\nBridge x3:\n[G/B]\n[Em]\n\nVerse:\nthe [Cmaj7]night [D7]over');
    const back = read(writeChordPro(tune, { capo: 0 }));
    expect(chordSpans(back)).toEqual(chordSpans(tune));
    expect(sheetOf(back)).toEqual(sheetOf(tune));
  });
  it('goes out and comes back with the same chords, lengths, words, form, key, tempo and capo', () => {
    const chord = fc.constantFrom('G', 'C', 'D', 'D7', 'Em', 'Am7', 'Bm', 'F#m', 'Cmaj7', 'G/B', 'Asus4');
    const word = fc.constantFrom('row', 'the', 'lantern', 'over', "night's", 'hill', 'slow,', 'a');
    const phrase = fc.array(word, { minLength: 0, maxLength: 4 }).map(words => words.join(' '));
    const line = fc.array(fc.tuple(chord, phrase), { minLength: 1, maxLength: 5 });
    const part = fc.record({
      name: fc.constantFrom('Verse', 'Chorus', 'Bridge', 'Intro', 'Verse 2', 'Outro'),
      times: fc.integer({ min: 1, max: 3 }),
      lead: phrase,
      lines: fc.array(line, { minLength: 1, maxLength: 4 }),
    });
    fc.assert(
      fc.property(
        fc.array(part, { minLength: 1, maxLength: 6 }),
        fc.constantFrom('4/4', '3/4', '6/8', '2/2'),
        fc.integer({ min: 0, max: 7 }),
        fc.constantFrom('a measure', '2 beats', '2 measures'),
        (parts, meter, capo, each) => {
          if (meter !== '4/4' && each === '2 beats') return;
          const text = [
            'title: Made Up',
            `meter: ${meter}`,
            'tempo: 90',
            `capo: ${capo}`,
            `each: ${each}`,
            ...parts.flatMap(({ name, times, lead, lines }) => [
              `${name} x${times}:`,
              ...lines.map(
                (cells, i) => (i ? '' : `${lead} `) + cells.map(([c, w]) => `[${c}]${w} `).join(''),
              ),
            ]),
          ].join('\n');
          const tune = read(text);
          const back = readSong(writeChordPro(tune, { capo }));
          expect(back.questions).toEqual([]);
          expect(back.leftOut).toEqual([]);
          expect(back.capo).toBe(capo);
          const facts = (own: Tune) => [
            own.title,
            own.key,
            own.meter,
            own.quartersPerMinute,
            chordSpans(own),
          ];
          expect(facts(back.tune!)).toEqual(facts(tune));
          expect(sheetOf(back.tune!)).toEqual(sheetOf(tune));
          expect(playingOrder(back.tune!)).toEqual(playingOrder(tune));
        },
      ),
      { numRuns: cases(120) },
    );
  });
  it('says what it is played on, and how that is tuned, where that is no guitar as usual', () => {
    const text = (head: string) => `title: Made Up\n${head}\n\nVerse:\n[G]Down by the [C]river`;
    for (const [head, setup] of [
      ['Instrument: mandolin', { instrument: 'mandolin' }],
      ['for octave mandolin, capo 2', { instrument: 'octave-mandolin', capo: 2 }],
      ['D A D G A D tuning', { instrument: 'guitar', tuning: ['D4', 'A3', 'G3', 'D3', 'A2', 'D2'] }],
    ] as const) {
      const song = readSong(text(head));
      const held = setupSaid(song, standardSetup('guitar'));
      expect([head, song.leftOut, held]).toEqual([head, [], expect.objectContaining(setup)]);
      for (const write of [writeChordPro, writeSongText]) {
        const back = readSong(write(song.tune!, { setup: held, capo: held.capo }));
        expect(setupSaid(back, standardSetup('guitar'))).toEqual(held);
        expect(back.leftOut.filter(({ message }) => /uning|nstrument/.test(message))).toEqual([]);
      }
    }
    expect(writeChordPro(read(text('')), { setup: standardSetup('guitar') })).not.toMatch(
      /instrument|tuning/,
    );
    // What is played on already is kept where the text says nothing.
    const plain = readSong(text('capo: 3'));
    expect(setupSaid(plain, standardSetup('mandolin'))).toMatchObject({ instrument: 'mandolin', capo: 3 });
  });
  it('nothing that is typed breaks the reader', () => {
    const piece = fc.constantFrom(
      'G',
      '[G]',
      '{',
      '}',
      '|',
      '(',
      ')',
      'x3',
      '%',
      '.',
      '<C',
      'Verse:',
      '\n',
      ' ',
      'as the',
      'la',
      '{c:',
      '[',
      ']',
      'x32010',
      '{eoc}',
      '{chorus}',
      'last time stop here',
      'each: 2 beats',
      'capo: 3',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 40 }), pieces => {
        const { tune, questions } = readSong(pieces.join(' '));
        if (tune) expect(faultOf('tunes', tune)).toBeUndefined();
        for (const { line, column } of questions) expect(Math.min(line, column)).toBeGreaterThan(0);
      }),
      { numRuns: cases(400) },
    );
  });
});
