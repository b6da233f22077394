/** MusicXML that is read: what the app wrote itself, what general libraries of the registry write, and files by hand. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { serializeScore } from 'musicxml-interfaces';
import { parse, serialize } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { standardSetup } from '../../instrument';
import { keyFifths, keyName, midiOf } from '../../pitch';
import {
  type Arrangement,
  BEND_SHAPES,
  phrasesOf,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
  TECHNIQUE_KINDS,
  type Technique,
} from '../../score';
import { type HandNote, handmade } from '../../testing/handmade';
import { schemaFaults } from '../../testing/musicxml';
import { PASSAGES } from '../../testing/passages';
import { cases } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { noteValues } from '../../time';
import { type Tune, voiceNames } from '../../tune';
import { readAbc } from '../abc';
import { readDictation } from '../dictation';
import { pieceOf } from '../piece';
import { readMusicXml, writeMusicXml } from '.';

const book = readAbc(readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));
const arranged = (index: number, instrument: 'guitar' | 'mandolin', style: Style): Arrangement =>
  arrange(book[index]!.tune, { id: 'x', instrument, style, capo: 'auto' }).arrangement!;

function reread(xml: string) {
  const read = readMusicXml(xml, { tuneId: 't', id: 'x' });
  if (read.error) throw new Error(read.error.message);
  return read;
}

describe('passages with a name', () => {
  const piece = arranged(1, 'guitar', 'fingerstyle');
  const [first, second, third] = piece.measures.slice(1);
  const phrases = [
    { id: 'p1', name: 'the turn & the lick', from: first!.id, to: second!.id, start: 10080, end: 5040 },
    { id: 'p2', name: 'all of it', from: first!.id, to: third!.id },
    { id: 'p3', name: 'in one', from: second!.id, to: second!.id, start: 5040, end: 10080 },
  ];
  const lies = (a: Arrangement) =>
    phrasesOf(a).map(({ name, first: from, begins, last, ends }) => [name, from, begins, last, ends]);
  it('are brackets, of which each begins and ends where its passage does; read back they are the same', () => {
    const xml = writeMusicXml({ ...piece, phrases });
    expect(schemaFaults(xml)).toBe('');
    expect(xml.match(/<bracket type="start"/g)).toHaveLength(3);
    const { arrangement, leftOut } = reread(xml);
    expect(lies(arrangement!)).toEqual(lies({ ...piece, phrases }));
    expect(JSON.stringify(leftOut)).not.toMatch(/bracket|turn/);
  });
  it('a bracket that says nothing, or never ends, is told or makes none', () => {
    const xml = writeMusicXml({ ...piece, phrases: phrases.slice(1, 2) });
    const nameless = xml.replace(/<direction-type>\s*<words>all of it<\/words>\s*<\/direction-type>/, '');
    expect(nameless).not.toBe(xml);
    const read = reread(nameless);
    expect(read.arrangement!.phrases).toBeUndefined();
    expect(JSON.stringify(read.leftOut)).toContain('bracket');
    const endless = reread(xml.replace(/type="stop" number/, 'type="continue" number'));
    expect(endless.arrangement!.phrases).toBeUndefined();
    expect(JSON.stringify(endless.leftOut)).toContain('which never ends');
    // What stands as words where a bracket ends is no name of it.
    const ends = /(<direction-type>\s*<bracket type="stop")/;
    const said = reread(xml.replace(ends, '<direction-type><words>softly</words></direction-type>$1'));
    expect(phrasesOf(said.arrangement!)).toHaveLength(1);
    expect(JSON.stringify(said.leftOut)).toContain('softly');
  });
});

/** The notes of a measure by what a player reads; parts of one length that no single sign has are joined. */
function notesOf({ measures }: Arrangement) {
  const all = new Map(
    measures.flatMap((m, i) => m.notes.map(n => [n.id, `${i} ${n.start} ${n.string}`] as const)),
  );
  const single = (ticks: number, note: ScoreNote) => {
    try {
      return noteValues(ticks, note.tuplets).length === 1;
    } catch {
      return false;
    }
  };
  return measures.map(measure => {
    const joined: ScoreNote[] = [];
    const into = new Map<string, ScoreNote>();
    for (const note of measure.notes.toSorted((a, b) => a.start - b.start || a.string - b.string)) {
      const before = note.tie === undefined ? undefined : into.get(note.tie);
      const own = before && !single(before.ticks + note.ticks, before) ? before : { ...note };
      if (own === before) before.ticks += note.ticks;
      else joined.push(own);
      into.set(note.id, own);
    }
    return joined.map(
      ({ start, ticks, string, fret, finger, pluck, tie, techniques, graces, slurs, tuplets, role }) => ({
        start,
        ticks,
        string,
        fret,
        finger: tie ? undefined : finger,
        pluck: tie ? undefined : pluck,
        tied: tie !== undefined,
        techniques: techniques?.map(t => ('from' in t ? { ...t, from: all.get(t.from) } : t)),
        graces: graces?.map(grace => [grace.string, grace.fret, grace.finger]),
        slurs: slurs?.map(end => all.get(end)),
        tuplets: tuplets?.map(({ actual, normal }) => [actual, normal]),
        melody: role === 'melody',
      }),
    );
  });
}

const barsOf = ({ measures }: Arrangement) =>
  measures.map(
    ({
      meter,
      key,
      ticks,
      offset,
      repeatStart,
      repeatEnd,
      passes,
      ending,
      barline,
      section,
      marks,
      tempos,
      fermatas,
      chords,
      words,
      strokes,
    }: ScoreMeasure) => ({
      meter,
      key,
      ticks,
      offset,
      repeatStart,
      repeatEnd,
      passes,
      ending,
      barline,
      section: section?.name,
      marks,
      tempos,
      fermatas,
      chords: chords.map(({ start, sounding, frets, fingers }) => [
        start,
        sounding,
        frets,
        fingers?.map((finger, i) => (frets?.[i] ? finger : null)),
      ]),
      words,
      strokes,
    }),
  );

function expectSame(made: Arrangement) {
  const { arrangement, guesses } = reread(writeMusicXml(made));
  expect(guesses).toEqual([]);
  expect(notesOf(arrangement!)).toEqual(notesOf(made));
  expect(barsOf(arrangement!)).toEqual(barsOf(made));
  for (const field of ['title', 'composer', 'rights', 'setup', 'quartersPerMinute', 'feel'] as const)
    expect(arrangement![field], field).toEqual(made[field]);
}

describe('what the app wrote', () => {
  it.each(
    book.flatMap((_, i) =>
      (['guitar', 'mandolin'] as const).map(
        instrument => [i, instrument, i % 2 ? 'fingerstyle' : 'chord-melody'] as const,
      ),
    ),
  )(
    'tune %i on %s, %s: notes, fingers, plucks, chords, words and road are read as they were',
    (index, instrument, style) => {
      expectSame(arranged(index, instrument, style));
    },
  );
  it.each(PASSAGES.map(passage => [passage.name, passage.text]))('%s', (_, text) => {
    const piece = pieceOf(readDictation(text), { tuneId: 't', id: 'x' });
    if (piece.error !== undefined) throw new Error(piece.error);
    expectSame(piece.arrangement);
  });
});

const QUARTER = 10080;
const guitar = standardSetup('guitar');

describe('every technique that the app writes', () => {
  const on = (technique: Technique): HandNote[] => [
    { quarters: 1, string: 2, fret: technique.kind === 'pull' ? 7 : 3, finger: 2 },
    { quarters: 1, string: 2, fret: 5, finger: 4, techniques: [technique] },
  ];
  const cases: Technique[] = TECHNIQUE_KINDS.flatMap((kind): Technique[] => {
    if (kind === 'hammer' || kind === 'pull') return [{ kind, from: 'n1' }];
    if (kind === 'slide')
      return [
        { kind, from: 'n1' },
        { kind, from: 'n1', again: true },
      ];
    if (kind === 'slide-in' || kind === 'slide-off')
      return [
        { kind, way: 'below' },
        { kind, way: 'above' },
      ];
    if (kind === 'bend')
      return BEND_SHAPES.flatMap(shape => [1, 2].map(semitones => ({ kind, shape, semitones })));
    if (kind === 'harmonic') return [{ kind }, { kind, touch: 12 }, { kind, touch: 7 }];
    return [{ kind }];
  });
  it.each(cases.map(technique => [JSON.stringify(technique), technique] as const))('%s', (_, technique) => {
    const made = handmade({ setup: guitar, notes: on(technique) });
    const { arrangement } = reread(writeMusicXml(made));
    const [first, second] = arrangement!.measures[0]!.notes;
    const expected = 'from' in technique ? { ...technique, from: first!.id } : technique;
    expect(second!.techniques).toEqual([expected]);
    expect(arrangement!.measures[0]!.notes).toHaveLength(2);
  });
});

it('generated arrangements are read as they were written', () => {
  fc.assert(
    fc.property(
      tunes({ low: -2, high: 11 }),
      fc.constantFrom('fingerstyle' as const, 'chord-melody' as const),
      (generated, style) => {
        const { tune } = readAbc(generated.abc)[0]!;
        const { arrangement } = arrange(tune, { id: 'x', instrument: 'guitar', style, capo: 0 });
        if (!arrangement) return;
        const { arrangement: read } = reread(writeMusicXml(arrangement));
        // A short length under a triplet has no bracket of its own, and gets one as it is read.
        const plain = (own: Arrangement) =>
          notesOf(own).map(notes => notes.map(({ tuplets: _tuplets, ...rest }) => rest));
        expect(plain(read!)).toEqual(plain(arrangement));
        expect(barsOf(read!)).toEqual(barsOf(arrangement));
      },
    ),
    { numRuns: cases(8) },
  );
});

/** What a tune's melody is, with its length, and whether it sounds on. */
const melodyOf = (tune: Tune) =>
  tune.measures.map(measure =>
    measure.events.map(({ start, ticks, pitch }) => [start, ticks, pitch && midiOf(pitch)]),
  );

describe('what general libraries of the registry write', () => {
  it('musicxml-io: read by it and written again, notes, strings, frets and fingers are the same', () => {
    for (const index of [0, 1, 4]) {
      const made = arranged(index, 'guitar', 'fingerstyle');
      const { arrangement } = reread(serialize(parse(writeMusicXml(made))));
      const plain = (own: Arrangement) =>
        notesOf(own).map(notes =>
          notes.map(({ start, ticks, string, fret, finger, pluck, melody }) => [
            start,
            ticks,
            string,
            fret,
            finger,
            pluck,
            melody,
          ]),
        );
      expect(plain(arrangement!)).toEqual(plain(made));
    }
  });

  it('musicxml-interfaces (score-timewise, MusicXML 3.0): notes, rests, meters, keys, ties and repeats', () => {
    fc.assert(
      fc.property(tunes({ low: -2, high: 11 }), generated => {
        const { tune } = readAbc(generated.abc)[0]!;
        const xml = serializeScore({
          movementTitle: tune.title,
          partList: [{ _class: 'ScorePart', id: 'P1', partName: { partName: 'Fiddle' } }],
          measures: tune.measures.map((measure, i) => ({
            number: String(i + 1),
            parts: {
              P1: [
                {
                  _class: 'Attributes',
                  divisions: QUARTER,
                  keySignatures: [{ fifths: keyFifths(measure.key), mode: measure.key.mode }],
                  times: [
                    {
                      beats: [measure.meter.groups?.join('+') ?? String(measure.meter.beats)],
                      beatTypes: [measure.meter.unit],
                    },
                  ],
                },
                ...(measure.repeatStart
                  ? [{ _class: 'Barline', location: 1, repeat: { direction: 1 } }]
                  : []),
                ...measure.events.map(({ ticks, pitch }) => ({
                  _class: 'Note',
                  ...(pitch ? { pitch } : { rest: {} }),
                  duration: ticks,
                  voice: 1,
                })),
                ...(measure.repeatEnd ? [{ _class: 'Barline', location: 0, repeat: { direction: 0 } }] : []),
              ],
            },
          })),
        } as never);
        const { tune: read } = reread(xml);
        expect(read.title).toBe(tune.title);
        expect(melodyOf(read)).toEqual(melodyOf(tune));
        expect(read.measures.map(m => [m.meter, m.key, m.offset, m.repeatStart, m.repeatEnd])).toEqual(
          tune.measures.map(m => [m.meter, m.key, m.offset, m.repeatStart, m.repeatEnd]),
        );
      }),
      { numRuns: cases(12) },
    );
  });
});

/** A document with one part, its measures by hand. */
const score = (...measures: string[]) =>
  `<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Voice</part-name></score-part></part-list><part id="P1">${measures
    .map((content, i) => `<measure number="${i + 1}">${content}</measure>`)
    .join('')}</part></score-partwise>`;
const note = (step: string, octave: number, duration: number, more = '') =>
  `<note><pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice>${more}</note>`;
const head = (more = '') =>
  `<attributes><divisions>2</divisions><key><fifths>-1</fifths><mode>minor</mode></key><time><beats>4</beats><beat-type>4</beat-type></time>${more}</attributes>`;

describe('files by hand (MusicXML 4.0 as published by the W3C Music Notation Community Group)', () => {
  it('divisions, key by fifths and mode, chords with kinds, degrees and bass, lyrics', () => {
    const { tune } = reread(
      score(
        `${head()}<harmony><root><root-step>D</root-step></root><kind>minor-seventh</kind></harmony>${note('D', 4, 4, '<lyric number="1"><syllabic>begin</syllabic><text>lan</text></lyric>')}<harmony><root><root-step>B</root-step><root-alter>-1</root-alter></root><kind>major</kind><bass><bass-step>D</bass-step></bass></harmony>${note('E', 4, 4, '<lyric number="1"><syllabic>end</syllabic><text>tern</text></lyric>')}`,
      ),
    );
    expect(keyName(tune.key)).toBe('D minor');
    expect(tune.measures[0]!.chords.map(({ start, symbol }) => [start, symbol])).toEqual([
      [0, 'Dm7'],
      [2 * QUARTER, 'Bb/D'],
    ]);
    expect(tune.measures[0]!.events.map(event => event.words)).toEqual([['lan-'], ['tern']]);
  });
  it('a part that sounds elsewhere than it is written: a guitar’s octave, a clarinet’s whole tone', () => {
    const octave = reread(
      score(
        `${head('<transpose><chromatic>0</chromatic><octave-change>-1</octave-change></transpose>')}${note('E', 5, 8)}`,
      ),
    );
    expect(midiOf(octave.tune.measures[0]!.events[0]!.pitch!)).toBe(64);
    const tone = reread(
      score(
        `${head('<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>')}${note('E', 4, 8)}`,
      ),
    );
    expect(keyName(tone.tune.key)).toBe('C minor');
    expect(midiOf(tone.tune.measures[0]!.events[0]!.pitch!)).toBe(62);
  });
  it('two voices and two parts: one is the tune, the others stand beside it', () => {
    const two = score(
      `${head()}${note('A', 4, 8)}<backup><duration>8</duration></backup>${note('D', 4, 4).replace('<voice>1', '<voice>2')}${note('C', 4, 4).replace('<voice>1', '<voice>2')}`,
    ).replace(
      '</part></score',
      `</part><part id="P2"><measure number="1">${head()}${note('F', 3, 8)}</measure></part></score`,
    );
    const first = reread(two);
    expect(first.parts.map(part => [part.name, part.notes, part.tab])).toEqual([
      ['Voice', 3, false],
      ['Part 2', 1, false],
    ]);
    expect(first.tune.measures[0]!.events).toHaveLength(1);
    expect(
      first.tune.measures[0]!.others!.map(other => other.events.map(event => midiOf(event.pitch!))),
    ).toEqual([[62, 60], [53]]);
    const second = readMusicXml(two, { tuneId: 't', id: 'x', part: 1, others: false });
    if (second.error) throw new Error(second.error.message);
    expect(melodyOf(second.tune)).toEqual([[[0, 4 * QUARTER, 53]]]);
    expect(second.tune.measures[0]!.others).toBeUndefined();
  });
  it('of more parts than a tune keeps voices the first ones are kept, and the rest is told', () => {
    const more = Array.from(
      { length: 17 },
      (_, i) =>
        `<part id="P${i + 2}"><measure number="1">${head()}${note('CDEFGAB'[i % 7]!, 1 + Math.floor(i / 7), 8)}</measure></part>`,
    );
    const band = score(`${head()}${note('A', 5, 8)}`).replace(
      '</part></score',
      `</part>${more.join('')}</score`,
    );
    const { tune, leftOut } = reread(band);
    expect(leftOut.map(({ message }) => message)).toEqual([
      '2 voices beyond the 15 that a tune keeps beside its melody',
    ]);
    expect(voiceNames(tune)).toHaveLength(15);
  });
  it('road, endings, tempo that slows, triplets without brackets', () => {
    const triplet = (step: string) =>
      `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>4</duration><voice>1</voice><time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification></note>`;
    const { tune } = reread(
      score(
        `${head().replace('<divisions>2', '<divisions>6')}<direction><direction-type><segno/></direction-type><sound tempo="80" segno="segno"/></direction>${'CDE'.split('').map(triplet).join('')}${note('F', 4, 12)}`,
        `<barline location="left"><ending number="1, 2" type="start"/></barline><direction><direction-type><words>poco rit.</words></direction-type></direction><direction><direction-type><words>rit.</words></direction-type></direction>${note('G', 4, 12)}<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>60</per-minute></metronome></direction-type></direction>${note('A', 4, 12)}<barline location="right"><ending number="1, 2" type="stop"/><repeat direction="backward" times="3"/></barline>`,
        `<direction><direction-type><words>D.S. al Fine</words></direction-type></direction>${note('G', 4, 24)}`,
      ),
    );
    const [first, second, third] = tune.measures;
    expect(tune.quartersPerMinute).toBe(80);
    expect(first!.marks).toEqual(['segno']);
    expect(first!.events.slice(0, 3).map(event => [event.ticks, event.tuplets?.[0]?.actual])).toEqual([
      [(2 / 3) * QUARTER, 3],
      [(2 / 3) * QUARTER, 3],
      [(2 / 3) * QUARTER, 3],
    ]);
    expect(new Set(first!.events.slice(0, 3).map(event => event.tuplets?.[0]?.group)).size).toBe(1);
    expect([second!.ending, second!.repeatEnd, second!.passes]).toEqual([[1, 2], true, 3]);
    expect(second!.tempos).toEqual([{ start: 2 * QUARTER, quartersPerMinute: 60, over: 2 * QUARTER }]);
    expect(third!.marks).toEqual(['dal-segno']);
  });
  it('tablature of another tuning without notation above it becomes an arrangement; a pitch that disagrees is told', () => {
    const lines = ['D2', 'A2', 'D3', 'G3', 'B3', 'E4']
      .map(
        (name, i) =>
          `<staff-tuning line="${i + 1}"><tuning-step>${name[0]}</tuning-step><tuning-octave>${name[1]}</tuning-octave></staff-tuning>`,
      )
      .join('');
    const tab = (step: string, octave: number, string: number, fret: number) =>
      note(
        step,
        octave,
        4,
        `<notations><technical><string>${string}</string><fret>${fret}</fret><fingering>3</fingering></technical></notations>`,
      );
    const { arrangement, guesses } = reread(
      score(
        `${head(`<clef><sign>TAB</sign></clef><staff-details><staff-lines>6</staff-lines>${lines}<capo>2</capo></staff-details>`)}${tab('G', 2, 6, 3)}${tab('C', 4, 2, 3)}`,
      ),
    );
    expect(arrangement!.setup).toMatchObject({
      instrument: 'guitar',
      capo: 2,
      tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'D2'],
    });
    expect(arrangement!.measures[0]!.notes.map(({ string, fret, finger }) => [string, fret, finger])).toEqual(
      [
        [6, 3, 3],
        [2, 3, 3],
      ],
    );
    expect(guesses.find(guess => guess.message.includes('C4'))?.measures).toEqual([1]);
  });
  it('what can not be kept is said once, with its measures', () => {
    const loud = '<direction><direction-type><dynamics><f/></dynamics></direction-type></direction>';
    const { leftOut } = reread(
      score(
        `${head()}${loud}${note('A', 4, 8, '<notations><ornaments><trill-mark/></ornaments></notations>')}`,
        `${loud}${note('A', 4, 8)}`,
      ),
    );
    expect(leftOut).toEqual([
      { message: 'how loud it is played', measures: [1, 2] },
      { message: 'the ornament “trill mark”', measures: [1] },
    ]);
  });
  it.each([
    ['no XML', 'X:1\nT:Tune\n', /XML/],
    ['XML that breaks off', score(note('A', 4, 8)).slice(0, -40), /well-formed/],
    ['another kind of XML', '<html><body/></html>', /begins with "score-partwise"/],
    ['no measure', '<score-partwise><part-list/></score-partwise>', /no measure/],
  ])('%s is refused with a reason', (_, text, reason) => {
    const read = readMusicXml(text, { tuneId: 't', id: 'x' });
    expect(read.error?.message).toMatch(reason);
  });
  it('any mutilated file is refused or read, never thrown over', () => {
    const xml = writeMusicXml(arranged(0, 'guitar', 'melody'));
    const tags = [...xml.matchAll(/<[^<>]+>[^<>]*/g)];
    fc.assert(
      fc.property(
        fc.nat(tags.length - 1),
        fc.constantFrom(
          '',
          '<step>H</step>',
          '<duration>-4</duration>',
          '<fret>99</fret>',
          '<duration>1e9</duration>',
        ),
        (at, put) => {
          const { index, 0: own } = tags[at]!;
          const read = readMusicXml(xml.slice(0, index) + put + xml.slice(index + own.length), {
            tuneId: 't',
            id: 'x',
          });
          if (read.error) expect(read.error.message).not.toBe('');
          else expect(read.tune.measures.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: cases(40) },
    );
  });
});
