/** The rooms of the core: no two of them may depend on each other, directly or in a ring; types count too. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { describe, expect, it } from 'vitest';

const CORE = import.meta.dirname;

/** Program files of a folder and those in it; tests and what helps them may use every room. */
function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap(entry => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'testing' ? [] : filesIn(path);
    return entry.name.endsWith('.ts') && !entry.name.endsWith('.test.ts') ? [path] : [];
  });
}

const roomOf = (path: string) => relative(CORE, path).split('/')[0]!;

/** For each room the rooms that its files import from, with one place that does. */
function importsOf(files: readonly string[]): Map<string, Map<string, string>> {
  const rooms = new Map<string, Map<string, string>>();
  for (const file of files) {
    const room = roomOf(file);
    const own = rooms.get(room) ?? new Map<string, string>();
    rooms.set(room, own);
    for (const match of readFileSync(file, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'(\.{1,2}\/[^']*)'/g)) {
      const target = roomOf(resolve(dirname(file), match[1]!));
      if (target !== room) own.set(target, relative(CORE, file));
    }
  }
  return rooms;
}

/** A ring of rooms, each importing the next one; undefined where there is none. */
function ringIn(rooms: ReadonlyMap<string, ReadonlyMap<string, string>>): string[] | undefined {
  const done = new Set<string>();
  const walk = (room: string, way: readonly string[]): string[] | undefined => {
    const at = way.indexOf(room);
    if (at >= 0) return [...way.slice(at), room];
    if (done.has(room)) return undefined;
    for (const next of rooms.get(room)?.keys() ?? []) {
      const ring = walk(next, [...way, room]);
      if (ring) return ring;
    }
    done.add(room);
    return undefined;
  };
  for (const room of rooms.keys()) {
    const ring = walk(room, []);
    if (ring) return ring;
  }
  return undefined;
}

describe('rooms of the core', () => {
  const rooms = importsOf(filesIn(CORE));
  it('are many, and know each other', () => {
    expect(rooms.size).toBeGreaterThan(15);
    expect(rooms.get('arrange')!.has('score')).toBe(true);
  });
  it('depend on each other in one direction only', () => {
    const ring = ringIn(rooms);
    const why = ring?.slice(1).map((room, i) => `${ring[i]} → ${room} in ${rooms.get(ring[i]!)!.get(room)}`);
    expect(why ?? []).toEqual([]);
  });
  it('the check itself notices a ring', () => {
    const ring = ringIn(
      new Map([
        ['a', new Map([['b', 'a/index.ts']])],
        ['b', new Map([['c', 'b/index.ts']])],
        ['c', new Map([['a', 'c/index.ts']])],
      ]),
    );
    expect(ring).toEqual(['a', 'b', 'c', 'a']);
  });
  it('import nothing from outside the core but packages', () => {
    const strays = filesIn(CORE).filter(file =>
      [...readFileSync(file, 'utf8').matchAll(/from '(\.{1,2}\/[^']*)'/g)].some(match =>
        relative(CORE, resolve(dirname(file), match[1]!)).startsWith('..'),
      ),
    );
    expect(strays).toEqual([]);
  });
});
