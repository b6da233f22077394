/** A style that is misspelt draws nothing and says nothing: so the names are compared here. */
import { readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, relative, resolve } from 'node:path';
import { describe, expect, test } from 'vitest';

const SOURCES = resolve(import.meta.dirname, '..');
const files = readdirSync(SOURCES, { recursive: true, encoding: 'utf8' });
const sheets = files.filter(path => path.endsWith('.module.css')).map(path => resolve(SOURCES, path));
const camelCase = (name: string) => name.replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase());

/** Names of the classes in the selectors of a style sheet, as its readers name them. */
function namesIn(sheet: string): Set<string> {
  const text = readFileSync(sheet, 'utf8')
    .replace(/\/\*[\s\S]*?\*\//g, '')
    .replace(/:global\([^)]*\)/g, '');
  const selectors = [...text.matchAll(/([^{};]+)\{/g)].map(found => found[1]!.trim());
  return new Set(
    selectors
      .filter(selector => !selector.startsWith('@'))
      .flatMap(selector => [...selector.matchAll(/\.([a-zA-Z][\w-]*)/g)].map(found => camelCase(found[1]!))),
  );
}

/** What the sources ask of each style sheet: names, and whether one of them is looked up by a value. */
const asked = new Map(sheets.map(sheet => [sheet, { names: new Set<string>(), byValue: false }]));
const unknown: string[] = [];
for (const path of files.filter(own => /(?<!\.test)\.tsx?$/.test(own))) {
  const source = resolve(SOURCES, path);
  const text = readFileSync(source, 'utf8');
  for (const [, name, from] of text.matchAll(/^import (\w+) from '([^']+\.module\.css)';$/gm)) {
    const sheet = asked.get(resolve(dirname(source), from!));
    if (!sheet) {
      unknown.push(`${path}: ${from}`);
      continue;
    }
    for (const [, own] of text.matchAll(new RegExp(`(?<!/)\\b${name}\\.(\\w+)`, 'g'))) sheet.names.add(own!);
    if (text.includes(`${name}[`)) sheet.byValue = true;
  }
}

describe('style sheets', () => {
  test('every one that is asked for is there', () => {
    expect(sheets.length).toBeGreaterThan(30);
    expect(unknown).toEqual([]);
  });

  test('of one file name each, for the names on the page begin with it', () => {
    const names = sheets.map(sheet => basename(sheet));
    expect(names.filter((name, i) => names.indexOf(name) !== i)).toEqual([]);
  });

  test.each(sheets.map(sheet => [relative(SOURCES, sheet), sheet]))(
    '%s has the styles that are asked of it, and no other',
    (_, sheet) => {
      const { names, byValue } = asked.get(sheet)!;
      const there = namesIn(sheet);
      expect([...names].filter(name => !there.has(name))).toEqual([]);
      if (!byValue) expect([...there].filter(name => !names.has(name))).toEqual([]);
    },
  );
});
