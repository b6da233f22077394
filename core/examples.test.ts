/** The examples in the docstrings of the core's public functions are calls with their results: each is done here. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange';
import { readAbc } from './formats';
import { DEFAULT_HAND } from './hand';
import { standardSetup } from './instrument';

/** What the rooms offer to each other and to the app, by its name. */
const rooms = readdirSync(import.meta.dirname, { withFileTypes: true })
  .filter(entry => entry.isDirectory() && entry.name !== 'testing')
  .map(entry => import(`./${entry.name}/index.ts`) as Promise<Record<string, unknown>>);
const PUBLIC: Record<string, unknown> = Object.assign({}, ...(await Promise.all(rooms)));

function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap(entry => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'testing' ? [] : filesIn(path);
    return entry.name.endsWith('.ts') && !entry.name.endsWith('.test.ts') ? [path] : [];
  });
}

/** A docstring's text by the name of its function. */
const DOCS = new Map(
  filesIn(import.meta.dirname).flatMap(file =>
    [
      ...readFileSync(file, 'utf8').matchAll(
        /\/\*\*((?:(?!\*\/)[\s\S])*)\*\/\s*export (?:async )?function (\w+)/g,
      ),
    ].map(match => [match[2]!, match[1]!.replaceAll(/^\s*\* ?/gm, '')] as const),
  ),
);

/** What the examples speak of: a short tune, fingerstyle on a guitar. */
const tune = readAbc('X:1\nT:Example\nM:4/4\nL:1/4\nK:C\n"C"CEGc|"G7"BGFD|"C"C4|]\n')[0]!.tune;
const scope: Record<string, unknown> = {
  ...PUBLIC,
  tune,
  arrangement: arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement,
  setup: standardSetup('guitar'),
  hand: DEFAULT_HAND,
};

const evaluate = (code: string, names: Record<string, unknown>): unknown =>
  new Function(...Object.keys(names), `return (${code});`)(...Object.values(names));

/** Call and result of an example that ends with a value; others only tell what comes. */
const examples = [...DOCS].flatMap(([name, doc]) => {
  const example = doc.match(/@example\s+([\s\S]*?)(?=\n@|$)/)?.[1];
  const [, call, result] = example?.match(/^([\s\S]*?)\s\/\/ (.*)\s*$/) ?? [];
  return call && result && /^(['"[{\d-]|true$|false$|null$)/.test(result) ? [{ name, call, result }] : [];
});

describe('the example of', () => {
  it.each(examples)('$name holds', ({ call, result }) => {
    expect(evaluate(call, scope)).toEqual(evaluate(result, {}));
  });
});
