import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { readBundle } from '#core/formats/bundle';

const root = fileURLToPath(new URL('..', import.meta.url));
const studio = join(root, 'demo/tunes/studio.abc');
const folder = mkdtempSync(join(tmpdir(), 'cli-'));
const run = (...args: string[]) => {
  const result = spawnSync(process.execPath, ['--import', 'tsx', 'cli/arrange.ts', ...args], {
    cwd: root,
    encoding: 'utf8',
  });
  return { code: result.status, out: result.stdout, err: result.stderr };
};
const fileOf = (name: string, content: string) => {
  const file = join(folder, name);
  writeFileSync(file, content);
  return file;
};

describe('arranging from the command line', () => {
  it('writes MusicXML, MIDI and a bundle, and sums up in one line', () => {
    for (const [name, args] of [
      ['a.musicxml', ['--tune', '1']],
      ['b.mid', ['--tune', '2', '--instrument', 'mandolin', '--style', 'chord-melody']],
      ['c.json', ['--tune', '5', '--style', 'melody', '--capo', '3']],
    ] as const) {
      const out = join(folder, name);
      const result = run(studio, ...args, '--to', out);
      expect(result).toMatchObject({ code: 0, err: '' });
      expect(result.out.trim().split('\n')).toHaveLength(1);
      expect(existsSync(out)).toBe(true);
    }
    expect(readFileSync(join(folder, 'a.musicxml'), 'utf8')).toContain(
      '<work-title>The Wind That Shakes the Barley</work-title>',
    );
    expect(parseMidi(readFileSync(join(folder, 'b.mid'))).tracks).toHaveLength(3);
    const { bundle } = readBundle(readFileSync(join(folder, 'c.json'), 'utf8'));
    expect(bundle!.arrangements[0]).toMatchObject({ title: 'Clementine', setup: { capo: 3 } });
  });

  it('names line and column of bad input, and writes nothing', () => {
    const bad = fileOf('bad.abc', 'X:1\nT:Bad\nL:1/4\nK:D\nABcd|\nAB?d|]\n');
    const out = join(folder, 'bad.mid');
    const result = run(bad, '--to', out);
    expect(result.code).toBe(1);
    expect(result.err).toContain('bad.abc:6:3: "?" is not ABC music');
    expect(existsSync(out)).toBe(false);
  });

  it('says where a tune leaves the instrument, and what can be done', () => {
    const wide = fileOf('wide.abc', "X:1\nT:Wide\nM:4/4\nL:1/4\nK:C\nC,,CCC|cccc|c'''c'''c'''c'''|]\n");
    const result = run(wide, '--to', join(folder, 'wide.mid'));
    expect(result.code).toBe(1);
    expect(result.err).toMatch(/no octave fits/);
    expect(result.err).toMatch(/measure/);
  });

  it.each([
    ['no file', ['--to', 'x.mid']],
    ['no output', [studio]],
    ['an unknown ending', [studio, '--to', 'x.doc']],
    ['an unknown instrument', [studio, '--to', 'x.mid', '--instrument', 'harp']],
    ['an unknown style', [studio, '--to', 'x.mid', '--style', 'loud']],
    ['a capo that is no fret', [studio, '--to', 'x.mid', '--capo', 'two']],
    ['an unknown option', [studio, '--to', 'x.mid', '--fast']],
  ])('explains its use when called with %s', (_, args) => {
    const result = run(...args);
    expect(result.code).toBe(2);
    expect(result.err).toContain('Usage: npm run arrange');
  });

  it('a missing file and a missing tune are told', () => {
    expect(run(join(folder, 'none.abc'), '--to', 'x.mid')).toMatchObject({
      code: 1,
      err: expect.stringContaining("can't be read"),
    });
    expect(run(studio, '--tune', '99', '--to', 'x.mid')).toMatchObject({
      code: 1,
      err: expect.stringContaining('there is no tune 99'),
    });
  });

  it('--help prints its use', () => {
    expect(run('--help')).toMatchObject({ code: 0, out: expect.stringContaining('Usage') });
  });
});
