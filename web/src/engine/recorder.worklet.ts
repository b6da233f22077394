/** Hands what the microphone hears to the page, block by block. */

/** In every audio worklet, and in no library of the language. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

class Recorder extends AudioWorkletProcessor {
  process([input]: Float32Array[][]): boolean {
    const block = input?.[0];
    if (block) this.port.postMessage(block.slice());
    return true;
  }
}

registerProcessor('recorder', Recorder);

export {};
