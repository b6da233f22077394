/** Files of what is stored, or of what could not be. */
import type { Kind } from '#core/records';
import type { Copy } from '../data/copies';
import { readBundleOfAll } from '../data/store';
import { saveFile } from './files';

/** The whole studio as one file. */
export async function downloadStudio(): Promise<void> {
  const { writeBundle } = await import('#core/formats/bundle');
  saveFile('velvet-porch-studio.json', writeBundle(await readBundleOfAll()), 'application/json');
}

/** What could not be stored, as a bundle that can be opened again. */
export async function downloadUnsaved(copies: readonly Copy<Kind>[]): Promise<void> {
  const { emptyBundle, writeBundle } = await import('#core/formats/bundle');
  const bundle = emptyBundle();
  for (const copy of copies) {
    const record = copy.snapshot().history?.present;
    if (record) (bundle[copy.kind] as unknown[]).push(record);
  }
  saveFile('not-stored.json', writeBundle(bundle), 'application/json');
}
