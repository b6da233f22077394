/**
 * WAV out: 16 bits a sample, mono, as the Multimedia Programming Interface and Data Specifications 1.0 (IBM and Microsoft,
 * 1991) describe it.
 */

const HEADER = 44;

/**
 * Samples as a WAV file.
 *
 * @param samples mono, −1 … 1; what lies beyond is cut
 * @example writeWav(new Float32Array([0, 1]), 44100).length // 48
 */
export function writeWav(samples: Float32Array, sampleRate: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(HEADER + samples.length * 2);
  const view = new DataView(bytes.buffer);
  const text = (at: number, letters: string) => {
    for (const [i, letter] of [...letters].entries()) view.setUint8(at + i, letter.charCodeAt(0));
  };
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true); // PCM
  view.setUint16(22, 1, true); // one channel
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, samples.length * 2, true);
  for (const [i, sample] of samples.entries())
    view.setInt16(HEADER + i * 2, Math.round(Math.max(-1, Math.min(1, sample)) * 32767), true);
  return bytes;
}
