/** Letters of text files. */

/** In every host that runs JavaScript, and in no library of the language. */
declare class TextDecoder {
  constructor(encoding: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}

/**
 * The text of a file as what it is: UTF-8, UTF-16 by its mark or by its zero bytes, and Latin-1 (Windows-1252) where the
 * bytes are no UTF-8.
 *
 * @example textOf(new Uint8Array([84, 58, 70, 252, 114])) // 'T:Für'
 */
export function textOf(bytes: Uint8Array): string {
  const decode = (encoding: string, fatal = false) => new TextDecoder(encoding, { fatal }).decode(bytes);
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return decode('utf-16le');
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return decode('utf-16be');
  // Text in western letters has a zero in every other byte of UTF-16.
  const zeros = [0, 0];
  const looked = Math.min(bytes.length, 400);
  for (let i = 0; i < looked; i++) if (bytes[i] === 0) zeros[i % 2]! += 1;
  if (zeros[1]! > looked / 4) return decode('utf-16le');
  if (zeros[0]! > looked / 4) return decode('utf-16be');
  try {
    return decode('utf-8', true);
  } catch {
    return decode('windows-1252');
  }
}
