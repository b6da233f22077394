import { describe, expect, it } from 'vitest';
import { startHistory, undo } from '../../edit';
import { readAbc } from '../../formats/abc';
import { type Arrangement, findNote, ornamentOf, playedMelody } from '../../score';
import { edit } from '../../testing/edits';
import type { Tune } from '../../tune';
import { type ArrangeRequest, arrange } from '../index';

const make = (tune: Tune, request: Partial<ArrangeRequest>): Arrangement => {
  const result = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0, ...request });
  if (result.problem) throw new Error(result.problem.message);
  return result.arrangement;
};
const tuneOf = (key: string, body: string) =>
  readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=100\nK:${key}\n${body}\n`)[0]!.tune;
const REEL = tuneOf('C', '"C"cegc|"F"fcAF|"G7"GBdf|"C"ecGE|"Am"ceae|"Dm"fdAd|"G"gdBG|"C"c4|]');

describe('ornaments', () => {
  it('are grace notes on the string of their note, in the key, more of them the fuller the setting', () => {
    const graces = (ornaments: 'plain' | 'some' | 'many') =>
      make(REEL, { style: 'melody', settings: { ornaments } }).measures.flatMap(m =>
        m.notes.filter(n => n.graces),
      );
    expect(graces('plain')).toEqual([]);
    expect(graces('some').length).toBeGreaterThan(0);
    expect(graces('many').length).toBeGreaterThanOrEqual(graces('some').length);
    for (const note of graces('many')) {
      expect(note.role).toBe('melody');
      for (const { fret } of note.graces!) expect(Math.abs(fret - note.fret)).toBeLessThanOrEqual(2);
    }
  });
  it('stand where a fiddler would put them: a phrase apart, not on the last note, of changing kinds, none in a hymn', () => {
    // Long notes on every strong beat: one ornament each would be sown.
    const long = tuneOf('G', '"G"B3c|d3B|"C"c3d|e3c|"D"d3c|B3A|"G"G2B2|G4|]');
    const set = make(long, { style: 'melody', settings: { ornaments: 'some' } });
    const at = set.measures.flatMap((m, index) =>
      m.notes.filter(n => n.graces).map(n => index * m.ticks + n.start),
    );
    expect(at.length).toBeGreaterThan(1);
    for (const [i, place] of at.slice(1).entries())
      expect(place - at[i]!).toBeGreaterThanOrEqual(2 * set.measures[0]!.ticks);
    for (const ornaments of ['some', 'many'] as const) {
      const made = make(long, { style: 'melody', settings: { ornaments } });
      expect(playedMelody(made).at(-1)!.graces).toBeUndefined();
    }
    const many = make(long, { style: 'melody', settings: { ornaments: 'many' } });
    const kinds = many.measures.flatMap(m => m.notes.filter(n => n.graces).map(n => ornamentOf(many, m, n)));
    expect(new Set(kinds).size).toBeGreaterThan(1);
    const full = (rhythm: string) =>
      make({ ...long, rhythm }, { settings: { level: 4 } }).measures.some(m =>
        m.notes.some(n => n.graces && n.role === 'melody'),
      );
    expect([full('air'), full('hymn')]).toEqual([true, false]);
  });
  it('each can be exchanged for another or taken off, and that can be undone', () => {
    const history = startHistory(make(REEL, { style: 'melody', settings: { ornaments: 'many' } }));
    const { note, measure } = history.present.measures
      .flatMap(m => m.notes.map(n => ({ note: n, measure: m })))
      .find(entry => entry.note.graces)!;
    expect(ornamentOf(history.present, measure, note)).toBe('hammer');
    const off = edit(history, 'ornament', note.id, { ornament: 'none' });
    if ('error' in off) throw new Error(off.error);
    expect(findNote(off.present, note.id)!.note.graces).toBeUndefined();
    expect(undo(off).present).toEqual(history.present);
    const pull = edit(off, 'ornament', note.id, { ornament: 'pull' });
    if (!('error' in pull))
      expect(findNote(pull.present, note.id)!.note.graces![0]!.fret).toBeGreaterThan(note.fret);
  });
});
