import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { bassClass, chordClasses, parseChord } from '../chord';
import { readAbc, writeChords } from '../formats/abc';
import { readMidi, writeMidi } from '../formats/midi';
import { mod12, pitchClassOf, spellMidi } from '../pitch';
import { committeeTunes } from '../testing/committee';
import { PSALM } from '../testing/psalm';
import { oneIn } from '../testing/setup';
import { isCompound, pulseCount, pulseTicks } from '../time';
import { chordOptions, chordSpans, heardChords, measureStarts, suggestChords, type Tune } from './index';

const read = (abc: string): Tune => readAbc(abc)[0]!.tune;
/** Chords as they change through a tune, by measure. */
const written = (tune: Tune) =>
  suggestChords(tune).measures.map(({ chords }) =>
    chords
      .map(({ symbol }) => symbol)
      .filter((symbol, i, all) => symbol !== all[i - 1])
      .join(' '),
  );

/** Root and third of a chord: a seventh more or less is the same harmony. */
const harmony = (symbol: string) => {
  const chord = parseChord(symbol)!;
  return `${pitchClassOf(chord.root)}${chord.degrees.some(d => d.name === 'b3') ? 'm' : ''}`;
};
/** The lowest note of a class from a note up. */
const from = (low: number, pitchClass: number) => low + mod12(pitchClass - low);

/** What is struck at the nth step of a chord: [from its bass up]. */
type Texture = (chord: { bass: number; upper: number[] }, nth: number, pulses: number) => number[];
const TEXTURES: Record<string, { step: 'beat' | 'part' | 'chord'; struck: Texture; agrees: number }> = {
  'chords that are held': { step: 'chord', struck: ({ bass, upper }) => [bass, ...upper], agrees: 0.99 },
  // A chord of one beat is a bass alone then.
  'bass and chords in turn': {
    step: 'beat',
    struck: ({ bass, upper }, nth, pulses) => (nth % (pulses === 3 ? 3 : 2) ? upper : [bass]),
    agrees: 0.92,
  },
  'broken chords': {
    step: 'part',
    struck: ({ bass, upper }, nth) => [nth ? upper[[0, 1, 2, 1][nth % 4]!]! : bass],
    agrees: 0.97,
  },
  'two voices that go from note to note': {
    step: 'beat',
    struck: ({ upper }, nth) => [upper[nth % 3]!, from(upper[nth % 3]! + 1, upper[(nth + 1) % 3]!)],
    agrees: 0.94,
  },
  'a bass alone': { step: 'beat', struck: ({ bass }) => [bass], agrees: 0.88 },
};

/** A tune with its chords as a second voice instead of as names. */
function accompanied(tune: Tune, { step, struck }: (typeof TEXTURES)[string]): Tune {
  const spans = chordSpans(tune);
  const begins = measureStarts(tune.measures);
  const measures = tune.measures.map((measure, index) => {
    const pulse = pulseTicks(measure.meter);
    const parts = isCompound(measure.meter) ? 3 : 2;
    const events = spans.flatMap(({ at, ticks, symbol }) => {
      const start = Math.max(0, at - begins[index]!);
      const end = Math.min(measure.ticks, at + ticks - begins[index]!);
      const chord = parseChord(symbol);
      if (!chord || start >= end) return [];
      const length = { chord: end - start, beat: pulse, part: pulse / parts }[step];
      const bass = from(40, bassClass(chord));
      const upper = chordClasses(chord)
        .slice(0, 4)
        .map(own => from(52, own));
      return Array.from({ length: Math.ceil((end - start) / length) }, (_, nth) => {
        const begin = start + nth * length;
        const pitches = struck({ bass, upper }, nth, pulseCount(measure.meter))
          .sort((a, b) => b - a)
          .map(own => spellMidi(own, 0));
        const [pitch, ...lower] = pitches;
        return { id: `v${nth}`, start: begin, ticks: Math.min(length, end - begin), pitch: pitch!, lower };
      });
    });
    return { ...measure, chords: [], others: [{ events }] };
  });
  return { ...tune, measures };
}

/** The part of half measures in which the chord that is heard is the one of the source. */
function agreement(source: Tune, heardIn: Tune): number {
  const begins = measureStarts(source.measures);
  const spans = chordSpans(source);
  const heard = chordSpans(suggestChords(heardIn));
  const at = (list: typeof spans, tick: number) => {
    const span = list.find(own => own.at <= tick && tick < own.at + own.ticks);
    return span && parseChord(span.symbol) && harmony(span.symbol);
  };
  const same = source.measures.flatMap(({ offset, ticks }, index) =>
    offset > 0
      ? []
      : [ticks / 4, (3 * ticks) / 4].flatMap(tick => {
          const wanted = at(spans, begins[index]! + tick);
          return wanted === undefined ? [] : [wanted === at(heard, begins[index]! + tick)];
        }),
  );
  return same.filter(Boolean).length / same.length;
}
const mean = (values: readonly number[]) => values.reduce((sum, own) => sum + own, 0) / values.length;

describe('chords that other voices make', () => {
  const tunes = committeeTunes().filter(tune => chordSpans(tune).length);
  for (const [name, texture] of Object.entries(TEXTURES))
    it(`are heard in ${name}`, () => {
      const own = oneIn(4, tunes);
      expect(own.length).toBeGreaterThan(12);
      const found = own.map(tune => {
        const voices = accompanied(tune, texture);
        const places = heardChords(voices)!;
        expect(places, tune.title).toBeDefined();
        // Where its name is right a chord of such textures lies over its root, or over the bass of its source.
        const begins = measureStarts(tune.measures);
        for (const { measure, start, options } of places) {
          const { symbol } = options[0]!;
          const at = begins[measure]! + start;
          const source = chordSpans(tune).find(own => own.at <= at && at < own.at + own.ticks)?.symbol;
          if (symbol.includes('/') && source && harmony(symbol) === harmony(source))
            expect(source.split('/')[1], `${tune.title}, measure ${measure + 1}`).toBe(symbol.split('/')[1]);
        }
        return agreement(tune, voices);
      });
      expect(mean(found)).toBeGreaterThan(texture.agrees);
    });
  it('are heard in what the app plays: an arrangement that went out as MIDI', () => {
    const found = oneIn(6, tunes).map(tune => {
      const { arrangement } = arrange(tune, {
        id: 'm',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        settings: { level: 3 },
      });
      // One pass, without what a bar line of a repeat would say twice.
      const once = tune.measures.map(({ repeatStart: _s, repeatEnd: _e, ending: _n, ...own }) => own);
      const played = arrangement!.measures.map(
        ({ repeatStart: _s, repeatEnd: _e, ending: _n, ...own }) => own,
      );
      const back = readMidi(writeMidi({ ...arrangement!, measures: played }), { tuneId: 't' });
      if (back.error) throw new Error(back.error.message);
      return agreement({ ...tune, measures: once }, back.tune);
    });
    expect(found.length).toBeGreaterThan(8);
    expect(mean(found)).toBeGreaterThan(0.8);
  });
  it('of a minuet in two voices: a bass under its melody (names from memory of how it is harmonised)', () => {
    const minuet = read(`X:1
T:Minuet
M:3/4
L:1/8
K:G
V:1
d2 GABc|d2 G2 G2|e2 cdef|g2 G2 G2|c2 dcBA|B2 cBAG|F2 GABG|A6|]
V:2 clef=bass
[G,4B,4D4] A,2|B,6|C6|B,6|A,6|G,6|D2 B,2 G,2|D2 D,2 C2|]
`);
    const roots = written(minuet).map(symbols => symbols.split(' ')[0]);
    expect(roots).toEqual(['G', 'G', 'C', 'G', 'Am', 'G', 'G', 'D7']);
  });
  it('change on each beat where a hymn does, and name its upbeat', () => {
    const hymn = read(PSALM);
    // Over its third where that is the bass as long as it lasts; over its root it is another choice.
    expect(written(hymn)).toEqual(['G', 'G D Em Bm', 'G/B D G', 'G D Em', 'C G D G']);
    const turned = chordOptions(hymn).find(({ options }) => options[0]!.symbol === 'G/B');
    const plain = turned!.options.find(({ symbol }) => symbol === 'G');
    expect(plain!.loss).toBeGreaterThan(0.5);
    const [, second] = chordOptions(hymn);
    expect(second!.options[0]).toEqual({ symbol: 'G', loss: 0 });
    expect(second!.options[1]!.loss).toBeGreaterThan(0.5);
  });
  it('begin where some voice moves: on beats through which all hold on there is none', () => {
    // Of the whole note the seventh comes off the beat, and the next chord off the last one.
    const held =
      'X:1\nT:T\nM:4/4\nL:1/8\nK:C\nV:1\nc8|d3e5|e8|]\nV:2\nG8|G3A5|G8|]\nV:3\nE8|B,3^C5|E8|]\nV:4\nC,8|G,,3A,,5|C,8|]\n';
    const { tune } = readAbc(held)[0]!;
    const onsets = tune.measures.map(
      ({ others = [] }) => new Set(others.flatMap(({ events }) => events.map(({ start }) => start))),
    );
    const places = heardChords(tune)!;
    expect(places.length).toBeGreaterThanOrEqual(3);
    for (const { measure, start } of places) expect(onsets[measure]!.has(start)).toBe(true);
    // So there is a place for each of them in the text.
    const first = places.map(({ measure, start, options }) => ({
      measure,
      start,
      symbol: options[0]!.symbol,
    }));
    const again = readAbc(writeChords(tune, first).abc!)[0]!.tune;
    expect(
      again.measures.flatMap(({ chords }, measure) =>
        chords.map(({ start, symbol }) => ({ measure, start, symbol })),
      ),
    ).toEqual(first);
  });
  it('also a dominant of another chord, and one from beside the key', () => {
    const song = read(`X:1
T:Parlour
M:3/4
L:1/4
K:C
V:1
E3|^F2A|G3|_A2 c|G3|]
V:2 clef=bass
C,[E,G,C][E,G,C]|D,[^F,A,C][F,A,C]|G,,[F,G,B,][F,G,B,]|F,[_A,CF][A,CF]|C,[E,G,C][E,G,C]|]
`);
    expect(written(song)).toEqual(['C', 'D7', 'G7', 'Fm', 'C']);
  });
  it('are not told by a second voice alone, nor by some measures of voices; the melody is asked there', () => {
    const head = 'X:1\nT:Thirds\nM:4/4\nL:1/4\nK:C\nV:1\n';
    const thirds = read(`${head}ceee|dfff|egfd|c4|]\nV:2\nAccc|Bddd|cedB|A4|]\n`);
    expect(heardChords(thirds)).toBeUndefined();
    const alone = { ...thirds, measures: thirds.measures.map(({ others: _others, ...own }) => own) };
    expect(chordOptions(thirds)).toEqual(chordOptions(alone));
    const some = read(`${head}ceee|dfff|egfd|c4|]\nV:2\n[CEG]4|z4|z4|[CEG]4|]\n`);
    expect(heardChords(some)).toBeUndefined();
    const most = read(`${head}ceee|dfff|egfd|c4|]\nV:2\n[CEG]4|[DFA]4|z4|[CEG]4|]\n`);
    expect(written(most)).toEqual(['C', 'Dm', expect.stringMatching(/^(C|F|G)/), 'C']);
  });
  it('are what an arrangement is made from, and it says so', () => {
    const tune = accompanied(tunes[0]!, TEXTURES['chords that are held']!);
    const { arrangement } = arrange(tune, {
      id: 'a',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
    });
    expect(arrangement!.ledger.map(({ text }) => text)).toContain(
      'the source has no chords: these were told by its other voices',
    );
    const symbols = (list: { chords: { sounding: string }[] }[]) =>
      list.flatMap(({ chords }) => chords.map(({ sounding }) => harmony(sounding)));
    const own = arrange(tunes[0]!, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
    expect(new Set(symbols(arrangement!.measures))).toEqual(new Set(symbols(own.arrangement!.measures)));
  });
  it('a melody that rests leaves its voices heard', () => {
    const tune = read(
      'X:1\nT:Rest\nM:4/4\nL:1/4\nK:C\nV:1\nz4|c4|z4|]\nV:2 clef=bass\n[C,E,G,]4|[F,A,C]4|[C,E,G,]4|]\n',
    );
    expect(written(tune)).toEqual(['C', 'F', 'C']);
  });
});
