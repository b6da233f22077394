import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import type { Cue } from '#core/sound';
import { begins } from './audioClock';
import type { Hearing, OpenedSound, SoundRequest } from './sound.worker';
import { soundMaker } from './workers';

export interface PlayerState {
  status: 'stopped' | 'preparing' | 'playing';
  /** Where the music is; absent during the count-in and when stopped. */
  cue?: Cue;
  /** Tempo that is heard, in per cent of the written one; absent when stopped. */
  percent?: number;
  error?: string;
}

/** Seconds of the first piece, which is waited for, of the others, and how far ahead of the ear they are made. */
const FIRST_PIECE = 0.35;
const PIECE = 1.5;
const AHEAD = 3;
/** Seconds between the order to play and the first sample. */
const LEAD = 0.05;
/** How often a loudspeaker that does not begin is asked. */
const ASKED = 2;
/** Rounds of a loop before the newest that may still be heard: the shortest of beats, made ahead of the ear. */
const MOST_ROUNDS = 40;
/** Seconds over which the last notes of a loop ring into its beginning. */
const RING_OVER = 1.2;

/** A loop that gets faster: by so many per cent of the written tempo a round, up to a limit. */
export interface Ramp {
  step: number;
  limit: number;
}

/** One way through the sound. */
interface Round {
  sound: OpenedSound;
  percent: number;
  /** Time of the audio clock at which sample 0 sounds, or would have. */
  origin: number;
}

/** A sound that is being played. */
interface Session {
  request: SoundRequest;
  loop: boolean;
  ramp: Ramp | undefined;
  /** The way through it that is made, and those before it that are still heard; the newest last. */
  rounds: Round[];
  /** The next sample to be made, of the newest round. */
  next: number;
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

  /**
   * Plays from the beginning of what is asked for.
   *
   * @param loop again and again (the count-in only once)
   * @param ramp makes each round faster
   */
  async play(request: SoundRequest, loop: boolean, ramp?: Ramp): Promise<void> {
    this.stop();
    const turn = ++this.turn;
    this.set({ status: 'preparing' });
    try {
      this.context ??= new AudioContext();
      const { sampleRate } = this.context;
      const [sound] = await Promise.all([soundMaker().open(request, sampleRate), this.awaken()]);
      // Stopped or started anew while the sound was being made.
      if (turn === this.turn) await this.begin({ request, loop, ramp, sound }, 0, turn);
    } catch (cause) {
      this.fail(cause, turn);
    }
  }

  /** Has the audio clock run. */
  private async awaken(): Promise<void> {
    for (let asked = 0; asked < ASKED; asked++) {
      this.context ??= new AudioContext();
      const { context } = this;
      if ((await begins(context)) || context !== this.context) return;
      this.context = undefined;
      void context.close();
    }
    throw new Error('the loudspeaker does not answer; see whether it is switched on, then try again');
  }

  /** Goes over to the same music at another tempo, at the place where it is. */
  async retime(request: SoundRequest): Promise<void> {
    const { session, context } = this;
    if (!session || !context) return;
    const turn = ++this.turn;
    try {
      const sound = await soundMaker().open(request, context.sampleRate);
      if (turn !== this.turn) return;
      const { loop, ramp } = session;
      const round = this.heard(session);
      const at =
        sound.start +
        Math.round(sound.sampleRate * timeAtSamePlace(round.sound.cues, sound.cues, this.place(round)));
      this.silence(0.03);
      await this.begin({ request, loop, ramp, sound }, Math.max(0, Math.min(at, sound.end)), turn);
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
  private async begin(
    { sound, ...asked }: Pick<Session, 'request' | 'loop' | 'ramp'> & { sound: OpenedSound },
    at: number,
    turn: number,
  ): Promise<void> {
    const context = this.context!;
    const first = await soundMaker().piece(sound.id, at, at + Math.round(FIRST_PIECE * sound.sampleRate));
    if (turn !== this.turn) return;
    if (!first) throw new Error('it was put away for other sounds; try again');
    const when = context.currentTime + LEAD;
    const { percent } = asked.request;
    const session: Session = {
      ...asked,
      rounds: [{ sound, percent, origin: when - at / sound.sampleRate }],
      next: at,
      sources: new Set(),
    };
    this.session = session;
    this.schedule(session, first);
    this.set({ status: 'playing', percent });
    void this.pump(session, turn);
    cancelAnimationFrame(this.frame);
    this.follow(session);
  }

  /** Hands the next piece to the audio clock. */
  private schedule(session: Session, samples: Float32Array<ArrayBuffer>): void {
    const { sound, origin } = session.rounds.at(-1)!;
    this.sound(session, samples, origin + session.next / sound.sampleRate);
    session.next += samples.length;
  }

  private sound(session: Session, samples: Float32Array<ArrayBuffer>, when: number, fade?: number): void {
    if (!samples.length) return;
    const context = this.context!;
    const buffer = context.createBuffer(1, samples.length, session.rounds.at(-1)!.sound.sampleRate);
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
    const current = () => turn === this.turn && this.session === session;
    try {
      while (current()) {
        const { sound, origin } = session.rounds.at(-1)!;
        const { sampleRate } = sound;
        const ahead = origin + session.next / sampleRate - this.context!.currentTime;
        if (ahead > AHEAD) {
          await new Promise(resolve => setTimeout(resolve, 200));
          continue;
        }
        const limit = session.loop ? sound.end : sound.length;
        const to = Math.min(limit, session.next + Math.round(PIECE * sampleRate));
        if (to > session.next) {
          const piece = await soundMaker().piece(sound.id, session.next, to);
          if (!current() || !piece) return;
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
        if (!current()) return;
        const boundary = origin + sound.end / sampleRate;
        if (ring) this.sound(session, ring, boundary, RING_OVER);
        const next = await this.nextRound(session);
        if (!current()) return;
        session.rounds = [
          ...session.rounds.slice(-MOST_ROUNDS),
          { ...next, origin: boundary - next.sound.start / next.sound.sampleRate },
        ];
        session.next = next.sound.start;
      }
    } catch (cause) {
      this.fail(cause, turn);
    }
  }

  /** What the next round of a loop plays: the same, or faster. */
  private async nextRound({ request, ramp, rounds }: Session): Promise<Omit<Round, 'origin'>> {
    const { sound, percent } = rounds.at(-1)!;
    const faster = ramp ? Math.min(Math.max(percent, ramp.limit), percent + ramp.step) : percent;
    if (faster === percent) return { sound, percent };
    const made = await soundMaker().open({ ...request, percent: faster }, sound.sampleRate);
    return { sound: made, percent: faster };
  }

  /** The round that the ear is in: later ones may be made already. */
  private heard({ rounds }: Session): Round {
    const now = this.context!.currentTime;
    return (
      rounds.findLast(({ origin, sound }) => origin + sound.start / sound.sampleRate <= now) ?? rounds[0]!
    );
  }

  /** Seconds from the start of the music of a round to what is heard now; negative in a count-in. */
  private place({ sound: { start, sampleRate }, origin }: Round): number {
    return this.context!.currentTime - origin - start / sampleRate;
  }

  private follow(session: Session): void {
    const step = () => {
      if (this.session !== session) return;
      const round = this.heard(session);
      const { sound, percent } = round;
      const length = (sound.end - sound.start) / sound.sampleRate;
      const rings = (sound.length - sound.end) / sound.sampleRate;
      const time = this.place(round);
      if (!session.loop && time > length + rings) {
        this.stop();
        return;
      }
      // The last notes may ring on, but the music is over: the cursor rests.
      const cue = !session.loop && time > length + 0.3 ? undefined : cueAt(sound.cues, time);
      if (cue !== this.state.cue || percent !== this.state.percent)
        this.set({ status: 'playing', percent, ...(cue && { cue }) });
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

/** A player that lives as long as the screen shows one thing. */
function usePlayer(shown: string): [Player, PlayerState] {
  // A new one for each thing: what it tells is of that thing from the first drawing on, never of the one before.
  const { player } = useMemo(() => ({ shown, player: new Player() }), [shown]);
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  useEffect(() => () => player.close(), [player]);
  return [player, state];
}

/** What of a request is music, and stays as it is. */
const NOT_HEARING = { arrangement: 0, tune: 0, order: 0, setup: 0, grips: 0 };

/**
 * Plays what a screen asks for; what is heard follows its tempo.
 *
 * @param shown id of what the screen shows, where that changes: what played of another is over at once
 */
export function usePlayback(shown = '') {
  const [player, state] = usePlayer(shown);
  const request = useRef<SoundRequest>(undefined);
  /** Plays, or stops what plays. */
  const toggle = useCallback(
    (wanted: SoundRequest, loop: boolean, ramp?: Ramp) => {
      if (player.snapshot().status !== 'stopped') {
        player.stop();
        return;
      }
      request.current = wanted;
      void player.play(wanted, loop, ramp);
    },
    [player],
  );
  /** Goes on in another way (tempo, mix) from where it is. */
  const rehear = useCallback(
    (hearing: Partial<Hearing>) => {
      const { current } = request;
      if (!current) return;
      const heard = { ...current, ...hearing } as SoundRequest;
      if (JSON.stringify({ ...heard, ...NOT_HEARING }) === JSON.stringify({ ...current, ...NOT_HEARING }))
        return;
      request.current = heard;
      void player.retime(heard);
    },
    [player],
  );
  return { player, state, toggle, rehear };
}
