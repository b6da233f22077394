/** What a screen says of a tune stands in its text, too (fields of the heading: ABC notation standard 2.1, 3.1). */
import { describe, expect, it } from 'vitest';
import { committeeTunes } from '../../testing/committee';
import { oneIn } from '../../testing/setup';
import { quartersFromBeats } from '../../time';
import type { Tune } from '../../tune';
import { readAbc, writeKind, writeTempo } from './index';

const read = (abc: string): Tune => readAbc(abc)[0]!.tune;

describe('tempo and kind', () => {
  it('are read again from the text as they were said, and nothing else is changed', () => {
    const texts = oneIn(3, committeeTunes()).flatMap(({ abc }) => abc ?? []);
    expect(texts.length).toBeGreaterThan(15);
    for (const text of texts) {
      const before = read(text);
      for (const [beats, kind] of [
        [47, 'slow air'],
        [133, 'Wiegenlied'],
        [90, ''],
      ] as const) {
        const said = writeKind(writeTempo(before, quartersFromBeats(before.meter, beats)), kind);
        expect([said.rhythm ?? '', read(said.abc!)]).toEqual([kind, said]);
      }
    }
  });
  it('words of a tempo, and tempos inside the tune, stay; a field comes before the key, which ends the heading', () => {
    const tune = read('X:1\nT:A\nQ:"Slow" 1/4=60\nM:6/8\nL:1/8\nK:D\nd2A FAd|[Q:3/8=80]f2d AFA|]\n');
    const said = writeKind(writeTempo(tune, 150), ' slow  jig % of mine');
    expect(said.abc).toBe(
      'X:1\nT:A\nQ:"Slow" 3/8=100\nM:6/8\nL:1/8\nR:slow jig of mine\nK:D\nd2A FAd|[Q:3/8=80]f2d AFA|]',
    );
    expect(writeKind(said, 'reel').abc).toBe(said.abc!.replace('slow jig of mine', 'reel'));
    expect(writeKind(said, '').abc).toBe(said.abc!.replace('R:slow jig of mine\n', ''));
  });
  it('a tune without a text has them by itself', () => {
    const { abc: _abc, ...tune } = read('T:B\nM:4/4\nK:D\nd4|]\n');
    const said = writeKind(writeTempo(tune, 77), 'air');
    expect([said.quartersPerMinute, said.rhythm, said.abc]).toEqual([77, 'air', undefined]);
  });
});
