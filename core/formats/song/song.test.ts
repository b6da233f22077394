/** Songs in words and chords. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { freshPlan, planShapes } from '../../capo';
import { type Key, midiOf, type Pitch } from '../../pitch';
import { faultOf } from '../../records';
import { shapeText } from '../../shape';
import { cases } from '../../testing/setup';
import { slipped } from '../../testing/slips';
import { asked, chordsOf, played, read, sung } from '../../testing/songs';
import { TICKS_PER_QUARTER as Q } from '../../time';
import { playingOrder } from '../../timeline';
import { hasMelody, sheetOf, type Tune } from '../../tune';
import { readAbc } from '../abc';
import { kindOfText } from '../text';
import { readSong, withPlayedMelody, writeChordPro, writeMelody, writeSongText } from './index';

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

describe('a sheet as people hand it on (common practice)', () => {
  const SHEET = `River Lantern
by nobody at all
Capo 3  Key: Bb
Standard tuning, 3/4, 92 bpm

Chords used:
G   320003    C = x32010
D/F# 2x0232

e|--3--|
B|--0--|
G|--0--|

[Intro]
G  C  G  D   (2x)

[Verse 1]
G              C         G
Down where the lanterns float
C             D/F#*
On the river, on the river x2

[Chorus]
C         G
Row me over
D         Em    (let it ring)
Row me home

[Verse 2]
(same chords as verse 1)
Nobody waits upon the shore
Only the river, only the river

Repeat chorus twice
Bridge (slowly)
| G / C | D / G |
* or plain D
`;
  it('of a mandolin names its grips by their chords, whatever note lies lowest', () => {
    const { questions, choices, tune } = readSong(
      'Instrument: mandolin\n\nC 0230  G 0023\n\nC  G  0220\nRow me over\n',
    );
    expect(questions).toEqual([]);
    expect(chordsOf(tune!)).toEqual(['C', 'G', 'Em']);
    expect(new Set(Object.values(choices))).toEqual(new Set(['0230', '0023', '0220']));
  });
  const reading = readSong(SHEET);
  it('has a head in plain words, grips by their names, remarks and parts that come again', () => {
    expect(reading.questions).toEqual([]);
    const song = reading.tune!;
    expect(song).toMatchObject({
      title: 'River Lantern',
      composer: 'nobody at all',
      key: { tonic: 'Bb', mode: 'major' },
      meter: { beats: 3, unit: 4 },
    });
    expect(reading.capo).toBe(3);
    expect(played(song)).toEqual(['Intro', 'Verse', 'Chorus', 'Verse', 'Chorus x2 again', 'Bridge']);
    // A measure a chord; the last line of the verse is sung twice.
    expect(chordsOf(song)).toHaveLength(8 + (3 + 2 * 2) + 4 + 2);
    const grips = Object.values(reading.choices);
    expect(new Set(grips)).toEqual(new Set(['320003', 'x32010', '2x0232']));
    expect(reading.guesses.map(g => g.message)).toContain(
      'B♭ major is how it sounds over the capo: the shapes stand in G major',
    );
    expect(reading.leftOut.map(l => [l.line, l.message])).toEqual([
      [10, 'the rows of strings are not read here: open them as a tab'],
      [26, 'the remark "let it ring"'],
      [35, 'the remark "slowly"'],
      [37, 'the remark "* or plain D"'],
    ]);
  });
  it('has verses with numbers, a chorus ahead of its line, and words that no chord divides wrongly', () => {
    const { tune, questions, leftOut } = readSong(`THE LONG FIELD                    Trad.
[Capo 2]
Tempo: rather slow, waltz time

     D         G
1. Oh, the long field
      A7             D
   And we'll dance again

    G      D
Ch: Fol-de-rol

2. Oh, the old mare
   And the moon is high

(quietly)

Outro: |D   |G   |     |D   | (fade out)
`);
    expect(questions).toEqual([]);
    expect(tune).toMatchObject({ title: 'THE LONG FIELD', composer: 'Trad.' });
    expect(played(tune!)).toEqual(['Verse', 'Chorus', 'Verse', 'Outro']);
    expect(chordsOf(tune!)).toEqual(['E', 'A', 'B7', 'E', 'A', 'E', 'E', 'A', '', 'E']);
    expect(sung(tune!, 0)).toEqual(['[E]Oh, the long [A]field', "And [B7]we'll dance [E]again"]);
    expect(sung(tune!, 1)).toEqual(['[A]Fol-de- [E]rol']);
    expect(leftOut.map(({ message }) => message)).toEqual([
      '"Tempo: rather slow, waltz time"',
      'the remark "(quietly)"',
      'the remark "fade out"',
    ]);
  });
  it('parts chords by commas and arrows, has them in round brackets, and says the capo anywhere', () => {
    expect(chordsOf(read('Verse: G, C, D7(b9,#11), G'))).toEqual(['G', 'C', 'D7(b9,#11)', 'G']);
    expect(chordsOf(read('G -> C → D'))).toEqual(['G', 'C', 'D']);
    const song = readSong('(G)Down by the (Am7)river (hey)\n\nCapo 2');
    expect(song.capo).toBe(2);
    expect(sung(song.tune!, 0)).toEqual(['[A]Down by the [Bm7]river (hey)']);
    expect(song.tune!.measures).toHaveLength(2);
  });
  it('is known by what stands in it, beside tunes and tabs', () => {
    expect(kindOfText(SHEET)).toBe('song');
    expect(kindOfText('X:1\nT:Tune\nK:G\nGABc|')).toBe('abc');
    expect(kindOfText('G  C\n\ne|--3--|\nB|--0--|\nG|--0--|\nD|-----|\nA|-----|\nE|--3--|')).toBe('tab');
    expect(kindOfText('A letter about nothing\nthat has no chords')).toBeUndefined();
  });
  it('with slips of any kind gives a tune that is in order, or a question', () => {
    fc.assert(
      fc.property(slipped([SHEET, SONG], 'AGDm7b#/|().:[]x2 \n-%*<{}1'), text => {
        const { tune, questions } = readSong(text);
        if (!tune) expect(questions.length, text).toBeGreaterThan(0);
        else expect(faultOf('tunes', tune), text).toBeUndefined();
      }),
      { numRuns: cases(150) },
    );
  });
  it('asks as before where nothing tells the chords', () => {
    expect(asked('A Title\nOnly words\nand no chords')).toEqual([
      expect.stringMatching(/^1: these words have no chords/),
    ]);
    expect(readSong('key: G\ncapo: 3\nG C D').tune!.key).toEqual({ tonic: 'Bb', mode: 'major' });
    // By a line of its own it is that of the shapes, and what else may be meant is said.
    const sounding = readSong('key: Bb\ncapo: 3\nG C D');
    expect(sounding.tune!.key.tonic).toBe('Db');
    expect(sounding.guesses.map(g => g.message)).toContain(
      'B♭ major is taken for the shapes; if it is how it sounds over the capo, write "key: G"',
    );
    expect(asked('G '.repeat(3000))).toEqual(['1: a line has at most 4000 columns']);
    expect(asked('Chorus: '.repeat(400))).toHaveLength(1);
    // Grips in the place of names are played.
    expect(chordsOf(read('G x32010 C 3x0033'))).toHaveLength(4);
  });
});

describe('the head of a hymn (common practice)', () => {
  const hymn = (head: string) => readSong(`Evening Hymn\n${head}\n\nG       C    G\nNow the lamps are low`);
  it.each([
    ['Tune: SLANE', '"Tune: SLANE"'],
    ['Meter: 10.10.10.10', '"Meter: 10.10.10.10", which tells the syllables of its lines'],
    ['Metre: 8 7 8 7 D', '"Metre: 8 7 8 7 D", which tells the syllables of its lines'],
    ['Meter: C.M.', '"Meter: C.M.", which tells the syllables of its lines'],
  ])('"%s" is no melody and no time signature', (head, message) => {
    const { tune, leftOut } = hymn(head);
    expect(tune).toMatchObject({ title: 'Evening Hymn', meter: { beats: 4, unit: 4 } });
    expect(leftOut).toEqual([{ line: 2, column: 1, message }]);
  });
  it('who wrote its words is kept; a melody and a time signature are what they are', () => {
    expect(hymn('Text: a ferryman').tune?.composer).toBe('a ferryman');
    expect(hymn('Meter: 3/4').tune?.meter).toEqual({ beats: 3, unit: 4 });
    expect(hymn('tune: GABc').questions[0]?.message).toBe('the melody of a part stands under its chords');
    expect(readSong('Tune: The Ferry\n\nG C\nNow the lamps').tune?.title).toBe('The Ferry');
  });
});

describe('the form as people say it', () => {
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
      'When the [Bb]heron on the [Gm]shallows stands still',
      "[Eb]There's a wind upon the [F]hill",
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

describe('what happens behind a line', () => {
  const SONG = `title: Going
tempo: 90
Verse
G C G D
last time to the coda
Em D
Chorus
C D G G
slow down
Verse
Chorus
Verse
Coda
C G
slow down to 60`;
  it('a coda, that the last time leads to', () => {
    const song = read(SONG);
    expect(playingOrder(song)).toHaveLength(6 + 4 + 6 + 4 + 4 + 2);
    expect(
      playingOrder(song)
        .slice(-3)
        .map(at => song.measures[at]!.chords[0]!.symbol),
    ).toEqual(['D', 'C', 'G']);
    expect(asked('Verse\nG C\nlast time to the coda')[0]).toMatch(/no part is called so/);
    expect(asked('last time to the coda')[0]).toMatch(/no line before it/);
  });
  it('slowing down over the last two measures, to what is said; the next part is in tempo', () => {
    const song = read(SONG);
    expect(
      song.measures.map(m =>
        m.tempos?.map(t => [t.start / Q, Math.round(t.quartersPerMinute), (t.over ?? 0) / Q]),
      ),
    ).toEqual([...Array(9).fill(undefined), [[3, 63, 7]], [[0, 90, 0]], [[3, 60, 7]]]);
  });
  it('slows once where it is said of a part that is played again', () => {
    const song = read('Verse\nG C\nChorus\nD G\nVerse\nChorus\nslow down');
    expect(played(song)).toEqual(['Verse', 'Chorus', 'Verse again', 'Chorus']);
    expect(song.measures.map(m => m.tempos?.length ?? 0)).toEqual([0, 0, 0, 0, 0, 1]);
  });
  it('a part in its own tempo', () => {
    const song = read('tempo: 90\nVerse\nG C\nBridge\ntempo: 60\nAm D\nVerse');
    expect(song.quartersPerMinute).toBe(90);
    expect(song.measures.map(m => m.tempos?.[0]?.quartersPerMinute)).toEqual([
      undefined,
      undefined,
      60,
      undefined,
    ]);
  });
  it('is on the sheet, in the text for a message, and comes back from ChordPro', () => {
    const song = read(SONG);
    expect(
      sheetOf(song).flatMap(p => [...(p.says ?? []), ...p.lines.flatMap(l => l.at(-1)!.says ?? [])]),
    ).toEqual([
      'last time to the coda',
      'slow down to 63',
      'last time to the coda',
      'slow down to 63',
      'last time to the coda',
      'slow down to 60',
    ]);
    expect(writeSongText(song)).toContain('(slow down to 60)');
    for (const capo of [0, 3]) {
      const back = read(writeChordPro(song, { capo }));
      expect(playingOrder(back)).toEqual(playingOrder(song));
      expect(back.measures.map(m => [m.marks, m.tempos?.map(t => [t.start, t.over])])).toEqual(
        song.measures.map(m => [m.marks, m.tempos?.map(t => [t.start, t.over])]),
      );
    }
  });
});

describe('a melody under the chords of a song', () => {
  const SONG = `title: Home
key: G
capo: 2
Verse
G           C
Down by the water
D         G
I go a-way home
melody: B A | B2 d2 e2 c2 | d3 c B4
melody: A2 F2 A B c2 | G6
Chorus
C G`;
  const notes = (tune: Tune) =>
    tune.measures.map(m => m.events.map(e => [e.ticks / (Q / 2), e.pitch && midiOf(e.pitch)]));
  it('sounds above the capo, over the chords, with its upbeat', () => {
    const song = read(SONG);
    expect(song.measures[0]).toMatchObject({ ticks: Q, offset: 3 * Q });
    expect(notes(song)[0]).toEqual([
      [1, 73],
      [1, 71],
    ]);
    expect(notes(song)[1]).toEqual([
      [2, 73],
      [2, 76],
      [2, 78],
      [2, 74],
    ]);
    expect(notes(song)[4]).toEqual([
      [6, 69],
      [2, undefined],
    ]);
    expect(chordsOf(song).slice(1, 5)).toEqual(['A', 'D', 'E', 'A']);
    expect(hasMelody(song)).toBe(true);
    // A verse without its own melody is silent.
    expect(notes(song)[5]).toEqual([[8, undefined]]);
    expect(played(song)).toEqual(['Verse', 'Chorus']);
  });
  it('gives a word to each note, and divides words that say how', () => {
    const words = read(SONG).measures.map(m => m.events.map(e => e.words?.[0] ?? ''));
    expect(words[1]).toEqual(['Down', 'by', 'the', '']);
    expect(words[2]).toEqual(['water', '', '']);
    expect(words[3]).toEqual(['I', 'go', 'a-', 'way', '']);
    expect(words[4]).toEqual(['home', '']);
  });
  it('says what does not fit', () => {
    expect(asked('Verse\nG C\nmelody: G8 | c8 | d8')[0]).toBe(
      '3: the melody has 3 measures, the chords over it have 2',
    );
    expect(asked('Verse\nG C\nmelody: G8 | c9')[0]).toBe('3: measure 2 of the melody is longer than 4/4');
    expect(asked('Verse\nG C\nmelody: G8 | ?9')[0]).toMatch(/^3: the melody: /);
    expect(asked('Verse\nG C\nChorus\nD G\nmelody: A | D8 | G8')[0]).toMatch(/upbeat/);
    expect(
      readSong('Verse\nG C\nmelody: G8')
        .guesses.map(g => g.message)
        .join(),
    ).toContain('1 of 2 measures');
    expect(
      readSong('G\nla la la\nmelody: G8')
        .guesses.map(g => g.message)
        .join(),
    ).toContain('3 words for 1 note');
  });
  it('comes back from ChordPro at any capo', () => {
    const song = read(SONG);
    for (const capo of [0, 2, 5]) {
      const back = read(writeChordPro(song, { capo }));
      expect(notes(back)).toEqual(notes(song));
      expect(playingOrder(back)).toEqual(playingOrder(song));
    }
  });
  it.each([0, 2])(
    'as it is played on the strings, found by ear, stands in the source of the song (capo %i)',
    capo => {
      const sung = read(SONG);
      const { arrangement } = arrange(sung, { id: 'a', style: 'melody', instrument: 'guitar', capo });
      if (!arrangement) throw new Error('no arrangement');
      const put = withPlayedMelody(sung, arrangement);
      expect(put.split('\n').filter(row => row.startsWith('melody:'))).toHaveLength(2);
      expect(notes(read(put))).toEqual(notes(sung));
      expect(read(put).measures.map(m => m.events.map(e => e.words))).toEqual(
        sung.measures.map(m => m.events.map(e => e.words)),
      );
      // A song without a melody gets one; a part that is not played so stays as it was.
      const bare = SONG.replace(/melody: B A \| /, 'melody: ').replace(/\nmelody:.*/g, '');
      const other = read(bare);
      const fitted = {
        ...arrangement,
        measures: arrangement.measures
          .slice(1)
          .map((m, i) => ({ ...m, from: { ...m.from!, id: other.measures[i]!.id } })),
      };
      const added = withPlayedMelody(other, fitted);
      expect(notes(read(added))).toEqual(notes(read(put)).slice(1));
      expect(added.indexOf('melody:')).toBeGreaterThan(added.indexOf('I go a-way'));
      expect(added.lastIndexOf('melody:')).toBeLessThan(added.indexOf('Chorus'));
      const silent = { ...fitted, measures: fitted.measures.map(m => ({ ...m, notes: [] })) };
      expect(() => withPlayedMelody(other, silent)).toThrow(/no melody yet/);
    },
  );
  it('is written as it is read: any notes, lengths, accidentals, triplets (property)', () => {
    const pitch = fc
      .record({
        step: fc.constantFrom('C', 'D', 'E', 'F', 'G', 'A', 'B'),
        alter: fc.integer({ min: -1, max: 1 }),
        octave: fc.integer({ min: 2, max: 6 }),
      })
      .map(p => p as Pitch);
    const beat = fc.oneof(
      pitch.map(p => [{ ticks: Q, pitch: p }]),
      fc.tuple(pitch, fc.option(pitch)).map(([a, b]) => [
        { ticks: Q / 2, pitch: a },
        { ticks: Q / 2, ...(b && { pitch: b }) },
      ]),
      fc.tuple(pitch, pitch).map(([a, b]) => [
        { ticks: (Q * 3) / 4, pitch: a },
        { ticks: Q / 4, pitch: b },
      ]),
      fc.tuple(pitch, pitch, fc.nat(50)).map(([a, b, group]) => [
        { ticks: (Q * 2) / 3, pitch: a, tuplets: [{ actual: 3, normal: 2, group }] },
        { ticks: Q / 3, pitch: b, tuplets: [{ actual: 3, normal: 2, group }] },
      ]),
    );
    const measure = fc.array(beat, { minLength: 4, maxLength: 4 }).map(beats => ({
      events: beats.flatMap((events, i) =>
        events.map(event =>
          'tuplets' in event ? { ...event, tuplets: event.tuplets.map(t => ({ ...t, group: i })) } : event,
        ),
      ),
    }));
    const key = fc.constantFrom<Key>(
      { tonic: 'G', mode: 'major' },
      { tonic: 'F', mode: 'minor' },
      { tonic: 'D', mode: 'mixolydian' },
    );
    fc.assert(
      fc.property(key, fc.array(measure, { minLength: 1, maxLength: 5 }), (own, measures) => {
        const line = writeMelody(measures.map(m => ({ ...m, key: own })));
        const song = read(
          `key: ${own.tonic} ${own.mode}\nVerse\n${'C '.repeat(measures.length)}\nmelody: ${line}`,
        );
        expect(song.measures.map(m => m.events.map(e => [e.ticks, e.pitch]))).toEqual(
          measures.map(m => m.events.map(e => [e.ticks, 'pitch' in e ? e.pitch : undefined])),
        );
      }),
      { numRuns: cases(100) },
    );
  });
});
