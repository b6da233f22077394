/** Songs in words and chords. ChordPro as its published description has it (file format 6, directives from memory). */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { freshPlan, planShapes } from '../../capo';
import { spokenStrum } from '../../fingering';
import { faultOf } from '../../records';
import { shapeText } from '../../shape';
import { cases } from '../../testing/setup';
import { TICKS_PER_QUARTER as Q } from '../../time';
import { playingOrder } from '../../timeline';
import { chordSpans, sheetOf, type Tune } from '../../tune';
import { readAbc } from '../abc';
import { readSong, writeChordPro, writeSongText } from './index';

const read = (text: string): Tune => {
  const { tune, questions } = readSong(text);
  if (!tune) throw new Error(JSON.stringify(questions));
  expect(faultOf('tunes', tune)).toBeUndefined();
  return tune;
};
const chordsOf = (tune: Tune) =>
  tune.measures.map(m => m.chords.map(c => (c.start ? `${c.symbol}@${c.start / Q}` : c.symbol)).join(' '));
const played = (tune: Tune) =>
  sheetOf(tune).map(
    part => `${part.section.name}${part.times > 1 ? ` x${part.times}` : ''}${part.again ? ' again' : ''}`,
  );
/** What is sung, each line with its chords in brackets. */
const sung = (tune: Tune, part: number) =>
  sheetOf(tune)[part]!.lines.map(line =>
    line.map(c => `${c.lead && `${c.lead} `}${c.chord ? `[${c.chord.symbol}]` : ''}${c.words}`).join(' '),
  );
const asked = (text: string) => readSong(text).questions.map(q => `${q.line}: ${q.message}`);

describe('a chord line as one says it', () => {
  it('is a measure a chord, again as often as it is said', () => {
    expect(chordsOf(read('G Em C D x3'))).toEqual([
      'G',
      'Em',
      'C',
      'D',
      'G',
      'Em',
      'C',
      'D',
      'G',
      'Em',
      'C',
      'D',
    ]);
    expect(read('G Em C D').key).toEqual({ tonic: 'G', mode: 'major' });
    expect(read('Am G F E7 Am').key).toEqual({ tonic: 'A', mode: 'minor' });
  });
  it('shares measures between bars, holds by dots, repeats by %', () => {
    expect(chordsOf(read('| G . C . | Em D/F# | % |'))).toEqual(['G C@2', 'Em D/F#@2', 'Em D/F#@2']);
    expect(chordsOf(read('meter: 3/4\n| G . D7 | C |'))).toEqual(['G D7@2', 'C']);
  });
  it('holds without bars too, shares a measure in brackets, and comes an eighth early', () => {
    expect(chordsOf(read('G - (C D) G'))).toEqual(['G', '', 'C D@2', 'G']);
    expect(chordsOf(read('G <C'))).toEqual(['G C@3.5', '']);
    expect(chordsOf(read('each: half a measure\nG C D G'))).toEqual(['G C@2', 'D G@2']);
    expect(chordsOf(read('each: 2 measures\nG C'))).toEqual(['G', '', 'C', '']);
  });
  it('asks where it does not come out', () => {
    expect(asked('(G C')).toEqual(['1: the bracket is not closed']);
    expect(asked('% | G')).toEqual(['1: "%" has no measure before it']);
    expect(asked('each: a while\nG')).toEqual([expect.stringMatching(/"each: a while" is no length/)]);
    expect(asked('capo: 30\nG')).toEqual(['1: a capo lies on fret 0 to 12']);
    expect(asked('Chorus x2:')).toEqual(['1: "Chorus" has no chords yet']);
    expect(asked('Solo: as the bridge')).toEqual(['1: there is no part "bridge" before this one']);
    expect(asked('Verse:\nOnly words here')).toEqual([
      expect.stringMatching(/^2: these words have no chords/),
    ]);
  });
  it('takes a strum as it is spoken, or strings as they stand, and asks where it is not plain', () => {
    expect(readSong('strum: D DU UDU\nG').strum).toEqual({ said: 'D DU UDU', pattern: 'D . D U . U D U' });
    expect(readSong('pick: B 3 2 3\nG').strum?.pattern).toBe('B 3 2 3');
    expect(readSong('meter: 6/8\nstrum: D U D\nG').strum?.pattern).toBe('D U D');
    const own = readSong('strum: D DU UDU\nVerse\nG C\nChorus\nstrum: B DU UDU\nC G');
    expect(played(read('G C x2'))).toEqual(['Song']);
    expect(played(read('G C\nVerse\n[G]La'))).toEqual(['Intro', 'Verse']);
    expect(own.strum?.said).toBe('D DU UDU');
    const [, chorus] = own.tune!.measures.flatMap(m => m.section?.id ?? []);
    expect(own.sectionPatterns).toEqual({ [chorus!]: 'B . D U . U D U' });
    const held = { strum: own.strum!.pattern, strums: own.sectionPatterns };
    const back = readSong(writeChordPro(own.tune!, held));
    expect([back.strum?.pattern, back.sectionPatterns]).toEqual([held.strum, held.strums]);
    expect(writeSongText(own.tune!, held)).toContain('Chorus:\nStrum: B . D U . U D U\n');
    expect(asked('strum: D DU D\nG')).toEqual([
      expect.stringMatching(/^1: the strum: this fills 3 of 4 beats/),
    ]);
  });
  it('takes a grip in the place of a name, for that chord alone', () => {
    const { tune, choices } = readSong('G x32010 C 3x0033');
    expect(chordsOf(tune!)).toEqual(['G', 'C', 'C', 'G5']);
    const ids = tune!.measures.map(m => m.chords[0]!.id);
    expect(choices).toEqual({ [ids[1]!]: 'x32010', [ids[3]!]: '3x0033' });
    const progression = planShapes(tune!, { ...freshPlan('song'), choices });
    const held = progression.chords.map(c => c.chosen && shapeText(c.chosen.frets));
    expect(held.at(1)).toBe('x32010');
    expect(held.at(-1)).toBe('3x0033');
  });
});

describe('the form as people say it', () => {
  const SONG = `title: Lantern on the Landing
by: made up
capo: 3
tempo: 92

Intro x2:
G C G D

Verse 1
         G              Em
When the lantern on the landing burns low
C                   D
I will row you over slow

Chorus
[C]Row, row, [G]lantern glow
[Am]over the [D D7]water and [G]home

Verse 2
When the heron on the shallows stands still
There's a wind upon the hill

Chorus

Solo: as the verse, but the last measure: D7
Chorus x2
last time stop here
`;
  const song = read(SONG);
  it('is a road that can be read and played', () => {
    expect(played(song)).toEqual([
      'Intro x2',
      'Verse',
      'Chorus',
      'Verse',
      'Chorus again',
      'Solo',
      'Chorus x2 again',
    ]);
    // Four measures, a chorus five.
    expect(playingOrder(song)).toHaveLength(8 + 4 + 5 + 4 + 5 + 4 + 10);
    expect(song.measures.find(m => m.marks)).toMatchObject({ marks: ['last-time-end'] });
  });
  it('names shapes at the capo, and sounds above them', () => {
    expect(song.key).toEqual({ tonic: 'Bb', mode: 'major' });
    expect(chordsOf(song).slice(0, 4)).toEqual(['Bb', 'Eb', 'Bb', 'F']);
    expect(readSong(SONG).capo).toBe(3);
    expect(chordsOf(song).at(-1)).toBe('F7');
  });
  it('keeps every word where it is sung, of each verse', () => {
    expect(sung(song, 1)).toEqual([
      'When the [Bb]lantern on the [Gm]landing burns low',
      '[Eb]I will row you over [F]slow',
    ]);
    expect(sung(song, 3)).toEqual([
      '[Bb]When the heron on the shallows stands still [Gm]',
      "[Eb]There's a wind upon the hill [F]",
    ]);
    expect(sung(song, 2)[1]).toBe('[Cm]over the [F]water and [F7] [Bb]home');
  });
  it('is accompanied, every chord by a shape', () => {
    const made = arrange(song, {
      id: 'a',
      instrument: 'guitar',
      style: 'pattern',
      capo: 3,
      settings: { pattern: 'D . D U . U D U' },
    });
    const { measures } = made.arrangement!;
    expect(measures).toHaveLength(song.measures.length);
    expect(measures.every(m => m.notes.length > 4)).toBe(true);
    expect(measures.flatMap(m => m.chords.map(c => c.shape)).slice(0, 4)).toEqual(['G', 'C', 'G', 'D']);
    expect(made.arrangement!.order).toEqual(song.order);
  });
  it('is a message that a person can play from', () => {
    expect(writeSongText(song, { capo: 3, strum: 'D DU UDU' }).split('\n').slice(0, 12)).toEqual([
      'Lantern on the Landing',
      'made up',
      'Capo 3, G major shapes, sounds B♭ major',
      'Strum: D DU UDU',
      '',
      'Intro x2:',
      '| G | C | G | D |',
      '',
      'Verse:',
      '         G              Em',
      'When the lantern on the landing burns low',
      'C                   D',
    ]);
  });
  it('of a tune with words under its notes is written in lines that begin with the pickup', () => {
    const { tune } = readAbc(
      'X:1\nT:T\nM:3/4\nL:1/4\nK:F\nF/F/|"F"FCA/A/|AFF/A/|ccB/A/|"C7"G2G/A/|BBA/G/|"F"AFF/A/|"C7"GCE/G/|"F"F2|]\nw:In a cav-ern, in a can-yon, ex-ca-vat-ing for a mine, dwelt a min-er, for-ty nin-er, and his daugh-ter, Clem-en-tine.\n',
    )[0]!;
    expect(sung(tune, 0)).toEqual([
      'In a [F]cavern, in a canyon, exca- vating for a [C7]mine,',
      'dwelt a miner, forty [F]niner, and his [C7]daughter, Clemen- [F]tine.',
    ]);
  });
  it('of a tune without words is written in whole measures, its pickup left out', () => {
    const { tune } = readAbc(
      'X:1\nT:T\nM:4/4\nL:1/4\nK:G\nD|"G"GABc|"C"c2e2|"D7"d2f2|"G"g4|"Em"e4|"D"d4|"G"G3|]\n',
    )[0]!;
    expect(writeSongText(tune).split('\n').slice(-4, -1)).toEqual([
      'A:',
      '| G | C | D7 | G |',
      '| Em | D | G |',
    ]);
  });
  it('chords near the beginning of a word stand over it, inside a word they divide it', () => {
    const near = read('Verse:\nG            C      D\nRow the boat to landward');
    expect(sung(near, 0)).toEqual(['[G]Row the boat [C]to land- [D]ward']);
  });
});

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

describe('a strum as it is spoken (common practice: down on the beats, up between them)', () => {
  const four = { beats: 4, unit: 4 };
  it.each([
    ['D DU UDU', 'D . D U . U D U'],
    ['down, down-up, up-down-up', 'D . D U . U D U'],
    ['Down down up, up down up', 'D . D U . U D U'],
    ['D D DU DU', 'D . D . D U D U'],
    ['bass, down-up, bass, down-up', 'B . D U B . D U'],
    ['D DU', 'D . D U D . D U'],
    ['>D mute D mute', '>D . X . D . X .'],
    ['B DU rest UDU', 'B . D U . U D U'],
  ])('%s', (said, pattern) => {
    expect(spokenStrum(said, four, 6)).toEqual({ pattern });
  });
  it('in three, and asks where the strokes do not say it', () => {
    expect(spokenStrum('B DU DU', { beats: 3, unit: 4 }, 6)).toEqual({ pattern: 'B . D U D U' });
    expect(spokenStrum('D DU D', four, 6)).toEqual({ question: expect.stringContaining('3 of 4 beats') });
    expect(spokenStrum('D D D D D', four, 6)).toEqual({ question: expect.stringContaining('takes 5 beats') });
    expect(spokenStrum('hello', four, 6)).toEqual({ question: expect.stringContaining('is no string') });
  });
});
