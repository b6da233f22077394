import { expose, transfer } from 'comlink';
import { parseChord, transposeChord } from '#core/chord';
import { readWav, writeWav } from '#core/formats/wav';
import type { Hand } from '#core/hand';
import type { Setup } from '#core/instrument';
import { expectedOf, type Fault, judged, onsetsIn, soundOf, type Take, withFaults } from '#core/listen';
import { keyFifths, transposeKey } from '#core/pitch';
import type { Arrangement } from '#core/score';
import { type Frets, findShapes } from '#core/shape';
import {
  type Cue,
  countIn,
  FULL_MIX,
  gripsPerformance,
  type Mix,
  melodyPerformance,
  mixed,
  performanceOf,
  Renderer,
  type SpokenCounts,
  type Strings,
  within,
  withPause,
} from '#core/sound';
import { Clock } from '#core/timeline';
import type { Tune } from '#core/tune';
import countsUrl from './sounds/counts.wav?url';

/** How an arrangement is heard. */
export interface Hearing {
  percent: number;
  click: boolean;
  countIn: boolean;
  /** How loud each part is; as played where left out. */
  mix?: Mix;
  /** How loud clicks are, 0 to 1. */
  clickLevel?: number;
  strings?: Strings;
  /** Counts are spoken instead of clicked. */
  spoken?: boolean;
}

/** What is to be played. */
export type SoundRequest =
  | (Hearing & {
      what: 'arrangement';
      arrangement: Arrangement;
      order: number[];
      /** Only from one tick on the road to another. */
      window?: { from: number; to: number };
      /** A measure of counting behind it, before it comes round. */
      pause?: boolean;
    })
  | {
      what: 'melody';
      tune: Tune;
      setup: Setup;
      percent: number;
      transposition?: number;
      /** With the chords as this hand holds them on these strings. */
      hand?: Hand;
      /** With the further voices of the source. */
      voices?: boolean;
    }
  /** Chord shapes brushed one after the other. */
  | { what: 'grips'; setup: Setup; grips: (readonly (number | null)[])[]; percent: number };

/** A sound that is ready to be rendered piece by piece. */
export interface OpenedSound {
  id: number;
  sampleRate: number;
  /** Samples at which the music starts (after a count-in), ends, and has rung out. */
  start: number;
  end: number;
  length: number;
  /** Times in seconds from the start of the music. */
  cues: Cue[];
}

/** Sounds that are open: the one that is played, and those that it goes over to. */
const open = new Map<number, Renderer>();
const MOST_OPEN = 3;
let lastId = 0;

/** Seconds for which each of several shapes rings. */
const GRIP_SECONDS = 1.6;

let counts: Promise<SpokenCounts> | undefined;

/** The recording of the counts, read when it is first needed. */
function spokenCounts(): Promise<SpokenCounts> {
  counts ??= fetch(countsUrl)
    .then(async answer => {
      if (!answer.ok) throw new Error(`the spoken counts could not be read (${answer.status})`);
      return readWav(new Uint8Array(await answer.arrayBuffer()));
    })
    .catch(error => {
      counts = undefined;
      throw error;
    });
  return counts;
}

async function rendererOf(request: SoundRequest, sampleRate: number) {
  const plain = { sampleRate, click: false, countIn: [] };
  switch (request.what) {
    case 'melody': {
      const { tune, setup, percent, transposition = 0, hand, voices = false } = request;
      const performance = melodyPerformance(tune, percent, {
        transposition,
        voices,
        ...(hand && { held: { setup, grips: usualGrips(tune, setup, hand, transposition - setup.capo) } }),
      });
      return { renderer: new Renderer(performance, request.setup, plain), performance };
    }
    case 'grips': {
      const performance = gripsPerformance(request.setup, request.grips, GRIP_SECONDS);
      return { renderer: new Renderer(performance, request.setup, plain), performance };
    }
    default: {
      const { arrangement, order, percent, click, clickLevel, mix, strings, window, pause, spoken } = request;
      const clock = new Clock(arrangement, order, percent);
      let performance = mixed(performanceOf(arrangement, order, percent), mix ?? FULL_MIX);
      if (window) performance = within(performance, clock.seconds(window.from), clock.seconds(window.to));
      const lead = countIn(arrangement, order[0] ?? 0, percent);
      const own = click ? performance : { ...performance, clicks: [] };
      if (pause) performance = withPause(own, lead);
      const renderer = new Renderer(performance, arrangement.setup, {
        sampleRate,
        click: click || pause === true,
        countIn: request.countIn ? lead : [],
        ...(clickLevel !== undefined && { clickLevel }),
        ...(strings && { strings }),
        ...(spoken && (click || pause || request.countIn) && { spoken: await spokenCounts() }),
      });
      return { renderer, performance };
    }
  }
}

/** How the chords of a tune are usually held, by their ids, moved by so many semitones. */
function usualGrips(tune: Tune, setup: Setup, hand: Hand, semitones: number) {
  const known = new Map<string, Frets | undefined>();
  const fifths = keyFifths(transposeKey(tune.key, semitones));
  const gripOf = (symbol: string) => {
    if (known.has(symbol)) return known.get(symbol);
    const chord = parseChord(symbol);
    const frets = chord && findShapes(transposeChord(chord, semitones, fifths), setup, hand)[0]?.frets;
    known.set(symbol, frets);
    return frets;
  };
  const grips = new Map<string, Frets>();
  for (const { id, symbol } of tune.measures.flatMap(measure => measure.chords)) {
    const frets = gripOf(symbol);
    if (frets) grips.set(id, frets);
  }
  return grips;
}

/** Samples a second of what the simulated player plays. */
const LISTENING_RATE = 22050;
/** Samples a second of a file. */
const FILE_RATE = 44100;

const work = {
  /** A whole arrangement as a WAV file. */
  async file(request: SoundRequest): Promise<Uint8Array<ArrayBuffer>> {
    const { renderer } = await rendererOf(request, FILE_RATE);
    const bytes = writeWav(renderer.render(0, renderer.length), FILE_RATE);
    return transfer(bytes, [bytes.buffer]);
  },
  /** How a recording of an arrangement was played; the music begins about where the recording does. */
  judge(
    { arrangement, order, percent }: Extract<SoundRequest, { what: 'arrangement' }>,
    samples: Float32Array<ArrayBuffer>,
    sampleRate: number,
  ): Take {
    return judged(expectedOf(performanceOf(arrangement, order, percent)), onsetsIn(samples, sampleRate), {
      samples,
      sampleRate,
    });
  },
  /** The same of a simulated player, who makes one kind of fault at every fourth note. */
  demonstrate(
    { arrangement, order, percent }: Extract<SoundRequest, { what: 'arrangement' }>,
    fault: Fault | 'none',
  ): Take {
    const performance = performanceOf(arrangement, order, percent);
    const expected = expectedOf(performance);
    const faults = new Map<number, Fault>();
    if (fault !== 'none') for (let i = 1; i < expected.length; i += 4) faults.set(i, fault);
    const samples = soundOf(withFaults(performance, faults), arrangement.setup, LISTENING_RATE);
    return judged(expected, onsetsIn(samples, LISTENING_RATE), { samples, sampleRate: LISTENING_RATE });
  },
  async open(request: SoundRequest, sampleRate: number): Promise<OpenedSound> {
    const { renderer, performance } = await rendererOf(request, sampleRate);
    const id = ++lastId;
    open.set(id, renderer);
    for (const old of open.keys()) if (old <= id - MOST_OPEN) open.delete(old);
    const { musicStart, musicEnd, length } = renderer;
    return { id, sampleRate, start: musicStart, end: musicEnd, length, cues: performance.cues };
  },
  /** The samples of an open sound from one to another; undefined when it was closed meanwhile. */
  piece(id: number, from: number, to: number): Float32Array<ArrayBuffer> | undefined {
    const samples = open.get(id)?.render(from, to);
    return samples && transfer(samples, [samples.buffer]);
  },
};

export type SoundWork = typeof work;
expose(work);
