/** A piece that begins with nothing: notes, measures and roles by hand. */
import { describe, expect, it } from 'vitest';
import { arrange, emptyArrangement } from '../arrange';
import { checkArrangement } from '../check';
import { readAbc, writeMusicXml } from '../formats';
import { lessonSteps } from '../lesson';
import { faultOf } from '../records';
import { type Arrangement, ledgerTexts, STYLES } from '../score';
import { TICKS_PER_QUARTER } from '../time';
import { blankTune } from '../tune';
import { applyEdit, type Edit, type History, startHistory, undo } from './index';

const BEAT = TICKS_PER_QUARTER;
const tune = blankTune({
  id: 't',
  title: 'From nothing',
  meter: { beats: 4, unit: 4 },
  key: { tonic: 'G', mode: 'major' },
  quartersPerMinute: 80,
  measures: 4,
});
const empty = () =>
  startHistory(emptyArrangement(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 }));
const can = (history: History, edit: Edit): History => {
  const result = applyEdit(history, edit);
  if ('error' in result) throw new Error(result.error);
  return result;
};
const write = (history: History, measure: number, string: number, fret: number, beat = 0, beats = 1) =>
  can(history, {
    kind: 'insert',
    ids: [history.present.measures[measure]!.id],
    values: { start: beat * BEAT, string, fret, ticks: beats * BEAT },
  });
const notes = (a: Arrangement, measure = 0) =>
  a.measures[measure]!.notes.map(n => [n.role, n.string, n.fret, n.start / BEAT, n.ticks / BEAT]);

describe('a piece that begins with nothing', () => {
  it('is in order before its first note: tune, arrangement, findings, export', () => {
    expect(faultOf('tunes', tune)).toBeUndefined();
    expect(faultOf('arrangements', empty().present)).toBeUndefined();
    expect(checkArrangement(empty().present, tune)).toEqual([]);
    expect(writeMusicXml(empty().present)).toContain('</score-partwise>');
  });
  it('can’t be arranged: nothing is made up for it, in no style', () => {
    for (const style of STYLES)
      expect(arrange(tune, { id: 'a', instrument: 'guitar', style, capo: 'auto' }).problem).toMatchObject({
        message: 'The tune has neither a melody nor chords.',
        offers: expect.arrayContaining(['Write it yourself, note by note.']),
      });
  });
  it('may have a pickup', () => {
    const early = blankTune({ ...tune, measures: 2, pickup: BEAT });
    expect(early.measures.map(m => [m.ticks / BEAT, m.offset / BEAT])).toEqual([
      [1, 3],
      [4, 0],
      [4, 0],
    ]);
    expect(faultOf('tunes', early)).toBeUndefined();
  });
});

describe('a note by hand', () => {
  it('is bass on the thumb’s strings, melody where the fingers pluck, inner under a melody (common practice)', () => {
    let history = write(empty(), 0, 6, 3);
    history = write(history, 0, 1, 3);
    history = write(history, 0, 3, 0);
    expect(notes(history.present)).toEqual([
      ['melody', 1, 3, 0, 1],
      ['inner', 3, 0, 0, 1],
      ['bass', 6, 3, 0, 1],
    ]);
    const [melody, inner, bass] = history.present.measures[0]!.notes;
    expect([melody!.finger, inner!.finger, bass!.finger]).toEqual([
      expect.any(Number),
      undefined,
      expect.any(Number),
    ]);
    expect(checkArrangement(history.present, tune)).toEqual([]);
  });
  it('ends the note that sounds on its string, and ends where the string is struck again or at the barline', () => {
    let history = write(empty(), 0, 2, 1, 0, 4);
    history = write(history, 0, 2, 3, 2, 4);
    history = write(history, 0, 2, 0, 1, 4);
    expect(notes(history.present)).toEqual([
      ['melody', 2, 1, 0, 1],
      ['melody', 2, 0, 1, 1],
      ['melody', 2, 3, 2, 2],
    ]);
    expect(undo(undo(history)).present.measures[0]!.notes[0]!.ticks).toBe(4 * BEAT);
  });
  it('says why it can’t be written', () => {
    const history = write(empty(), 0, 2, 1);
    const tried = (measure: number, values: { start: number; string: number; fret: number; ticks: number }) =>
      applyEdit(history, { kind: 'insert', ids: [history.present.measures[measure]!.id], values });
    const at = { start: 0, string: 1, fret: 0, ticks: BEAT };
    expect(tried(0, { ...at, string: 2 })).toEqual({ error: 'string 2, B has a note there already' });
    expect(tried(0, { ...at, string: 7 })).toEqual({ error: 'there is no string 7' });
    expect(tried(0, { ...at, fret: 30 })).toEqual({
      error: 'fret 30 is not on this neck: it has frets 0 to 19 from the capo',
    });
    expect(tried(0, { ...at, start: 4 * BEAT })).toEqual({ error: 'the measure ends before that place' });
  });
  it('changes its role, is taken out without a word in the ledger, a note of a tune with one', () => {
    const history = write(empty(), 0, 1, 3);
    const [note] = history.present.measures[0]!.notes;
    const bass = can(history, { kind: 'role', ids: [note!.id], values: { role: 'bass' } });
    expect(notes(bass.present)).toEqual([['bass', 1, 3, 0, 1]]);
    const gone = can(bass, { kind: 'remove', ids: [note!.id], values: {} });
    expect(notes(gone.present)).toEqual([]);
    expect(gone.present.ledger).toEqual([]);
    const source = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"GABc|]\n')[0]!.tune;
    const { arrangement } = arrange(source, { id: 'b', instrument: 'guitar', style: 'melody', capo: 0 });
    const melody = arrangement!.measures[0]!.notes[1]!;
    const without = can(startHistory(arrangement!), { kind: 'remove', ids: [melody.id], values: {} }).present;
    expect(ledgerTexts(without)).toContain('Measure 1: the melody A3 is left out.');
    expect(checkArrangement(without, source).map(f => f.message)).toEqual(["the melody's A3 is missing"]);
  });
  it('is fingered with the measure it comes into, by the solver; what a hand has fingered stays', () => {
    // An A minor shape note by note: three fingers, none of them twice.
    let history = write(empty(), 0, 4, 2);
    history = write(history, 0, 3, 2);
    history = write(history, 0, 2, 1);
    const fingers = (a: Arrangement) =>
      a.measures[0]!.notes.toSorted((x, y) => y.string - x.string).map(n => n.finger);
    expect(fingers(history.present)).toEqual([2, 3, 1]);
    const fourth = history.present.measures[0]!.notes.find(n => n.string === 3)!;
    history = can(history, { kind: 'finger', ids: [fourth.id], values: { finger: 4 } });
    history = write(history, 0, 5, 0);
    const [open, fourthString, third, second] = fingers(history.present);
    expect([open, third]).toEqual([undefined, 4]);
    expect(new Set([fourthString, third, second]).size).toBe(3);
    // The thumb takes the bass, fingers the rest.
    const plucks = history.present.measures[0]!.notes.map(n => [n.string, n.pluck]);
    expect(plucks).toEqual(expect.arrayContaining([[5, 'p']]));
    expect(plucks.every(([, pluck]) => pluck !== undefined)).toBe(true);
  });
  it('is not made longer than its string allows', () => {
    const history = write(write(empty(), 0, 1, 3), 0, 1, 5, 1);
    const [first] = history.present.measures[0]!.notes;
    expect(applyEdit(history, { kind: 'length', ids: [first!.id], values: { ticks: 2 * BEAT } })).toEqual({
      error: 'its string is struck again before that',
    });
  });
});

describe('measures', () => {
  it('come after the last one, which hands its barline on, and before one that begins a section', () => {
    const { measures } = empty().present;
    const after = can(empty(), {
      kind: 'add-measures',
      ids: [measures[3]!.id],
      values: { count: 2, before: false },
    }).present.measures;
    expect(after.map(m => m.barline)).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
      'final',
    ]);
    expect(after[4]!.key).toEqual(tune.key);
    const before = can(empty(), {
      kind: 'add-measures',
      ids: [measures[0]!.id],
      values: { count: 1, before: true },
    }).present.measures;
    expect(before.map(m => m.section?.name)).toEqual(['A', undefined, undefined, undefined, undefined]);
    expect(before[1]!.id).toBe(measures[0]!.id);
  });
  it('go with their notes and hand on what stood at the edge; one has to stay', () => {
    const history = write(write(empty(), 0, 1, 3), 1, 1, 5);
    const [first, ...others] = history.present.measures.map(m => m.id);
    const one = can(history, { kind: 'remove-measures', ids: [first!], values: {} });
    expect(one.present.measures[0]).toMatchObject({ section: { name: 'A' }, notes: [{ fret: 5 }] });
    expect(applyEdit(one, { kind: 'remove-measures', ids: others, values: {} })).toEqual({
      error: 'one measure has to stay',
    });
    expect(undo(one).present).toEqual(history.present);
  });
});

describe('triplets and ties by hand', () => {
  it('three notes of a third of a beat are one triplet, exported as such; another beat’s are another', () => {
    let history = empty();
    for (const part of [0, 1, 2, 3]) history = write(history, 0, 1, part + 3, part / 3, 1 / 3);
    const [a, b, c, d] = history.present.measures[0]!.notes;
    expect([a, b, c].map(n => n!.tuplets)).toEqual(Array(3).fill([{ actual: 3, normal: 2, group: 1 }]));
    expect(d!.tuplets![0]!.group).toBe(2);
    expect(faultOf('arrangements', history.present)).toBeUndefined();
    const xml = writeMusicXml(history.present);
    expect(xml).toContain('<actual-notes>3</actual-notes>');
    const plain = can(history, { kind: 'length', ids: [d!.id], values: { ticks: BEAT } });
    expect(plain.present.measures[0]!.notes[3]).not.toHaveProperty('tuplets');
    const again = can(plain, { kind: 'length', ids: [d!.id], values: { ticks: BEAT / 3 } });
    expect(again.present.measures[0]!.notes[3]!.tuplets).toMatchObject([{ actual: 3, normal: 2 }]);
  });
  it('five in the time of four, wherever they begin, are one quintuplet; so are seven', () => {
    for (const [actual, part] of [
      [5, 4 / 5],
      [7, 4 / 7],
    ] as const) {
      // Eighths from the second beat on.
      let history = empty();
      const ticks = Math.round((BEAT / 2) * part);
      for (let i = 0; i < actual; i++)
        history = can(history, {
          kind: 'insert',
          ids: [history.present.measures[0]!.id],
          values: { start: BEAT + i * ticks, string: 1, fret: i, ticks },
        });
      const { notes } = history.present.measures[0]!;
      expect(notes.map(n => n.tuplets)).toEqual(
        Array(actual).fill([{ actual, normal: 4, group: notes[0]!.tuplets![0]!.group }]),
      );
      expect(faultOf('arrangements', history.present)).toBeUndefined();
      expect(writeMusicXml(history.present)).toContain(`<actual-notes>${actual}</actual-notes>`);
    }
  });
  it('a note over the barline is tied, and sounds on; on another fret it can’t be', () => {
    const history = write(write(write(empty(), 0, 1, 3, 2, 2), 1, 1, 3), 1, 1, 5, 1);
    const [first] = history.present.measures[0]!.notes;
    const [second, third] = history.present.measures[1]!.notes;
    const tied = can(history, { kind: 'tie', ids: [second!.id], values: { on: true } });
    expect(tied.present.measures[1]!.notes[0]).toMatchObject({ tie: first!.id, finger: first!.finger });
    expect(tied.present.measures[1]!.notes[0]).not.toHaveProperty('pluck');
    expect(writeMusicXml(tied.present)).toContain('<tied type="stop"/>');
    expect(undo(tied).present).toEqual(history.present);
    expect(applyEdit(history, { kind: 'tie', ids: [third!.id], values: { on: true } })).toEqual({
      error: 'the note before lies on fret 3: a tie keeps its fret',
    });
  });
});

it('a lesson of a piece that is half written has steps for what is there', () => {
  const history = write(empty(), 1, 1, 3);
  expect(
    lessonSteps(history.present)
      .filter(step => step.kind === 'measure')
      .map(step => step.title),
  ).toEqual(['Measure 2']);
});
