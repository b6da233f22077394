/** Writes demo/studio.json from the demo's tune book; run after the tunes or the arranger changed. */
import { readFileSync, writeFileSync } from 'node:fs';
import { writeBundle } from '#core/formats/bundle';
import { buildDemoStudio } from '#demo';

const bundle = buildDemoStudio(readFileSync(new URL('../demo/tunes/studio.abc', import.meta.url), 'utf8'));
writeFileSync(new URL('../demo/studio.json', import.meta.url), writeBundle(bundle));
console.log(`${bundle.tunes.length} tunes, ${bundle.arrangements.length} arrangements`);
