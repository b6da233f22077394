import { describe, expect, it } from 'vitest';
import { textOf } from '#core/formats/encoding';
import type { Arrangement, ScoreMeasure } from '#core/score';
import type { Cue } from '#core/sound';
import { fileName } from './files';
import { MirrorReceiver, MirrorSender } from './mirror';
import { timeAtSamePlace } from './player';

describe('text files', () => {
  const text = 'X:1\nT:Über die Brücke – Été\nK:D\n';
  it.each([
    ['UTF-8', new TextEncoder().encode(text)],
    ['UTF-8 with a mark', new Uint8Array([0xef, 0xbb, 0xbf, ...new TextEncoder().encode(text)])],
    ['UTF-16 with a mark', new Uint8Array(Buffer.from(`\uFEFF${text}`, 'utf16le'))],
    ['UTF-16 without one', new Uint8Array(Buffer.from(text, 'utf16le'))],
    ['UTF-16, the big end first', new Uint8Array(Buffer.from(`\uFEFF${text}`, 'utf16le').swap16())],
  ])('%s is read as what it is', (_, bytes) => expect(textOf(bytes)).toBe(text));
  it('Latin-1 is read as what it is', () => {
    expect(textOf(new Uint8Array(Buffer.from('T:Für Élise\n', 'latin1')))).toBe('T:Für Élise\n');
  });
  it('titles become names that every system takes', () => {
    expect(fileName('Où est l’été?', 'mid')).toBe('ou-est-lete.mid');
    expect(fileName('???', 'json')).toBe('untitled.json');
  });
});

describe('an arrangement in a worker', () => {
  const measure = (id: string) => ({ id, notes: [] }) as unknown as ScoreMeasure;
  const made = (measures: ScoreMeasure[]) => ({ id: 'a', title: 't', measures }) as unknown as Arrangement;
  it('is the same as on the screen after any change, and only what changed is sent', () => {
    const sender = new MirrorSender();
    const receiver = new MirrorReceiver();
    const [a, b, c, d] = ['a', 'b', 'c', 'd'].map(measure) as [
      ScoreMeasure,
      ScoreMeasure,
      ScoreMeasure,
      ScoreMeasure,
    ];
    const sent: number[] = [];
    for (const measures of [[a, b, c], [a, { ...b }, c], [c, a], [d, c, a, a], []]) {
      const update = structuredClone(sender.update(made(measures)));
      sent.push(update.measures.filter(m => typeof m !== 'number').length);
      expect(receiver.receive(update)).toEqual(made(measures));
    }
    expect(sent).toEqual([3, 1, 0, 1, 0]);
  });
});

describe('the same place at another tempo', () => {
  const cues = (times: number[]) => times.map(time => ({ time }) as Cue);
  it('is as far from cue to cue, also in a count-in and after the last', () => {
    const slow = cues([0, 2, 4]);
    const fast = cues([0, 1, 2]);
    expect(timeAtSamePlace(slow, fast, 3)).toBe(1.5);
    expect(timeAtSamePlace(fast, slow, 0.25)).toBe(0.5);
    expect(timeAtSamePlace(slow, fast, -1)).toBe(-0.5);
    expect(timeAtSamePlace(slow, fast, 4.5)).toBe(2.5);
    expect(timeAtSamePlace(cues([0]), cues([0]), 0.7)).toBe(0.7);
  });
});
