/** The microphone, as it hears: nothing is made louder, quieter or cleaner by the browser. */
import { begins } from './audioClock';
import recorderUrl from './recorder.worklet.ts?worker&url';

/** Seconds that are kept at most. */
const LONGEST = 300;

/** Why the microphone can't be heard, in words for people. */
export function microphoneWords(cause: unknown): string {
  const name = (cause as { name?: string })?.name;
  if (name === 'NotAllowedError') return 'the browser may not use the microphone: allow it for this page';
  if (name === 'NotFoundError') return 'there is no microphone';
  return cause instanceof Error ? cause.message : 'the microphone can’t be heard';
}

/** A microphone that is open. It sends nothing anywhere: what it hears stays in this window. */
export class Microphone {
  private readonly blocks: Float32Array<ArrayBuffer>[] = [];
  private length = 0;

  private constructor(
    private readonly stream: MediaStream,
    private readonly context: AudioContext,
  ) {}

  static async open(): Promise<Microphone> {
    if (!navigator.mediaDevices) throw new Error('this browser has no way to hear a microphone here');
    const stream = await navigator.mediaDevices.getUserMedia({
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    });
    const context = new AudioContext();
    const own = new Microphone(stream, context);
    try {
      await context.audioWorklet.addModule(recorderUrl);
      if (!(await begins(context)))
        throw new Error('the sound device does not answer; see whether it is switched on, then try again');
    } catch (cause) {
      own.close();
      throw cause;
    }
    const node = new AudioWorkletNode(context, 'recorder');
    node.port.onmessage = ({ data }: MessageEvent<Float32Array<ArrayBuffer>>) => own.take(data);
    context.createMediaStreamSource(stream).connect(node);
    return own;
  }

  private take(block: Float32Array<ArrayBuffer>): void {
    if (this.length > LONGEST * this.sampleRate) return;
    this.blocks.push(block);
    this.length += block.length;
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  /** Samples that were heard so far. */
  get heard(): number {
    return this.length;
  }

  /** What was heard from a sample on. */
  since(from: number): Float32Array<ArrayBuffer> {
    const all = new Float32Array(Math.max(0, this.length - from));
    let at = -from;
    for (const block of this.blocks) {
      if (at + block.length > 0) all.set(at < 0 ? block.subarray(-at) : block, Math.max(0, at));
      at += block.length;
    }
    return all;
  }

  close(): void {
    for (const track of this.stream.getTracks()) track.stop();
    void this.context.close();
  }
}
