import { useEffect, useMemo, useSyncExternalStore } from 'react';
import type { Cue } from '#core/sound';
import type { Sound } from './sound.worker';

export interface PlayerState {
  status: 'stopped' | 'preparing' | 'playing';
  /** Where the music is; absent during the count-in and when stopped. */
  cue?: Cue;
  error?: string;
}

/**
 * Plays a rendered sound and tells where the music is, from the audio clock.
 * One player plays one thing at a time.
 */
export class Player {
  private context: AudioContext | undefined;
  private source: AudioBufferSourceNode | undefined;
  private frame = 0;
  private turn = 0;
  private state: PlayerState = { status: 'stopped' };
  private readonly listeners = new Set<() => void>();

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly snapshot = () => this.state;

  private set(state: PlayerState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }

  /**
   * Renders and plays.
   *
   * @param render makes the sound at the context's sample rate
   * @param loop play the music part again and again (the count-in only once)
   */
  async play(render: (sampleRate: number) => Promise<Sound>, loop: boolean): Promise<void> {
    this.stop();
    const turn = ++this.turn;
    this.context ??= new AudioContext();
    const context = this.context;
    this.set({ status: 'preparing' });
    try {
      const [sound] = await Promise.all([render(context.sampleRate), context.resume()]);
      // Stopped or started anew while the sound was being made.
      if (turn !== this.turn) return;
      this.start(context, sound, loop);
    } catch (cause) {
      if (turn === this.turn)
        this.set({
          status: 'stopped',
          error: cause instanceof Error ? cause.message : 'the sound could not be made',
        });
    }
  }

  private start(context: AudioContext, sound: Sound, loop: boolean): void {
    const buffer = context.createBuffer(1, sound.samples.length, sound.sampleRate);
    buffer.copyToChannel(sound.samples, 0);
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.loop = loop;
    source.loopStart = sound.start;
    source.loopEnd = sound.end;
    source.connect(context.destination);
    const begin = context.currentTime + 0.05;
    source.start(begin);
    this.source = source;
    this.set({ status: 'playing' });
    source.onended = () => {
      if (this.source === source) this.stop();
    };
    const length = sound.end - sound.start;
    const follow = () => {
      let time = context.currentTime - begin - sound.start;
      if (loop && time > length) time %= length;
      if (!loop && time > length + 0.3) {
        // The last notes may ring on, but the music is over: the cursor rests.
        if (this.state.cue) this.set({ status: 'playing' });
      } else {
        const cue = cueAt(sound.cues, time);
        if (cue !== this.state.cue) this.set(cue ? { status: 'playing', cue } : { status: 'playing' });
      }
      this.frame = requestAnimationFrame(follow);
    };
    follow();
  }

  stop(): void {
    this.turn += 1;
    cancelAnimationFrame(this.frame);
    const source = this.source;
    this.source = undefined;
    if (source) {
      source.onended = null;
      source.stop();
      source.disconnect();
    }
    if (this.state.status !== 'stopped') this.set({ status: 'stopped' });
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = undefined;
  }
}

/** The last cue at or before a time. */
function cueAt(cues: readonly Cue[], time: number): Cue | undefined {
  let low = 0;
  let high = cues.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (cues[middle]!.time <= time + 1e-6) low = middle + 1;
    else high = middle;
  }
  return cues[low - 1];
}

/** A player that lives as long as the screen. */
export function usePlayer(): [Player, PlayerState] {
  const player = useMemo(() => new Player(), []);
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  useEffect(() => () => player.close(), [player]);
  return [player, state];
}
