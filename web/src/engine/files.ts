/** Hands a file to the browser's downloads. */
export function saveFile(name: string, content: string | Uint8Array, type: string): void {
  const parts: BlobPart[] = [typeof content === 'string' ? content : new Uint8Array(content)];
  const url = URL.createObjectURL(new Blob(parts, { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A title as a file name. */
export function fileName(title: string, ending: string): string {
  const plain = title
    .normalize('NFKD')
    .replace(/[^\w\s-]/g, '')
    .trim()
    .replace(/\s+/g, '-')
    .toLowerCase();
  return `${plain || 'untitled'}.${ending}`;
}

/**
 * The text of a file as what it is: UTF-8, UTF-16 by its mark or by its zero bytes, and Latin-1 (Windows-1252) where the
 * bytes are no UTF-8.
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

/** Reads a file that a person has chosen. */
export async function readTextFile(file: File): Promise<string> {
  return textOf(new Uint8Array(await file.arrayBuffer()));
}
