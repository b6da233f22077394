/** Compressed MusicXML (.mxl): a zip archive whose container names the score, unpacked by the package fflate. */
import { strFromU8, unzipSync } from 'fflate';
import { textOf } from '../encoding';
import { all, first, parseXml } from './tree';

/** Largest score that is unpacked, in bytes: far beyond any music, far below what fills a machine. */
const MOST_BYTES = 60_000_000;

/**
 * The text of a MusicXML file, compressed or not.
 *
 * @throws RangeError where an archive holds no score, or can't be unpacked
 * @example musicXmlText(new Uint8Array([60, 97, 47, 62])) // '<a/>'
 */
export function musicXmlText(bytes: Uint8Array): string {
  // "PK": every zip archive begins so.
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return textOf(bytes);
  const unpacked = (wanted: (name: string) => boolean) => {
    try {
      return unzipSync(bytes, {
        filter: ({ name, originalSize }) => {
          if (wanted(name) && originalSize > MOST_BYTES)
            throw new RangeError(`it would take ${Math.round(originalSize / 1e6)} MB unpacked`);
          return wanted(name);
        },
      });
    } catch (cause) {
      if (cause instanceof RangeError) throw cause;
      throw new RangeError('the archive can not be unpacked: it is damaged');
    }
  };
  const container = Object.values(unpacked(name => name === 'META-INF/container.xml'))[0];
  const root = container && parseXml(strFromU8(container));
  const files = root && 'name' in root ? first(root, 'rootfiles') : undefined;
  const named = files && all(files, 'rootfile')[0]?.attributes['full-path'];
  const [score] = Object.values(
    unpacked(name => (named ? name === named : /^[^/]+\.(musicxml|xml)$/i.test(name))),
  );
  if (!score) throw new RangeError('there is no score in the archive');
  return textOf(score);
}
