/** MIDI that is read: what the app wrote, what a general library of the registry writes, playing that is not exact. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { writeMidi as writeFile } from 'midi-file';
import { exportMidi, parse } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { keyName, midiOf } from '../../pitch';
import { cases } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { isCompound, measureTicks } from '../../time';
import { measureStarts, type Tune } from '../../tune';
import { readAbc } from '../abc';
import { writeMusicXml } from '../musicxml';
import { MIDI_GRIDS, type MidiRequest, midiNotes, readMidi, writeMidi } from '.';

const QUARTER = 10080;
const book = readAbc(readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));

function reread(bytes: Uint8Array, request: Partial<MidiRequest> = {}) {
  const read = readMidi(bytes, { tuneId: 't', ...request });
  if (read.error) throw new Error(read.error.message);
  return read;
}

/** The line of a tune with ties joined: where each note begins and ends, from the start of the piece, and its pitches. */
function line(tune: Tune): [at: number, end: number, ...midis: number[]][] {
  const notes: [number, number, ...number[]][] = [];
  let from = 0;
  let tied = false;
  for (const measure of tune.measures) {
    for (const { start, ticks, pitch, lower = [], tie } of measure.events) {
      const last = notes.at(-1);
      if (pitch && tied && last) last[1] = from + start + ticks;
      else if (pitch) notes.push([from + start, from + start + ticks, ...[...lower, pitch].map(midiOf)]);
      tied = Boolean(pitch && tie);
    }
    from += measure.ticks;
  }
  return notes;
}

/** A file with one track, notes in quarters. */
function file(
  notes: readonly { at: number; quarters: number; midi: number; channel?: number }[],
  head: Record<string, unknown>[] = [],
  format: 0 | 1 = 1,
): Uint8Array {
  const timed = [
    ...head.map(({ at = 0, ...event }) => ({ at: Number(at), order: 0, event })),
    ...notes.flatMap(({ at, quarters, midi, channel = 0 }) => [
      { at, order: 2, event: { type: 'noteOn', channel, noteNumber: midi, velocity: 90 } },
      { at: at + quarters, order: 1, event: { type: 'noteOff', channel, noteNumber: midi, velocity: 0 } },
    ]),
  ].sort((a, b) => a.at - b.at || a.order - b.order);
  let last = 0;
  const track = timed.map(({ at, event }) => {
    const deltaTime = Math.round(at * 480) - last;
    last = Math.round(at * 480);
    return { deltaTime, ...event };
  });
  return Uint8Array.from(
    writeFile({
      header: { format, numTracks: 1, ticksPerBeat: 480 },
      tracks: [[...track, { deltaTime: 0, meta: true, type: 'endOfTrack' }]],
    } as never),
  );
}
const scale = (quarters: number, from = 60, count = 8) =>
  Array.from({ length: count }, (_, i) => ({ at: i * quarters, quarters, midi: from + i }));

describe('what the app wrote', () => {
  it('generated melodies: every note, its length, meters, tempo and key signature', () => {
    fc.assert(
      fc.property(tunes({ low: -2, high: 11 }), generated => {
        const { tune } = readAbc(generated.abc)[0]!;
        const { arrangement } = arrange(tune, { id: 'x', instrument: 'guitar', style: 'melody', capo: 0 });
        if (!arrangement) return;
        // A full measure before another of twice its meter looks like a pickup: the file has no word for one.
        const [opening, second] = tune.measures;
        fc.pre(!second || opening!.ticks >= second.ticks || opening!.ticks < measureTicks(opening!.meter));
        // Beats in three are looked for where they are felt: on the quarters of a simple meter.
        fc.pre(
          tune.measures.every(
            ({ meter, offset, events }) =>
              !isCompound(meter) &&
              events.every((event, i) => {
                const tuplet = event.tuplets?.[0]?.group;
                const begins = tuplet !== undefined && events[i - 1]?.tuplets?.[0]?.group !== tuplet;
                return !begins || ((event.start + offset) % QUARTER === 0 && event.ticks === QUARTER / 3);
              }),
          ),
        );
        // Ornaments and quick grace notes are played beside the beat: this is about what is written on it.
        const { tune: read } = reread(writeMidi(arrangement), { grid: '32nd' });
        // Measures of silence before the first note are a count (a pickup may be one), those after the last are not in the file.
        const sounds = tune.measures.map(measure => measure.events.some(event => event.pitch));
        const silent = tune.measures.slice(0, sounds.indexOf(true));
        const from = silent.every(({ ticks, meter }) => ticks < measureTicks(meter)) ? 0 : silent.length;
        const heard = tune.measures.slice(from, sounds.lastIndexOf(true) + 1);
        // Of a pickup with nothing behind it the file has a measure of its own.
        fc.pre(heard.length > 1 || heard[0]!.offset === 0);
        const start = measureStarts(tune.measures)[from]!;
        const played = midiNotes(arrangement)
          .sort((a, b) => a.at - b.at)
          .map(({ at, ticks, midi }) => [at - start, at + ticks - start, midi]);
        expect(line(read)).toEqual(played);
        expect(read.quartersPerMinute).toBeCloseTo(arrangement.quartersPerMinute, 1);
        expect(read.measures.map(m => m.ticks)).toEqual(heard.map(m => m.ticks));
        expect(read.measures.map(m => m.offset)).toEqual(heard.map(m => m.offset));
      }),
      { numRuns: cases(25) },
    );
  });
  it('the demo tunes: repeats are unrolled, the accompaniment is another voice', () => {
    for (const { tune } of book.slice(0, 4)) {
      const arrangement = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
        .arrangement!;
      const { tune: read, parts, part } = reread(writeMidi(arrangement));
      expect(read.title).toBe(tune.title);
      expect([parts[part]!.name, parts.length]).toEqual(['Melody', 2]);
      const melody = midiNotes(arrangement).filter(note => note.role === 'melody');
      expect(line(read).map(([at, , midi]) => [at, midi])).toEqual(
        melody.sort((a, b) => a.at - b.at).map(({ at, midi }) => [at, midi]),
      );
      expect(
        read.measures.some(measure => measure.others?.some(voice => voice.events.some(e => e.pitch))),
      ).toBe(true);
    }
  });
});

it('what musicxml-io writes is read: the same beginnings and pitches', () => {
  const { tune } = book[0]!;
  const arrangement = arrange(tune, { id: 'x', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
  const straight = {
    ...arrangement,
    measures: arrangement.measures.map(({ repeatStart: _s, repeatEnd: _e, ending: _n, ...m }) => m),
  };
  const { tune: read } = reread(exportMidi(parse(writeMusicXml(straight))));
  const own = midiNotes(straight).sort((a, b) => a.at - b.at);
  // It plays both staves: notation and tablature.
  expect([...new Map(line(read).map(([at, , midi]) => [at, midi]))]).toEqual(
    own.map(({ at, midi }) => [at, midi]),
  );
});

describe('playing that is not exact', () => {
  it('any straight rhythm, each note up to a fifth of the shortest early or late and detached, is written as it was meant', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...MIDI_GRIDS),
        fc.array(
          fc.record({
            steps: fc.constantFrom(1, 2, 4),
            off: fc.double({ min: -0.2, max: 0.2, noNaN: true }),
            held: fc.double({ min: 0.72, max: 0.98, noNaN: true }),
          }),
          { minLength: 4, maxLength: 24 },
        ),
        (grid, played) => {
          const step = { eighth: 0.5, '16th': 0.25, '32nd': 0.125 }[grid];
          let at = 0;
          const meant: number[] = [];
          const notes = played.map(({ steps, off, held }, i) => {
            meant.push(Math.round(at * QUARTER));
            const start = i === 0 ? 0 : at + off * step;
            at += steps * step;
            return { at: start, quarters: steps * step * held, midi: 60 + (i % 5) };
          });
          const { tune } = reread(file(notes), { grid, triplets: false });
          const read = line(tune);
          expect(read.map(([start]) => start)).toEqual(meant);
          for (const [i, [, end]] of read.slice(0, -1).entries()) expect(end).toBe(meant[i + 1]);
        },
      ),
      { numRuns: cases(150) },
    );
  });
  it('triplets are found beat by beat among straight eighths, and bracketed', () => {
    const third = 1 / 3;
    const notes = [0, 0.5, 1, 1 + third, 1 + 2 * third, 2, 2.5, 3, 3 + third, 3 + 2 * third].map(
      (at, i, all) => ({
        at,
        quarters: ((all[i + 1] ?? 4) - at) * 0.97,
        midi: 64 + (i % 3),
      }),
    );
    const { tune, grid } = reread(file(notes));
    expect(grid).toBe('eighth');
    expect(tune.measures[0]!.events.map(({ ticks, tuplets }) => [ticks, tuplets?.[0]?.group])).toEqual([
      [QUARTER / 2, undefined],
      [QUARTER / 2, undefined],
      ...[1, 1, 1].map(group => [QUARTER / 3, group]),
      [QUARTER / 2, undefined],
      [QUARTER / 2, undefined],
      ...[2, 2, 2].map(group => [QUARTER / 3, group]),
    ]);
  });
  it('triplets of an eighth in a jig, over half a beat and over two beats come back as they were written', () => {
    for (const abc of [
      'M:4/4\nL:1/8\nQ:1/4=90\nK:C\nc (3d/e/f/ g2 c2 e2|(3c2d2e2 g2 e2|c2 (3e2d2c2 g2|c8|]',
      'M:6/8\nL:1/8\nQ:3/8=80\nK:G\nGAB (2cd|(4GABc d3|(3G/A/B/ c d e2 d|G/A/B/c/d/e/ d3|G6|]',
      'M:3/4\nL:1/8\nQ:1/4=90\nK:D\n(3d2e2f2 a2|d2 (3f2e2d2|d6|]',
    ]) {
      const source = readAbc(`X:1\nT:T\n${abc}\n`)[0]!.tune;
      const made = arrange(source, { id: 'm', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
      const { tune } = reread(writeMidi(made));
      const written = ({ measures }: Tune) =>
        measures.map(({ events }) =>
          events.map(({ start, ticks, tuplets }) => [start, ticks, tuplets?.[0]?.actual === 3]),
        );
      expect(written(tune)).toEqual(written(source));
    }
  });
  it('an eighth of a jig that is played late makes no triplet', () => {
    const late = Array.from({ length: 24 }, (_, i) => ({
      at: i * 0.5 + (i % 3 === 1 ? 0.12 : 0),
      quarters: 0.4,
      midi: 60 + (i % 5),
    }));
    const six = {
      meta: true,
      type: 'timeSignature',
      numerator: 6,
      denominator: 8,
      metronome: 24,
      thirtyseconds: 8,
    };
    const { tune } = reread(file(late, [six]));
    for (const { events } of tune.measures) expect(events.every(event => !event.tuplets)).toBe(true);
  });
  it('the shortest note is found', () => {
    for (const [grid, quarters] of [
      ['eighth', 0.5],
      ['16th', 0.25],
      ['32nd', 0.125],
    ] as const)
      expect(reread(file(scale(quarters))).grid).toBe(grid);
  });
});

describe('playing as it comes', () => {
  const waltz = [
    [67, 1],
    [72, 2],
    [72, 1],
    [74, 2],
    [74, 1],
    [76, 3],
  ] as const;
  const played = (line: readonly (readonly [midi: number, quarters: number])[], from = 0) => {
    let at = from;
    return line.map(([midi, quarters]) => {
      at += quarters;
      return { at: at - quarters, quarters: quarters * 0.95, midi };
    });
  };
  it('without a meter is 4/4, and says so; a meter and a pickup that a person tells hold', () => {
    const bytes = file(played(waltz));
    const asIs = reread(bytes);
    expect(asIs.tune.meter).toEqual({ beats: 4, unit: 4 });
    expect(asIs.guesses.map(({ message }) => message)).toContain('no meter is said: 4/4 is taken');
    const { tune, guesses } = reread(bytes, { meter: { beats: 3, unit: 4 }, pickup: 1 });
    expect(guesses.some(({ message }) => message.includes('meter'))).toBe(false);
    expect(tune.measures.map(({ ticks, offset }) => [ticks / QUARTER, offset / QUARTER])).toEqual([
      [1, 2],
      [3, 0],
      [3, 0],
      [3, 0],
    ]);
    expect(tune.measures.map(({ events }) => events.map(event => event.ticks / QUARTER))).toEqual([
      [1],
      [2, 1],
      [2, 1],
      [3],
    ]);
  });
  it('measures of a count before the first note are left out', () => {
    const late = reread(
      file(played(waltz, 8), [{ meta: true, type: 'setTempo', microsecondsPerBeat: 500000 }]),
    );
    expect(late.tune.measures).toHaveLength(3);
    expect(line(late.tune)[0]!.slice(0, 2)).toEqual([0, QUARTER]);
    expect(late.tune.quartersPerMinute).toBe(120);
    expect(late.leftOut.map(({ message }) => message)).toContain('2 empty measures before the first note');
    // A pickup of one beat is no empty measure.
    expect(reread(file(played(waltz, 3))).tune.measures[0]!.events[0]!.pitch).toBeUndefined();
  });
  it('swung eighths are written straight with the feel of swing; triplets among straight eighths are not', () => {
    const swung = (late: number) =>
      Array.from({ length: 16 }, (_, i) => ({
        at: Math.floor(i / 2) + (i % 2) * late,
        quarters: 0.3,
        midi: 60 + (i % 5),
      }));
    for (const late of [0.6, 0.64, 2 / 3, 0.7]) {
      const { tune } = reread(file(swung(late)));
      expect(tune.feel, `${late}`).toBe('swing');
      expect(tune.measures[0]!.events.map(({ ticks, tuplets }) => [ticks, tuplets])).toEqual(
        Array.from({ length: 8 }, () => [QUARTER / 2, undefined]),
      );
    }
    expect(reread(file(swung(0.5))).tune.feel).toBeUndefined();
    const triplets = Array.from({ length: 12 }, (_, i) => ({ at: i / 3, quarters: 0.3, midi: 60 + i }));
    expect(reread(file(triplets)).tune.feel).toBeUndefined();
  });
  it('words under swung eighths stay under their notes, also where channels have them in common', () => {
    const five = [40, 48, 55, 60, 72].flatMap((from, channel) =>
      Array.from({ length: 8 }, (_, i) => ({
        at: Math.floor(i / 2) + (i % 2) * (2 / 3),
        quarters: 0.3,
        midi: from + i,
        channel,
      })),
    );
    const { tune } = reread(file(five, [{ at: 2 / 3, meta: true, type: 'lyrics', text: 'La' }], 0));
    expect(tune.feel).toBe('swing');
    expect(tune.measures[0]!.events.map(event => event.words)).toEqual([
      undefined,
      ['La'],
      ...Array(6).fill(undefined),
    ]);
  });
  it.each(['', 'C|', 'CCC|'])(
    'what the app plays with swing comes back as it was written, after a pickup, too: %j',
    pickup => {
      const abc = `X:1\nT:T\nM:4/4\nL:1/8\nQ:1/4=90\nK:C\n${pickup}CDEF GABc|BAGF EDC2|]\n`;
      const source: Tune = { ...readAbc(abc)[0]!.tune, feel: 'swing' };
      const made = arrange(source, { id: 'm', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
      const { tune, leftOut } = reread(writeMidi(made));
      // A meter of its own for the pickup is no other key.
      expect(leftOut).toEqual([]);
      expect(tune.feel).toBe('swing');
      expect(tune.measures.map(({ events }) => events.map(event => event.ticks))).toEqual(
        source.measures.map(({ events }) => events.map(event => event.ticks)),
      );
    },
  );
  it('a bass that is struck with the melody and held under it is a voice of its own, and speaks for the key', () => {
    const melody = played([76, 74, 72, 74, 76, 76].map((midi, i) => [midi, i === 5 ? 3 : 1] as const));
    const bass = [0, 4].map(at => ({ at, quarters: 3.9, midi: 48 }));
    const { tune } = reread(file([...melody, ...bass]));
    expect(tune.measures[0]!.events.every(event => !event.lower)).toBe(true);
    expect(tune.measures.map(({ others }) => others![0]!.events.map(event => event.ticks / QUARTER))).toEqual(
      [[4], [4]],
    );
    expect(keyName(tune.key)).toBe('C major');
  });
  it('a last note is as long as it was held', () => {
    const { tune } = reread(
      file(
        played([
          [60, 1],
          [62, 1],
          [64, 1],
          [65, 1],
          [67, 1],
        ]),
      ),
    );
    expect(tune.measures[1]!.events.map(event => [event.ticks / QUARTER, event.pitch !== undefined])).toEqual(
      [
        [1, true],
        [3, false],
      ],
    );
  });
});

describe('files by hand (Standard MIDI File 1.0, MIDI Association)', () => {
  it('meter, tempo map, minor key signature and words', () => {
    const { tune } = reread(
      file(scale(1, 57, 6), [
        { meta: true, type: 'timeSignature', numerator: 3, denominator: 4, metronome: 24, thirtyseconds: 8 },
        { meta: true, type: 'keySignature', key: 0, scale: 1 },
        { meta: true, type: 'setTempo', microsecondsPerBeat: 750000 },
        { meta: true, type: 'lyrics', text: 'La' },
      ]),
    );
    expect([tune.meter, tune.quartersPerMinute, keyName(tune.key), tune.measures.length]).toEqual([
      { beats: 3, unit: 4 },
      80,
      'A minor',
      2,
    ]);
    expect(tune.measures[0]!.events[0]!.words).toEqual(['La']);
  });
  it('notes struck together are one event; what begins under a long note is a second voice', () => {
    const { tune } = reread(
      file([
        { at: 0, quarters: 2, midi: 72 },
        { at: 0, quarters: 2, midi: 64 },
        { at: 1, quarters: 1, midi: 60 },
        { at: 2, quarters: 2, midi: 71 },
      ]),
    );
    expect(line(tune)).toEqual([
      [0, 2 * QUARTER, 64, 72],
      [2 * QUARTER, 4 * QUARTER, 71],
    ]);
    expect(tune.measures[0]!.others![0]!.events.map(event => event.pitch && midiOf(event.pitch))).toEqual([
      undefined,
      60,
      undefined,
    ]);
  });
  it('channels of a file with one track are its parts; drums are left out and counted', () => {
    const { parts, part, leftOut } = reread(
      file(
        [
          { at: 0, quarters: 1, midi: 40, channel: 1 },
          { at: 0, quarters: 1, midi: 70, channel: 2 },
          { at: 0, quarters: 1, midi: 38, channel: 9 },
        ],
        [],
        0,
      ),
    );
    expect(parts.map(({ name, notes }) => [name, notes])).toEqual([
      ['Channel 2', 1],
      ['Channel 3', 1],
    ]);
    expect(part).toBe(1);
    expect(leftOut).toEqual([{ measures: [], message: '1 strokes of the drums' }]);
  });
  describe('a channel a string', () => {
    // An Am in quarters: the thumb on strings 5 and 4, above it 3, 2 and 1.
    const STRINGS = [
      { at: 0, quarters: 1, midi: 45, channel: 4 },
      { at: 0, quarters: 1, midi: 64, channel: 0 },
      { at: 1, quarters: 1, midi: 57, channel: 2 },
      { at: 2, quarters: 1, midi: 52, channel: 3 },
      { at: 2, quarters: 1, midi: 60, channel: 1 },
      { at: 3, quarters: 1, midi: 57, channel: 2 },
    ];
    const inOneChannel = STRINGS.map(note => ({ ...note, channel: 0 }));
    const guitar = (channel: number, programNumber: number) => ({
      type: 'programChange',
      channel,
      programNumber,
    });
    it.each([
      ['as a guitar with a pick-up for each string sends it', STRINGS, []],
      ['as guitars', STRINGS, [0, 1, 2, 3, 4].map(channel => guitar(channel, 25))],
      ['from the eleventh on', STRINGS.map(note => ({ ...note, channel: note.channel + 10 })), []],
    ])('%s is one part, as it is in one channel', (_, notes, head) => {
      const { tune, parts, guesses } = reread(file(notes, head, 0));
      expect(parts).toEqual([{ name: 'Guitar', notes: 6, tab: false }]);
      expect(guesses.map(({ message }) => message)).toContain(
        'a channel is a string of one guitar: all are read as one part',
      );
      const plain = reread(file(inOneChannel, [], 0));
      expect(plain.parts).toHaveLength(1);
      expect(tune.measures).toEqual(plain.tune.measures);
    });
    it.each([
      ['four voices of a chorale', [72, 67, 60, 43], []],
      ['four voices of a choir, however high', [72, 67, 62, 57], [0, 1, 2, 3].map(c => guitar(c, 52))],
    ])('but %s are parts', (_, midis, head) => {
      const notes = midis.map((midi, channel) => ({ at: 0, quarters: 4, midi, channel }));
      expect(reread(file(notes, head, 0)).parts).toHaveLength(4);
    });
    it('and two lines on one channel are no string', () => {
      const notes = [...STRINGS, { at: 0, quarters: 2, midi: 60, channel: 2 }];
      expect(reread(file(notes, [], 0)).parts).toHaveLength(5);
    });
  });
  it.each([
    ['a text', Uint8Array.from('X:1', c => c.charCodeAt(0)), /no Standard MIDI File/],
    ['nothing', new Uint8Array(), /no Standard MIDI File/],
    ['a file that breaks off', file(scale(1)).slice(0, 30), /breaks off/],
    ['a file without notes', file([]), /no note/],
  ])('%s is refused with a reason', (_, bytes, reason) => {
    expect(readMidi(bytes, { tuneId: 't' }).error?.message).toMatch(reason);
  });
  it('any damaged file is refused or read, never thrown over', () => {
    const whole = file(scale(0.5));
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), (at, byte) => {
        const damaged = Uint8Array.from(whole);
        damaged[at] = byte;
        const read = readMidi(damaged, { tuneId: 't' });
        if (!read.error) expect(read.tune.measures.length).toBeGreaterThan(0);
      }),
      { numRuns: cases(200) },
    );
  });
});
