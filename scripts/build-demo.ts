/** Writes demo/studio.json from the demo's tune book and song; run after the tunes or the arranger changed. */
import { readFileSync, writeFileSync } from 'node:fs';
import { writeBundle } from '#core/formats/bundle';
import { buildDemoStudio } from '#demo';

const read = (path: string) => readFileSync(new URL(`../demo/${path}`, import.meta.url), 'utf8');
const bundle = buildDemoStudio(read('tunes/studio.abc'), read('songs/lamp.cho'));
writeFileSync(new URL('../demo/studio.json', import.meta.url), writeBundle(bundle));
console.log(`${bundle.tunes.length} tunes, ${bundle.arrangements.length} arrangements`);
