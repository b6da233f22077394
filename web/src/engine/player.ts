import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import type { Cue } from '#core/sound';
import type { OpenedSound, SoundRequest } from './sound.worker';
import { soundMaker } from './workers';

export interface PlayerState {
  status: 'stopped' | 'preparing' | 'playing';
  /** Where the music is; absent during the count-in and when stopped. */
  cue?: Cue;
  error?: string;
}

/** Seconds of the first piece, which is waited for, of the others, and how far ahead of the ear they are made. */
const FIRST_PIECE = 0.35;
const PIECE = 1.5;
const AHEAD = 3;
/** Seconds between the order to play and the first sample. */
const LEAD = 0.05;
/** Seconds over which the last notes of a loop ring into its beginning. */
const RING_OVER = 1.2;

/** A sound that is being played. */
interface Session {
  sound: OpenedSound;
  loop: boolean;
  /** Time of the audio clock at which sample 0 sounds, or would have. */
  origin: number;
  /** The next sample to be made. */
  next: number;
  /** Rounds of a loop that were begun after the first. */
  rounds: number;
  sources: Set<AudioBufferSourceNode>;
}

/**
 * Plays a sound that is rendered ahead of the ear piece by piece, and tells where the music is, from the audio clock. One
 * player plays one thing at a time.
 */
export class Player {
  private context: AudioContext | undefined;
  private session: Session | undefined;
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

  /** Plays from the beginning of what is asked for. @param loop again and again (the count-in only once) */
  async play(request: SoundRequest, loop: boolean): Promise<void> {
    this.stop();
    const turn = ++this.turn;
    this.set({ status: 'preparing' });
    try {
      this.context ??= new AudioContext();
      const { context } = this;
      const [sound] = await Promise.all([soundMaker().open(request, context.sampleRate), context.resume()]);
      // Stopped or started anew while the sound was being made.
      if (turn === this.turn) await this.begin(sound, loop, 0, turn);
    } catch (cause) {
      this.fail(cause, turn);
    }
  }

  /** Goes over to the same music at another tempo, at the place where it is. */
  async retime(request: SoundRequest): Promise<void> {
    const { session, context } = this;
    if (!session || !context) return;
    const turn = ++this.turn;
    try {
      const sound = await soundMaker().open(request, context.sampleRate);
      if (turn !== this.turn) return;
      const place = this.place(session);
      const at =
        sound.start + Math.round(sound.sampleRate * timeAtSamePlace(session.sound.cues, sound.cues, place));
      this.silence(0.03);
      await this.begin(sound, session.loop, Math.max(0, Math.min(at, sound.end)), turn);
    } catch (cause) {
      this.fail(cause, turn);
    }
  }

  private fail(cause: unknown, turn: number): void {
    if (turn !== this.turn) return;
    this.stop();
    this.set({
      status: 'stopped',
      error: cause instanceof Error ? cause.message : 'the sound could not be made',
    });
  }

  /** Begins at a sample as soon as the first piece is there. */
  private async begin(sound: OpenedSound, loop: boolean, at: number, turn: number): Promise<void> {
    const context = this.context!;
    const first = await soundMaker().piece(sound.id, at, at + Math.round(FIRST_PIECE * sound.sampleRate));
    if (turn !== this.turn || !first) return;
    const when = context.currentTime + LEAD;
    const session: Session = {
      sound,
      loop,
      origin: when - at / sound.sampleRate,
      next: at,
      rounds: 0,
      sources: new Set(),
    };
    this.session = session;
    this.schedule(session, first);
    this.set({ status: 'playing' });
    void this.pump(session, turn);
    cancelAnimationFrame(this.frame);
    this.follow(session);
  }

  /** Hands the next piece to the audio clock. */
  private schedule(session: Session, samples: Float32Array<ArrayBuffer>): void {
    const { sampleRate } = session.sound;
    this.sound(session, samples, session.origin + session.next / sampleRate);
    session.next += samples.length;
  }

  private sound(session: Session, samples: Float32Array<ArrayBuffer>, when: number, fade?: number): void {
    if (!samples.length) return;
    const context = this.context!;
    const buffer = context.createBuffer(1, samples.length, session.sound.sampleRate);
    buffer.copyToChannel(samples, 0);
    const source = context.createBufferSource();
    source.buffer = buffer;
    const gain = context.createGain();
    source.connect(gain).connect(context.destination);
    if (fade !== undefined) {
      gain.gain.setValueAtTime(1, when);
      gain.gain.linearRampToValueAtTime(0, when + fade);
    }
    // A piece that comes late is heard from where the music is by now.
    const late = Math.max(0, context.currentTime - when);
    if (late < buffer.duration) source.start(Math.max(when, context.currentTime), late);
    session.sources.add(source);
    source.onended = () => session.sources.delete(source);
  }

  /** Keeps pieces ready ahead of the ear, until the music has rung out. */
  private async pump(session: Session, turn: number): Promise<void> {
    const { sound } = session;
    const { sampleRate } = sound;
    try {
      while (turn === this.turn && this.session === session) {
        const ahead = session.origin + session.next / sampleRate - this.context!.currentTime;
        if (ahead > AHEAD) {
          await new Promise(resolve => setTimeout(resolve, 200));
          continue;
        }
        const limit = session.loop ? sound.end : sound.length;
        const to = Math.min(limit, session.next + Math.round(PIECE * sampleRate));
        if (to > session.next) {
          const piece = await soundMaker().piece(sound.id, session.next, to);
          if (turn !== this.turn || this.session !== session || !piece) return;
          this.schedule(session, piece);
        }
        if (session.next < limit) continue;
        if (!session.loop) return;
        // The last notes ring over into the beginning, which goes on without a gap.
        const ring = await soundMaker().piece(
          sound.id,
          sound.end,
          sound.end + Math.round(RING_OVER * sampleRate),
        );
        if (turn !== this.turn || this.session !== session) return;
        if (ring) this.sound(session, ring, session.origin + sound.end / sampleRate, RING_OVER);
        session.origin += (sound.end - sound.start) / sampleRate;
        session.rounds += 1;
        session.next = sound.start;
      }
    } catch (cause) {
      this.fail(cause, turn);
    }
  }

  /** Seconds from the start of the music to what is heard now; negative in a count-in. */
  private place({ sound, origin, rounds }: Session): number {
    const { start, end, sampleRate } = sound;
    const time = this.context!.currentTime - origin - start / sampleRate;
    // The origin is set ahead when further rounds of a loop are made: the ear is still in one before.
    const length = (end - start) / sampleRate;
    return time + Math.min(rounds, Math.max(0, Math.ceil(-time / length))) * length;
  }

  private follow(session: Session): void {
    const { sound, loop } = session;
    const length = (sound.end - sound.start) / sound.sampleRate;
    const rings = (sound.length - sound.end) / sound.sampleRate;
    const step = () => {
      if (this.session !== session) return;
      const time = this.place(session);
      if (!loop && time > length + rings) {
        this.stop();
        return;
      }
      // The last notes may ring on, but the music is over: the cursor rests.
      const cue = !loop && time > length + 0.3 ? undefined : cueAt(sound.cues, time);
      if (cue !== this.state.cue) this.set(cue ? { status: 'playing', cue } : { status: 'playing' });
      this.frame = requestAnimationFrame(step);
    };
    step();
  }

  /** Ends all that sounds. */
  private silence(fade = 0): void {
    const { session } = this;
    this.session = undefined;
    for (const source of session?.sources ?? []) {
      source.onended = null;
      source.stop(this.context!.currentTime + fade);
    }
  }

  stop(): void {
    this.turn += 1;
    cancelAnimationFrame(this.frame);
    this.silence();
    if (this.state.status !== 'stopped') this.set({ status: 'stopped' });
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = undefined;
  }
}

/** The number of the last cue at or before a time; −1 before the first. */
function cueNumber(cues: readonly Cue[], time: number): number {
  let low = 0;
  let high = cues.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (cues[middle]!.time <= time + 1e-6) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

const cueAt = (cues: readonly Cue[], time: number) => cues[cueNumber(cues, time)];

/** The time in one way of playing that is the same place as a time in another: as far from cue to cue. */
export function timeAtSamePlace(from: readonly Cue[], to: readonly Cue[], time: number): number {
  const number = cueNumber(from, time);
  const last = Math.min(from.length, to.length) - 1;
  if (last < 1) return time;
  if (number < 0) return (time * to[last]!.time) / (from[last]!.time || 1);
  const at = Math.min(number, last);
  const next = at + 1;
  if (next > last) return to[at]!.time + (time - from[at]!.time);
  const part = (time - from[at]!.time) / (from[next]!.time - from[at]!.time || 1);
  return to[at]!.time + part * (to[next]!.time - to[at]!.time);
}

/** A player that lives as long as the screen. */
function usePlayer(): [Player, PlayerState] {
  const player = useMemo(() => new Player(), []);
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  useEffect(() => () => player.close(), [player]);
  return [player, state];
}

/** Plays what a screen asks for; what is heard follows its tempo. */
export function usePlayback() {
  const [player, state] = usePlayer();
  const request = useRef<SoundRequest>(undefined);
  /** Plays, or stops what plays. */
  const toggle = useCallback(
    (wanted: SoundRequest, loop: boolean) => {
      if (player.snapshot().status !== 'stopped') {
        player.stop();
        return;
      }
      request.current = wanted;
      void player.play(wanted, loop);
    },
    [player],
  );
  const retime = useCallback(
    (percent: number) => {
      if (!request.current || request.current.percent === percent) return;
      request.current = { ...request.current, percent };
      void player.retime(request.current);
    },
    [player],
  );
  return { player, state, toggle, retime };
}
