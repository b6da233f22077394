/**
 * WAV out and in: 16 bits a sample, mono, as the Multimedia Programming Interface and Data Specifications 1.0 (IBM and Microsoft,
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

/**
 * Reads a WAV file as `writeWav` writes it; of other parts than its samples nothing is kept.
 *
 * @throws RangeError when it is no WAV file of one channel and 16 bits
 * @example readWav(writeWav(new Float32Array([0, 1]), 44100)).sampleRate // 44100
 */
export function readWav(bytes: Uint8Array): { samples: Float32Array<ArrayBuffer>; sampleRate: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const text = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < HEADER || text(0) !== 'RIFF' || text(8) !== 'WAVE')
    throw new RangeError('this is no WAV file');
  let sampleRate = 0;
  for (let at = 12; at + 8 <= bytes.length; ) {
    // A stream that is still being written names a length that it does not have.
    const length = Math.min(view.getUint32(at + 4, true), bytes.length - at - 8);
    if (text(at) === 'fmt ') {
      const [format, channels, bits] = [8, 10, 22].map(place => view.getUint16(at + place, true));
      if (format !== 1 || channels !== 1 || bits !== 16)
        throw new RangeError('only WAV files of one channel and 16 bits can be read');
      sampleRate = view.getUint32(at + 12, true);
    }
    if (text(at) === 'data' && sampleRate) {
      const samples = Float32Array.from(
        { length: Math.floor(length / 2) },
        (_, i) => view.getInt16(at + 8 + i * 2, true) / 32767,
      );
      return { samples, sampleRate };
    }
    at += 8 + length + (length % 2);
  }
  throw new RangeError('the WAV file holds no samples');
}
