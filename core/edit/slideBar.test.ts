/** Slide style: a bar on the strings instead of fingers. Facts of the trade: common practice. */
import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../check';
import { writeMusicXml } from '../formats';
import { BAR } from '../hand';
import { standardSetup } from '../instrument';
import { describeMeasure } from '../lesson';
import { faultOf } from '../records';
import { type HandNote, handmade } from '../testing/handmade';
import { applyEdit, type Edit, type History, startHistory, undo } from './index';

/** D A D F♯ A D. */
const OPEN_D = { ...standardSetup('guitar'), tuning: ['D4', 'A3', 'F#3', 'D3', 'A2', 'D2'] };

const withBar = (notes: HandNote[]): History => {
  const result = applyEdit(startHistory(handmade({ setup: OPEN_D, notes })), {
    kind: 'slide-bar',
    ids: [],
    values: { on: true },
  });
  if ('error' in result) throw new Error(result.error);
  expect(faultOf('arrangements', result.present)).toBeUndefined();
  return result;
};
const faults = (history: History) => checkArrangement(history.present).map(f => `${f.kind}: ${f.message}`);
/** Three strings of one fret, an open bass, a note further up. */
const PHRASE: HandNote[] = [
  { quarters: 1, start: 0, string: 1, fret: 5 },
  { quarters: 1, start: 0, string: 2, fret: 5, role: 'inner' },
  { quarters: 1, start: 0, string: 3, fret: 5, role: 'inner' },
  { quarters: 2, start: 0, string: 6, fret: 0, role: 'bass' },
  { quarters: 1, start: 1, string: 1, fret: 7 },
  { quarters: 2, start: 2, string: 1, fret: 12 },
];

describe('a bar on the strings', () => {
  it('stops any strings at one fret, beside open ones; the hand can do it', () => {
    const history = withBar(PHRASE);
    const { notes } = history.present.measures[0]!;
    expect(notes.map(note => note.finger)).toEqual([BAR, BAR, BAR, undefined, BAR, BAR]);
    expect(faults(history)).toEqual([]);
  });
  it('is told in words, and no finger is printed', () => {
    const history = withBar(PHRASE);
    const words = describeMeasure(history.present, 0).map(moment => moment.fingers);
    expect(words[0]).toMatch(/^The bar lands/);
    expect(words[1]).toMatch(/^The bar slides/);
    expect(writeMusicXml(history.present)).not.toContain('<fingering>');
  });
  it('can’t be at two frets at once, nor let an open string sound under it', () => {
    expect(
      faults(
        withBar([
          { quarters: 1, start: 0, string: 1, fret: 5 },
          { quarters: 1, start: 0, string: 2, fret: 7 },
        ]),
      ),
    ).toEqual(["reach: the bar can't be at two frets at once"]);
    expect(
      faults(
        withBar([
          { quarters: 1, start: 0, string: 1, fret: 5 },
          { quarters: 1, start: 0, string: 2, fret: 0 },
          { quarters: 1, start: 0, string: 3, fret: 5 },
        ]),
      ),
    ).toEqual([expect.stringContaining('the bar lies across string 2')]);
  });
  it('slides, and does not hammer', () => {
    const slid = (kind: 'slide' | 'hammer') =>
      faults(
        withBar([
          { quarters: 1, string: 1, fret: 5 },
          { quarters: 1, string: 1, fret: 7, techniques: [{ kind, from: 'n1' }] },
        ]),
      );
    expect(slid('slide')).toEqual([]);
    expect(slid('hammer')).toEqual([expect.stringContaining('a bar does not sound a note by a hammer-on')]);
  });
  it('a note that is typed gets the bar; back to fingers the hand is solved, and undo leads back', () => {
    let history = withBar(PHRASE);
    const insert: Edit = {
      kind: 'insert',
      ids: [history.present.measures[0]!.id],
      values: { start: 20160, string: 2, fret: 12, ticks: 10080 },
    };
    const more = applyEdit(history, insert);
    if ('error' in more) throw new Error(more.error);
    expect(more.present.measures[0]!.notes.find(n => n.string === 2 && n.fret === 12)!.finger).toBe(BAR);
    const fingers = applyEdit(more, { kind: 'slide-bar', ids: [], values: { on: false } });
    if ('error' in fingers) throw new Error(fingers.error);
    history = fingers;
    expect(history.present.hand).not.toHaveProperty('slide');
    const used = history.present.measures[0]!.notes.flatMap(n => n.finger ?? []);
    expect(used.length).toBeGreaterThan(3);
    expect(used).not.toContain(BAR);
    expect(faults(history)).toEqual([]);
    expect(undo(history).present).toEqual(more.present);
  });
});
