/** What is struck string by string: heard, told, exported, written and read. */

import { describe, expect, it } from 'vitest';
import { firstAlike } from '../compare';
import { applyEdit, EDIT_KEYS, type History, startHistory, undo } from '../edit';
import { midiNotes, readDictation, readTab, writeMusicXml, writeTab } from '../formats';
import { standardSetup } from '../instrument';
import { describeMeasure } from '../lesson';
import { faultOf } from '../records';
import { performanceOf } from '../sound';
import { done } from '../testing/edits';
import { handmade } from '../testing/handmade';
import { schemaFaults } from '../testing/musicxml';
import { type Arrangement, type Stroke, strokeOrder } from './index';

/** A grip of three strings over a bass, all at once, and a lone note after it. */
const grip = (stroke?: Pick<Stroke, 'kind' | 'way'>): Arrangement => {
  const made = handmade({
    setup: standardSetup('guitar'),
    notes: [
      { quarters: 2, string: 1, fret: 0 },
      { quarters: 2, start: 0, string: 2, fret: 1 },
      { quarters: 2, start: 0, string: 3, fret: 0 },
      { quarters: 2, start: 0, string: 5, fret: 3, role: 'bass' },
      { quarters: 2, start: 2, string: 1, fret: 3 },
    ],
  });
  if (stroke) made.measures[0]!.strokes = [{ start: 0, ...stroke }];
  return made;
};
const heard = (a: Arrangement) =>
  performanceOf(a, [0], 100).events.map(e => [e.string, Math.round(e.time * 1000)]);

describe('a stroke', () => {
  it('sounds string by string, the roll slower than the brush; at once without one', () => {
    expect(heard(grip()).slice(0, 4)).toEqual([1, 2, 3, 5].map(string => [string, 0]));
    expect(heard(grip({ kind: 'brush', way: 'down' })).slice(0, 4)).toEqual([
      [5, 0],
      [3, 14],
      [2, 28],
      [1, 42],
    ]);
    expect(heard(grip({ kind: 'roll', way: 'up' })).slice(0, 4)).toEqual([
      [1, 0],
      [2, 40],
      [3, 80],
      [5, 120],
    ]);
    expect(heard(grip({ kind: 'roll', way: 'up' }))[4]).toEqual([1, 2000]);
  });
  it('is spread in MIDI as it sounds', () => {
    // A minute has sixty quarters here: 14 ms are 141 ticks of 10080.
    const ticks = midiNotes(grip({ kind: 'brush', way: 'down' })).slice(0, 4);
    expect(ticks.map(n => [n.string, n.at]).sort((a, b) => a[1]! - b[1]!)).toEqual([
      [5, 0],
      [3, 141],
      [2, 282],
      [1, 423],
    ]);
  });
  it('has its sign in MusicXML, from the lowest note up for a downstroke', () => {
    for (const [way, direction] of [
      ['down', 'up'],
      ['up', 'down'],
    ] as const) {
      const xml = writeMusicXml(grip({ kind: 'roll', way }));
      expect(schemaFaults(xml)).toBe('');
      expect(xml.match(new RegExp(`<arpeggiate direction="${direction}"/>`, 'g'))).toHaveLength(8);
    }
    expect(writeMusicXml(grip({ kind: 'brush', way: 'up' }))).toContain('brush');
    expect(writeMusicXml(grip())).not.toContain('arpeggiate');
  });
  it('is told, and makes a measure another one', () => {
    expect(describeMeasure(grip({ kind: 'brush', way: 'down' }), 0)[0]!.pluck).toMatch(
      /^Brushed down, all in one sweep\. /,
    );
    const both = { measures: [grip().measures[0]!, grip({ kind: 'roll', way: 'down' }).measures[0]!] };
    expect(firstAlike(both)).toEqual([0, 1]);
  });
  it('reads back from text tab, and is dictated by its word', () => {
    for (const stroke of [
      { kind: 'brush', way: 'down' },
      { kind: 'brush', way: 'up' },
      { kind: 'roll', way: 'down' },
      { kind: 'roll', way: 'up' },
    ] as const) {
      const reading = readTab(writeTab(grip(stroke)).text);
      expect(reading.leftOut).toEqual([]);
      expect(reading.measures[0]!.strokes).toEqual([{ start: 0, ...stroke }]);
    }
    const { measures, questions } = readDictation('s5 Q 3 down [s1 0 s2 1 s3 0] s5 2 rollup [s1 0 s2 1]');
    expect(questions).toEqual([]);
    expect(measures[0]!.strokes).toEqual([
      { start: 10080, kind: 'brush', way: 'down' },
      { start: 30240, kind: 'roll', way: 'up' },
    ]);
    expect(readDictation('s5 Q down 3 ...').questions[0]!.message).toMatch(/“down” stands before/);
  });
  it('is given by a key and taken off by it; one string alone can’t have it', () => {
    const start = grip();
    const press = (history: History, key: string, id: string) => {
      const note = history.present.measures[0]!.notes.find(n => n.id === id)!;
      return applyEdit(history, EDIT_KEYS.find(k => k.key === key)!.edit(history.present, note));
    };
    const brushed = done(press(startHistory(start), 'g', 'n2'));
    expect(brushed.present.measures[0]!.strokes).toEqual([{ start: 0, kind: 'brush', way: 'down' }]);
    expect(faultOf('arrangements', brushed.present)).toBeUndefined();
    expect(undo(brushed).present).toEqual(start);
    expect(done(press(brushed, 'g', 'n1')).present).toEqual(start);
    expect(done(press(brushed, 'shift+Y', 'n4')).present.measures[0]!.strokes).toEqual([
      { start: 0, kind: 'roll', way: 'up' },
    ]);
    expect(press(startHistory(start), 'g', 'n5')).toEqual({
      error: 'only one string is struck at this moment',
    });
  });
  it('needs two strings: where one is left it is a plain pluck', () => {
    const { measures } = grip({ kind: 'roll', way: 'down' });
    measures[0]!.notes = measures[0]!.notes.filter(n => n.start > 0 || n.string === 1);
    expect(strokeOrder(measures[0]!, 0)).toEqual([]);
  });
});
