/** Converting without a browser: what comes in goes out, with a report, or with the place where it can't. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { strToU8, zipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { readBundle } from '#core/formats/bundle';
import { faultOf } from '#core/records';
import { schemaFaults } from '../core/testing/musicxml';
import { main } from './convert';

const folder = mkdtempSync(join(tmpdir(), 'convert-'));
const fileOf = (name: string, content: string) => {
  const file = join(folder, name);
  writeFileSync(file, content);
  return file;
};
const LICK = fileOf(
  'lick.txt',
  'title: Cellar Door\nkey: Em\ntempo: 80\n\ns2 E /8 7b9 7b9r7 5h7p5 s3 7~ s2 5 | s6 W 0 | x2\n',
);
const convert = (from: string, to: string, ...options: string[]) =>
  main([from, '--to', join(folder, to), ...options]);
const bundleOf = (name: string) => readBundle(readFileSync(join(folder, name), 'utf8')).bundle!;

describe('converting', () => {
  it('a dictation becomes a bundle in order, MusicXML, MIDI, tab and sound', () => {
    expect(convert(LICK, 'lick.json')).toEqual({
      code: 0,
      out: `Cellar Door: guitar, capo 0, 3 measures, 10 notes -> ${join(folder, 'lick.json')}\n`,
      err: '',
    });
    const { tunes, arrangements } = bundleOf('lick.json');
    expect(faultOf('tunes', tunes[0])).toBeUndefined();
    expect(faultOf('arrangements', arrangements[0])).toBeUndefined();
    expect(arrangements[0]!.measures[0]!.notes.map(n => [n.string, n.fret, n.techniques?.[0]?.kind])).toEqual(
      [
        [2, 8, 'slide-in'],
        [2, 7, 'bend'],
        [2, 7, 'bend'],
        [2, 5, undefined],
        [2, 7, 'hammer'],
        [2, 5, 'pull'],
        [3, 7, 'vibrato'],
        [2, 5, undefined],
      ],
    );
    for (const to of ['lick.musicxml', 'lick.mid', 'lick.tab', 'lick.wav'])
      expect(convert(LICK, to)).toMatchObject({ code: 0, err: '' });
    expect(schemaFaults(readFileSync(join(folder, 'lick.musicxml'), 'utf8'))).toBe('');
    expect(parseMidi(readFileSync(join(folder, 'lick.mid'))).tracks).toHaveLength(3);
  });
  it('a score comes back from MusicXML, compressed too, and its melody from MIDI; what is wrong with a file is said', () => {
    expect(convert(LICK, 'score.musicxml').code).toBe(0);
    const score = join(folder, 'score.musicxml');
    const zipped = join(folder, 'score.mxl');
    const container = '<container><rootfiles><rootfile full-path="a/score.xml"/></rootfiles></container>';
    writeFileSync(
      zipped,
      zipSync({
        'META-INF/container.xml': strToU8(container),
        'a/score.xml': readFileSync(score),
        'other.xml': strToU8('<other/>'),
      }),
    );
    for (const file of [score, zipped]) {
      const result = convert(file, 'back.json');
      expect(result).toMatchObject({ code: 0, err: '' });
      expect(result.out).toMatch(/^Cellar Door: guitar, capo 0, 3 measures, 10 notes/);
      expect(faultOf('arrangements', bundleOf('back.json').arrangements[0])).toBeUndefined();
      expect(bundleOf('back.json').arrangements[0]!.measures[0]!.notes.map(n => [n.string, n.fret])).toEqual(
        bundleOf('lick.json').arrangements[0]!.measures[0]!.notes.map(n => [n.string, n.fret]),
      );
    }
    expect(convert(LICK, 'score.mid').code).toBe(0);
    const midi = convert(join(folder, 'score.mid'), 'midi.abc.json', '--piece', '1');
    expect(midi.out).toMatch(/^Cellar Door: .* 3 measures/);
    expect(midi.out).toContain('taken to be meant: the shortest straight note');
    expect(convert(join(folder, 'score.mid'), 'x.tab', '--piece', '9').err).toMatch(
      /score.mid:1:1: there are \d tracks/,
    );
    const broken = fileOf('broken.musicxml', readFileSync(score, 'utf8').slice(0, 4000));
    expect(convert(broken, 'x.tab')).toMatchObject({ code: 1 });
    expect(convert(broken, 'x.tab').err).toMatch(/broken.musicxml:\d+:\d+: this is no well-formed XML/);
    expect(convert(fileOf('no.mxl', 'PK no archive'), 'x.tab').err).toMatch(/no.mxl:1:1: .*archive/);
  });
  it('a song becomes ChordPro, a message, sound and notes, and comes back from ChordPro; what is not clear stops it', () => {
    const song = fileOf(
      'reeds.cho',
      'title: Reeds\ncapo: 2\nstrum: D DU UDU\nVerse x2\n[G]Down in the [Em]reeds\n{image: x}\n',
    );
    const result = convert(song, 'reeds.txt');
    expect(result).toMatchObject({ code: 0, err: '' });
    expect(result.out).toContain('left out: reeds.cho:6:1: "image" is not kept');
    expect(readFileSync(join(folder, 'reeds.txt'), 'utf8')).toContain(
      'Verse x2:\nG           Em\nDown in the reeds\n',
    );
    expect(convert(song, 'again.cho')).toMatchObject({ code: 0, err: '' });
    convert(join(folder, 'again.cho'), 'twice.cho');
    expect(readFileSync(join(folder, 'twice.cho'), 'utf8')).toBe(
      readFileSync(join(folder, 'again.cho'), 'utf8'),
    );
    convert(song, 'reeds.json');
    const { tunes, arrangements } = bundleOf('reeds.json');
    expect(faultOf('tunes', tunes[0])).toBeUndefined();
    expect(arrangements[0]).toMatchObject({ style: 'pattern', setup: { capo: 2 } });
    for (const to of ['reeds.musicxml', 'reeds.mid', 'reeds.wav']) expect(convert(song, to).code).toBe(0);
    expect(schemaFaults(readFileSync(join(folder, 'reeds.musicxml'), 'utf8'))).toBe('');
    const unclear = fileOf('unclear.cho', 'strum: D DU D\nG\n');
    expect(convert(unclear, 'x.cho')).toMatchObject({
      code: 1,
      err: expect.stringContaining('unclear.cho:1:1: the strum'),
    });
    expect(convert(fileOf('none.cho', '\n'), 'x.cho').err).toContain('there is no chord in this file');
  });
  it('what is written as tab comes in again, and goes on to every other form', () => {
    convert(LICK, 'lick.tab');
    expect(convert(join(folder, 'lick.tab'), 'again.tab')).toMatchObject({ code: 0, err: '' });
    expect(readFileSync(join(folder, 'again.tab'), 'utf8')).toBe(
      readFileSync(join(folder, 'lick.tab'), 'utf8'),
    );
  });
  it('fingers are solved where that is asked for, and what was said stays', () => {
    const shape = fileOf('shape.txt', 's1 W [0 s2 1:2 s3 0 s4 2 s5 3]');
    convert(shape, 'plain.json');
    const fingers = (name: string) => bundleOf(name).arrangements[0]!.measures[0]!.notes.map(n => n.finger);
    expect(fingers('plain.json')).toEqual([undefined, 2, undefined, undefined, undefined]);
    convert(shape, 'fingered.json', '--fingers');
    expect(fingers('fingered.json').filter(Boolean)).toHaveLength(3);
    expect(fingers('fingered.json')[1]).toBe(2);
  });
  it('ABC and bundles come in, the one that is asked for', () => {
    const abc = fileOf(
      'two.abc',
      'X:1\nT:One\nM:4/4\nL:1/4\nK:C\nCDEF|\n\nX:2\nT:Two\nM:3/4\nL:1/4\nK:G\nGAB|\n',
    );
    expect(convert(abc, 'one.tab').out).toMatch(/^One: guitar/);
    expect(convert(abc, 'two.json', '--piece', '2').out).toMatch(/^Two: guitar/);
    expect(convert(join(folder, 'two.json'), 'two.mid').out).toMatch(/^Two: guitar/);
    expect(convert(abc, 'x.tab', '--piece', '3')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/:1:1: there are 2 tunes/),
    });
  });
  it('a WAV has the header of its format and lasts as long as the music, with a count-in and a tempo', () => {
    const one = fileOf('one.txt', 'tempo: 60\nkey: C\ns1 W 0');
    const seconds = (...options: string[]) => {
      convert(one, 'one.wav', ...options);
      const wav = readFileSync(join(folder, 'one.wav'));
      // RIFF header: format 1 is PCM; rate, bytes a second, bytes a frame, bits; then the length of the data.
      expect([wav.toString('latin1', 0, 4), wav.toString('latin1', 8, 16)]).toEqual(['RIFF', 'WAVEfmt ']);
      expect(wav.readUInt32LE(4)).toBe(wav.length - 8);
      expect([
        wav.readUInt16LE(20),
        wav.readUInt16LE(22),
        wav.readUInt32LE(24),
        wav.readUInt32LE(28),
      ]).toEqual([1, 1, 44100, 88200]);
      expect([wav.readUInt16LE(32), wav.readUInt16LE(34), wav.readUInt32LE(40)]).toEqual([
        2,
        16,
        wav.length - 44,
      ]);
      return (wav.length - 44) / 88200;
    };
    const plain = seconds();
    expect(plain).toBeGreaterThan(4);
    expect(seconds('--tempo', '50') - plain).toBeCloseTo(4, 2);
    expect(seconds('--count-in') - plain).toBeCloseTo(4, 2);
  });
  it('instrument and meter of the options hold where the text names none', () => {
    const plain = fileOf('plain-three.txt', 'key: G\ns3 Q 0 2 4');
    expect(convert(plain, 'three.json', '--instrument', 'mandolin', '--meter', '3/4')).toMatchObject({
      code: 0,
    });
    const [own] = bundleOf('three.json').arrangements;
    expect([own!.setup.instrument, own!.measures[0]!.meter, own!.measures[0]!.ticks]).toEqual([
      'mandolin',
      { beats: 3, unit: 4 },
      30240,
    ]);
    const named = fileOf('named-four.txt', 'instrument: guitar\nmeter: 4/4\nkey: G\ns6 W 0');
    convert(named, 'four.json', '--instrument', 'mandolin', '--meter', '3/4');
    expect(bundleOf('four.json').arrangements[0]!.setup.instrument).toBe('guitar');
    expect(bundleOf('four.json').arrangements[0]!.measures[0]!.meter).toEqual({ beats: 4, unit: 4 });
  });
  it('a report tells what was guessed and left out', () => {
    const tab = fileOf(
      'typed.tab',
      'e|0---1---3?--1---|\nB|--------------|\nG|--------------|\nD|--------------|\nA|--------------|\nE|--------------|\n'.replace(
        /--------------/g,
        '----------------',
      ),
    );
    const { code, out } = convert(tab, 'typed.json');
    expect(code).toBe(0);
    expect(out).toContain('taken to be meant: typed.tab:1:1: no instrument is said: guitar is taken');
    expect(out).toContain('left out: typed.tab:1:12: “?” is no sign that is known here');
  });
  it('what can’t be read ends with 1 and its place, and writes nothing', () => {
    const wrong = fileOf('wrong.txt', 'meter: 4/4\ns1 Q 4h2 3 3');
    const { code, err } = convert(wrong, 'never.json');
    expect(code).toBe(1);
    expect(err).toContain('wrong.txt:2:8: a hammer-on goes to a higher fret');
    expect(existsSync(join(folder, 'never.json'))).toBe(false);
    expect(convert(join(folder, 'none.txt'), 'x.json')).toMatchObject({ code: 1 });
    expect(convert(fileOf('bad.json', '{'), 'x.tab')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/:1:1: this is not JSON/),
    });
    expect(convert(LICK, 'no/folder.tab')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/its folder is not there/),
    });
  });
  it('wrong usage ends with 2 and the help', () => {
    for (const args of [
      [],
      [LICK],
      [LICK, '--to', 'x.pdf'],
      ['a.doc', '--to', 'x.tab'],
      [LICK, '--to', join(folder, 'x.tab'), '--piece', '0'],
      [LICK, '--to', join(folder, 'x.tab'), '--instrument', 'harp'],
      [LICK, '--to', join(folder, 'x.tab'), '--meter', 'four'],
      [LICK, '--to', join(folder, 'x.wav'), '--tempo', '5'],
      [LICK, '--nonsense'],
    ])
      expect(main(args)).toMatchObject({
        code: 2,
        out: '',
        err: expect.stringContaining('Usage: npm run convert'),
      });
  });
  it('is a command', () => {
    const { status, stdout } = spawnSync(process.execPath, ['--import', 'tsx', 'cli/convert.ts', '--help'], {
      cwd: fileURLToPath(new URL('..', import.meta.url)),
      encoding: 'utf8',
    });
    expect([status, stdout.split('\n')[0]]).toEqual([0, 'Usage: npm run convert -- IN --to OUT [options]']);
  });
});
