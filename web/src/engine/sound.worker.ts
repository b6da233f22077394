import { expose, transfer } from 'comlink';
import { writeWav } from '#core/formats/wav';
import type { Setup } from '#core/instrument';
import type { Arrangement } from '#core/score';
import { type Cue, countIn, melodyPerformance, type Performance, performanceOf, Renderer } from '#core/sound';
import type { Tune } from '#core/tune';

/** What is to be played. */
export type SoundRequest =
  | {
      what: 'arrangement';
      arrangement: Arrangement;
      order: number[];
      percent: number;
      click: boolean;
      countIn: boolean;
    }
  | { what: 'melody'; tune: Tune; setup: Setup; percent: number };

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

/** Sounds that are open: the one that is played, and the one that it goes over to. */
const open = new Map<number, Renderer>();
const MOST_OPEN = 2;
let lastId = 0;

function performed(request: SoundRequest): { performance: Performance; setup: Setup } {
  return request.what === 'melody'
    ? { performance: melodyPerformance(request.tune, request.percent), setup: request.setup }
    : {
        performance: performanceOf(request.arrangement, request.order, request.percent),
        setup: request.arrangement.setup,
      };
}

function rendererOf(request: SoundRequest, sampleRate: number) {
  const { performance, setup } = performed(request);
  const arranged = request.what === 'arrangement' ? request : undefined;
  const renderer = new Renderer(performance, setup, {
    sampleRate,
    click: arranged?.click ?? false,
    countIn: arranged?.countIn ? countIn(arranged.arrangement, arranged.order[0] ?? 0, request.percent) : [],
  });
  return { renderer, performance };
}

/** Samples a second of a file. */
const FILE_RATE = 44100;

const work = {
  /** A whole arrangement as a WAV file. */
  file(request: SoundRequest): Uint8Array<ArrayBuffer> {
    const renderer = rendererOf(request, FILE_RATE).renderer;
    const bytes = writeWav(renderer.render(0, renderer.length), FILE_RATE);
    return transfer(bytes, [bytes.buffer]);
  },
  open(request: SoundRequest, sampleRate: number): OpenedSound {
    const { renderer, performance } = rendererOf(request, sampleRate);
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
