import { textOf } from '#core/formats/encoding';
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

/** Reads a file that a person has chosen. */
export async function readTextFile(file: File): Promise<string> {
  return textOf(new Uint8Array(await file.arrayBuffer()));
}
