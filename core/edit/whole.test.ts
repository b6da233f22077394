/** Names, versions, variants, and edits carried to twins. */
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats';
import { standardSetup } from '../instrument';
import { faultOf } from '../records';
import { type Arrangement, arrangementIn, noteMidi, playedMelody, snapshotOf, weighedIn } from '../score';
import { handmade } from '../testing/handmade';
import { TICKS_PER_QUARTER as Q } from '../time';
import { applyEdit, carryOver, type Edit, type History, startHistory, twinsFor, undo } from './index';

const setup = standardSetup('guitar');
const done = (history: History, edit: Edit): History => {
  const result = applyEdit(history, edit);
  if ('error' in result) throw new Error(result.error);
  expect(faultOf('arrangements', result.present)).toBeUndefined();
  return result;
};
const fault = (history: History, edit: Edit) => {
  const result = applyEdit(history, edit);
  return 'error' in result ? result.error : undefined;
};

/** Measures with four quarters on string 2; every other one alike. */
const made = handmade({
  setup,
  notes: [0, 1, 2, 3].flatMap(measure =>
    [0, 1, 2, 3].map(start => ({
      quarters: 1,
      string: 2,
      fret: measure % 2 ? 5 - start : start,
      start,
      measure,
    })),
  ),
});
const fretsOf = (a: Arrangement, measure: number) => a.measures[measure]!.notes.map(note => note.fret);
const noteAt = (a: Arrangement, measure: number, beat: number) =>
  a.measures[measure]!.notes.find(note => note.start === beat * Q)!;
const fretEdit = (a: Arrangement, measure: number, beat: number, fret: number): Edit => ({
  kind: 'fret',
  ids: [noteAt(a, measure, beat).id],
  values: { fret },
});

describe('a version', () => {
  it('is gone back to as one step that can be undone; ids given since are not given again', () => {
    const kept = snapshotOf(made, { id: 'v', name: 'As taught', made: 1 });
    expect(faultOf('snapshots', kept)).toBeUndefined();
    let history = done(startHistory(made), fretEdit(made, 0, 0, 7));
    history = done(history, { kind: 'name', ids: [], values: { name: ' Hard ' } });
    history = done(history, {
      kind: 'add-measures',
      ids: [made.measures[0]!.id],
      values: { count: 2, before: false },
    });
    const later = history.present;
    expect(later.name).toBe('Hard');
    history = done(history, {
      kind: 'restore',
      ids: [],
      values: { state: arrangementIn(kept), what: 'As taught' },
    });
    expect(history.present).toEqual({ ...made, nextId: later.nextId });
    expect(history.past.at(-1)!.label).toBe('back to “As taught”');
    expect(undo(history).present).toEqual(later);
  });
});

describe('a variant', () => {
  const ids = made.measures.slice(1, 3).map(m => m.id);
  const keep: Edit = { kind: 'keep-variant', ids, values: { name: 'full', present: 'easy' } };
  const kept = done(startHistory(made), keep);
  const { id } = kept.present.variants![0]!;
  const swap: Edit = { kind: 'swap-variant', ids: [], values: { variant: id } };
  it('takes the place of what stands there, which is kept in turn', () => {
    const easier = done(kept, fretEdit(made, 1, 2, 0));
    const swapped = done(easier, swap).present;
    expect(fretsOf(swapped, 1)).toEqual(fretsOf(made, 1));
    expect(swapped.variants![0]).toMatchObject({ name: 'easy', present: 'full' });
    const back = done(startHistory(swapped), swap).present;
    expect(back.measures).toEqual(easier.present.measures);
    expect(back.variants).toEqual(easier.present.variants);
  });
  it('says why it can’t, when its measures are gone, parted or of another length', () => {
    const gone = done(kept, { kind: 'remove-measures', ids: [ids[0]!], values: {} });
    expect(fault(gone, swap)).toMatch(/no longer there/);
    const parted = done(kept, { kind: 'add-measures', ids: [ids[0]!], values: { count: 1, before: false } });
    expect(fault(parted, swap)).toMatch(/no longer follow/);
    const longer = done(kept, { kind: 'meter', ids: [ids[0]!], values: { meter: { beats: 5, unit: 4 } } });
    expect(fault(longer, swap)).toMatch(/another length/);
  });
  it('needs names, and measures that follow each other', () => {
    expect(fault(startHistory(made), { ...keep, values: { name: ' ', present: 'easy' } })).toMatch(/name/);
    expect(fault(startHistory(made), { ...keep, ids: [ids[0]!, made.measures[3]!.id] })).toMatch(/follow/);
  });
  it('is forgotten', () => {
    expect(done(kept, { kind: 'drop-variant', ids: [], values: { variant: id } }).present).not.toHaveProperty(
      'variants',
    );
  });
});

describe('an edit', () => {
  it('is carried to the twins of its measure, as one step of its own', () => {
    const edit = fretEdit(made, 0, 1, 8);
    const twins = twinsFor(made, edit);
    expect(twins).toEqual([made.measures[2]!.id]);
    const first = done(startHistory(made), edit);
    const { history, left } = carryOver(first, made, [edit], twins);
    expect(left).toEqual([]);
    expect(fretsOf(history.present, 2)).toEqual([0, 8, 2, 3]);
    expect(fretsOf(history.present, 1)).toEqual(fretsOf(made, 1));
    expect(undo(history).present).toEqual(first.present);
  });
  it('with the ones after it: a note put in, then its fret, then its technique', () => {
    const insert: Edit = {
      kind: 'insert',
      ids: [made.measures[1]!.id],
      values: { start: 0, string: 5, fret: 1, ticks: Q },
    };
    let history = done(startHistory(made), insert);
    const { id } = history.present.measures[1]!.notes.find(note => note.string === 5)!;
    const edits: Edit[] = [
      insert,
      { kind: 'fret', ids: [id], values: { fret: 3 } },
      { kind: 'technique', ids: [id], values: { technique: { kind: 'vibrato' }, on: true } },
    ];
    for (const edit of edits.slice(1)) history = done(history, edit);
    const carried = carryOver(history, made, edits, twinsFor(made, insert)).history;
    expect(undo(carried).present).toEqual(history.present);
    const result = carried.present;
    expect(result.measures[3]!.notes.find(note => note.string === 5)).toMatchObject({
      fret: 3,
      techniques: [{ kind: 'vibrato' }],
    });
  });
  it('of the bars stands for itself', () => {
    expect(twinsFor(made, { kind: 'bars', ids: [made.measures[0]!.id], values: { section: 'B' } })).toEqual(
      [],
    );
  });
  it('that can’t be done there is told, and nothing of it is left', () => {
    const edit = fretEdit(made, 0, 1, 8);
    const first = done(startHistory(made), edit);
    const { history, left } = carryOver(first, made, [edit], ['nowhere']);
    expect(history.present).toBe(first.present);
    expect(left).toEqual([{ measure: 'nowhere', why: expect.any(String) }]);
  });
});

describe('a proposal', () => {
  const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"c2e2-|e2g2|"F"fedc|"G7"d4|"C"c4|]\n')[0]!;
  const present = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement!;
  const proposal = arrange(tune, {
    id: 'x',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { bass: 'walking', level: 4, hardest: 3 },
    keep: { present },
  }).arrangement!;
  const take = (from: Arrangement, only: string[]): Edit => ({
    kind: 'take',
    ids: [],
    values: { proposal: from, what: 'part of it', only },
  });
  const { id } = present.measures[2]!;
  it('is taken measure by measure; the others, the settings and their ledger stay', () => {
    const history = done(startHistory(present), take(proposal, [id]));
    const result = history.present;
    for (const [index, measure] of result.measures.entries())
      expect(measure).toEqual((measure.id === id ? proposal : present).measures[index]);
    expect(result.settings).toEqual(present.settings);
    expect(result.ledger.filter(line => line.measures.join() === id)).toEqual(
      proposal.ledger.filter(line => line.measures.join() === id),
    );
    expect(undo(history).present).toEqual(present);
    const all = present.measures.map(m => m.id);
    expect(done(history, take(proposal, all)).present.measures).toEqual(proposal.measures);
  });
  it('keeps the remarks of its measures', () => {
    const said = done(startHistory(present), { kind: 'remark', ids: [id], values: { text: 'slowly' } });
    const taken = done(said, take(proposal, [id])).present;
    expect(taken.measures[2]!.remarks).toEqual(said.present.measures[2]!.remarks);
  });
  it('is not torn in the middle of a tied note of the melody that would change its string', () => {
    const other = structuredClone(proposal);
    const tied = other.measures[1]!.notes.find(note => note.role === 'melody' && note.tie)!;
    const [before] = other.measures[0]!.notes.filter(note => note.id === tied.tie);
    for (const note of [before!, tied]) Object.assign(note, { string: 2, fret: 5 });
    expect(fault(startHistory(present), take(other, [present.measures[1]!.id]))).toBe(
      'a note is tied from measure 1 into 2 and would change its string: take both',
    );
    expect(
      fault(
        startHistory(present),
        take(
          other,
          present.measures.slice(0, 2).map(m => m.id),
        ),
      ),
    ).toBeUndefined();
  });
  it('at another capo is taken whole or not at all', () => {
    const other = { ...proposal, setup: { ...proposal.setup, capo: 2 } };
    expect(fault(startHistory(present), take(other, [id]))).toMatch(/other strings/);
  });
});

describe('what was weighed as next best', () => {
  const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cege|"F"fedc|"G7"dBGB|"C"c4|]\n')[0]!;
  it.each(['fingerstyle', 'chord-melody'] as const)('takes the place of what stands there (%s)', style => {
    const a = arrange(tune, { id: 'x', instrument: 'guitar', style, capo: 0 }).arrangement!;
    const choices = a.measures.flatMap(measure => weighedIn(measure).map(own => ({ measure, ...own })));
    expect(choices.length).toBeGreaterThan(6);
    for (const { measure, note, other, more } of choices) {
      const history = startHistory(a);
      const result = applyEdit(history, { kind: 'next-best', ids: [note.id], values: {} });
      if ('error' in result) {
        expect(result.error).toMatch(/already sounds/);
        continue;
      }
      expect(faultOf('arrangements', result.present)).toBeUndefined();
      const now = result.present.measures.find(({ id }) => id === measure.id)!;
      for (const { string, fret } of note.nextBest!.places)
        expect(now.notes.some(n => n.start === note.start && n.string === string && n.fret === fret)).toBe(
          true,
        );
      if (other === 'nothing') expect(now.notes.some(n => n.id === note.id)).toBe(false);
      expect(playedMelody(result.present).map(n => noteMidi(setup, n))).toEqual(
        playedMelody(a).map(n => noteMidi(setup, n)),
      );
      const costs = Object.values(note.nextBest!.more);
      expect(more).toBeCloseTo(costs.reduce((sum, cost) => sum + cost, 0));
      expect(undo(result).present).toEqual(a);
    }
    const closest = weighedIn(a.measures[0]!).map(own => own.more);
    expect(closest).toEqual([...closest].sort((x, y) => x - y));
  });
  it('is not there for what a hand has written', () => {
    expect(
      fault(startHistory(made), { kind: 'next-best', ids: [made.measures[0]!.notes[0]!.id], values: {} }),
    ).toMatch(/nothing else was weighed/);
  });
});
