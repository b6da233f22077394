import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { PATTERNS } from '#core/arrange';
import { readBundle } from '#core/formats/bundle';
import {
  ALTERNATIONS,
  BASS_SCHOOLS,
  DENSITIES,
  DOUBLINGS,
  LEVELS,
  ORNAMENTING,
  PLUCK_SCHOOLS,
  STYLES,
} from '#core/score';
import { tunes } from '../core/testing/tunes';
import { main } from './arrange';

const root = fileURLToPath(new URL('..', import.meta.url));
const studio = join(root, 'demo/tunes/studio.abc');
const folder = mkdtempSync(join(tmpdir(), 'cli-'));
const run = (...args: string[]) => main(args);
/** As `npm run arrange` starts it. */
const command = (...args: string[]) => {
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

  it('takes every style, level, bass, alternation, density, doubling, ornamenting, pattern and school', () => {
    const out = join(folder, 'every.json');
    // Short, since each is arranged anew.
    const jig = fileOf(
      'jig.abc',
      'X:1\nT:Jig\nM:6/8\nL:1/8\nQ:3/8=90\nK:G\n"G"GAB "C"c2A|"D7"FAd c2A|"G"BGB "D"AFD|"G"G3 G3|]\n',
    );
    const asked: string[][] = [
      ...LEVELS.map(level => ['--level', String(level)]),
      ...BASS_SCHOOLS.map(bass => ['--bass', bass]),
      ...ALTERNATIONS.map(alternation => ['--bass', 'alternating', '--alternation', alternation]),
      ...DOUBLINGS.map(doubling => ['--style', 'chord-melody', '--doubling', doubling, '--passing']),
      ...STYLES.map(style => ['--style', style]),
      ...ORNAMENTING.map(ornaments => ['--ornaments', ornaments, '--ringing', '--tremolo', '--no-drones']),
      ...['--turns', '--no-turns'].map(turns => ['--bass', 'pattern', '--pattern', 'B 3 2', turns]),
      ...PATTERNS.filter(p => p.beats === 'threes').flatMap(({ text }) => [
        ['--style', 'pattern', '--pattern', text],
        ['--bass', 'pattern', '--pattern', text],
      ]),
      ...DENSITIES.map(density => ['--style', 'chord-melody', '--density', density, '--voices', '3']),
      ...PLUCK_SCHOOLS.map(school => ['--school', school, '--jig', 'alternate']),
      ['--style', 'pattern', '--pattern', 'B 3 2 1'],
      ['--tuning', 'D A D G A D', '--transpose=-2', '--hand', 'large'],
    ];
    for (const args of asked)
      expect(run(jig, ...args, '--to', out)).toMatchObject({
        code: 0,
        out: expect.stringContaining(' 0 findings'),
      });
    expect(run(studio, '--level', '5', '--to', out)).toMatchObject({ code: 2 });
    expect(run(studio, '--tuning', 'E A D', '--to', out).err).toContain('6 strings are needed, 3 were given');
  });

  it('a batch of 50 tunes arranges without one failure', () => {
    const tunesOf = fc.sample(tunes({ low: -4, high: 9 }), { numRuns: 50, seed: 11 });
    const book = fileOf(
      'book.abc',
      tunesOf
        .map(({ abc }, i) => abc.replace('X:1', `X:${i + 1}`).replace('T:Generated', `T:Tune ${i + 1}`))
        .join('\n'),
    );
    const out = join(folder, 'batch.json');
    const result = run(book, '--all', '--level', '4', '--to', out);
    expect(result).toMatchObject({ code: 0, err: '' });
    expect(result.out).toContain('50 tunes: guitar, fingerstyle, 0 findings');
    expect(readBundle(readFileSync(out, 'utf8')).bundle!.arrangements).toHaveLength(50);
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

  it('answers as a command: its use, an exit code, one line', () => {
    expect(run('--help')).toMatchObject({ code: 0, out: expect.stringContaining('Usage') });
    expect(run(studio)).toMatchObject({ code: 2, out: '', err: expect.stringContaining('Usage') });
    expect(run(studio, '--tune', '99', '--to', 'x.mid')).toMatchObject({ code: 1, out: '' });
    const done = command(studio, '--to', join(folder, 'command.mid'));
    expect(done).toMatchObject({ code: 0, err: '' });
    expect(done.out.trim().split('\n')).toHaveLength(1);
  });
});
