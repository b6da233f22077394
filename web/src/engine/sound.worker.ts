import { expose, transfer } from 'comlink';
import type { Setup } from '#core/instrument';
import type { Arrangement } from '#core/score';
import { type Cue, countIn, melodyPerformance, performanceOf, renderPerformance } from '#core/sound';
import type { Tune } from '#core/tune';

export interface SoundRequest {
  arrangement: Arrangement;
  order: number[];
  percent: number;
  click: boolean;
  countIn: boolean;
  sampleRate: number;
}

export interface Sound {
  samples: Float32Array<ArrayBuffer>;
  sampleRate: number;
  /** Seconds at which the music starts and ends in the samples. */
  start: number;
  end: number;
  cues: Cue[];
}

const work = {
  renderArrangement(request: SoundRequest): Sound {
    const performance = performanceOf(request.arrangement, request.order, request.percent);
    const before = request.countIn
      ? countIn(request.arrangement, request.order[0] ?? 0, request.percent)
      : [];
    return finish(performance, request.arrangement.setup, request.sampleRate, request.click, before);
  },
  renderMelody(tune: Tune, setup: Setup, percent: number, sampleRate: number): Sound {
    return finish(melodyPerformance(tune, percent), setup, sampleRate, false, []);
  },
};

function finish(
  performance: ReturnType<typeof performanceOf>,
  setup: Setup,
  sampleRate: number,
  click: boolean,
  before: ReturnType<typeof countIn>,
): Sound {
  const rendering = renderPerformance(performance, setup, { sampleRate, click, countIn: before });
  const sound: Sound = {
    samples: rendering.samples,
    sampleRate,
    start: rendering.musicStart / sampleRate,
    end: rendering.musicEnd / sampleRate,
    cues: performance.cues,
  };
  return transfer(sound, [rendering.samples.buffer]);
}

export type SoundWork = typeof work;
expose(work);
