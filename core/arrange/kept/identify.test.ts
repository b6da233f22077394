import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyEdit, type Edit, type History, startHistory } from '../../edit';
import { readAbc } from '../../formats/abc';
import { lessonSteps } from '../../lesson';
import { faultOf } from '../../records';
import { type Arrangement, type Level, ledgerTexts, sourceChanges } from '../../score';
import { edit } from '../../testing/edits';
import { anySettings } from '../../testing/settings';
import { cases } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { TICKS_PER_QUARTER } from '../../time';
import { rereadTune, type Tune } from '../../tune';
import { type ArrangeRequest, arrange } from '../index';

const make = (tune: Tune, request: Partial<ArrangeRequest> = {}): Arrangement => {
  const result = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0, ...request });
  if (result.problem) throw new Error(result.problem.message);
  return result.arrangement;
};
const read = (body: string) => readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nK:G\n${body}\n`)[0]!.tune;
/** Every part that has an id, with what it is and where it stands. */
const parts = (a: Arrangement) =>
  new Map(
    a.measures.flatMap(m => [
      [m.id, 'measure'] as const,
      ...m.chords.map(c => [c.id, `${m.id} ${c.start} ${c.sounding}`] as const),
      ...m.notes.map(n => [n.id, `${m.id} ${n.start} ${n.role} ${n.string}/${n.fret}`] as const),
    ]),
  );

describe('ids of an arrangement', () => {
  it('level 3 to 4 to 3 leaves the ids of what stays the same', () => {
    fc.assert(
      fc.property(tunes({ low: -5, high: 10 }), anySettings, (generated, settings) => {
        const { tune } = readAbc(generated.abc)[0]!;
        const level = (n: Level, present?: Arrangement) =>
          arrange(tune, {
            id: 'x',
            instrument: 'guitar',
            style: 'fingerstyle',
            capo: 0,
            settings: { ...settings, level: n },
            ...(present && { keep: { present } }),
          }).arrangement;
        const three = level(3);
        if (!three) return;
        const four = level(4, three)!;
        const again = level(3, four)!;
        for (const [id, what] of parts(three)) expect(parts(again).get(id)).toBe(what);
        for (const a of [three, four, again]) expect(faultOf('arrangements', a)).toBeUndefined();
        // A note of level 3 that level 4 plays too is the same one there.
        const inFour = parts(four);
        const whatFour = new Set(inFour.values());
        for (const [id, what] of parts(three)) if (whatFour.has(what)) expect(inFour.get(id)).toBe(what);
      }),
      { numRuns: cases(14) },
    );
  });
  it('are the same every time', () => {
    const tune = read('"G"GABc|"D"dcBA|"G"G4|]');
    expect(JSON.stringify(make(tune))).toBe(JSON.stringify(make(tune)));
  });
});

describe('a source that is corrected after it was arranged', () => {
  const before = read('|:"G"GABc|"D"dcBA|"Em"edBG|"G"G4:|');
  const present = make(before);
  const corrected = rereadTune(before, read('|:"G"GABc|"C"cege|"D"dcBA|"Em"edBe|"G"G4:|'));
  it('is told: what changed, what is new, what is gone', () => {
    expect(sourceChanges(present, before)).toBeUndefined();
    expect(sourceChanges(present, corrected)).toMatchObject({
      changed: ['m3'],
      added: [corrected.measures[1]!.id],
      gone: [],
      heading: [],
    });
    expect(sourceChanges(present, rereadTune(before, read('|:"G"GABc|"G"G4:|')))).toMatchObject({
      gone: ['m2', 'm3'],
    });
    expect(
      sourceChanges(present, rereadTune(before, read('"G"GABc|"D"dcBA|"Em"edBG|"G"G4|]'))),
    ).toMatchObject({
      changed: [],
      form: true,
    });
    expect(sourceChanges(present, { ...before, title: 'Other' })).toMatchObject({ heading: ['title'] });
  });
  it('is arranged anew only where it changed: the rest stays note for note, id for id, with what a hand did', () => {
    const note = present.measures[1]!.notes.find(n => n.role === 'melody' && n.string === 2)!;
    const moved = edit(startHistory(present), 'string', note.id, { string: 3 });
    if ('error' in moved) throw new Error(moved.error);
    const changes = sourceChanges(moved.present, corrected)!;
    const next = make(corrected, {
      keep: { present: moved.present, anew: [...changes.changed, ...changes.added] },
    });
    expect(next.measures.map(m => m.from!.id)).toEqual(corrected.measures.map(m => m.id));
    expect(next.measures[2]!.notes).toEqual(moved.present.measures[1]!.notes);
    expect(next.measures[2]!.id).toBe('m2');
    expect(next.measures[1]!.notes.length).toBeGreaterThan(0);
    expect(sourceChanges(next, corrected)).toBeUndefined();
    expect(faultOf('arrangements', next)).toBeUndefined();
  });
  it('what a hand has set at the bars and sung is no correction, and stays when the notes are made anew', () => {
    let history = startHistory(present);
    const [first, second] = present.measures;
    for (const own of [
      { kind: 'bars', ids: [second!.id], values: { section: 'Turn', glide: 60 } },
      { kind: 'word', ids: [first!.id], values: { start: 0, verse: 0, text: 'Oh' } },
    ] as const) {
      const done = applyEdit(history, own);
      if ('error' in done) throw new Error(done.error);
      history = done;
    }
    const byHand = history.present;
    expect(sourceChanges(byHand, before)).toBeUndefined();
    const fuller = make(before, { keep: { present: byHand }, settings: { level: 4 } });
    expect(fuller.measures[0]!.words).toEqual(byHand.measures[0]!.words);
    expect(fuller.measures[1]!.section?.name).toBe('Turn');
    expect(fuller.measures[1]!.tempos).toEqual(byHand.measures[1]!.tempos);
    expect(faultOf('arrangements', fuller)).toBeUndefined();
    // Where the tune's own bars are corrected, they are followed.
    const again = rereadTune(before, read('"G"GABc|"D"dcBA|"Em"edBG|"G"G4|]'));
    expect(sourceChanges(byHand, again)).toMatchObject({ changed: [], form: true });
    const followed = make(again, { keep: { present: byHand, anew: [] } });
    expect(followed.measures[0]).not.toHaveProperty('repeatStart');
    expect(followed.measures[1]!.section?.name).toBe('Turn');
    expect(sourceChanges(followed, again)).toBeUndefined();
  });
  it('chords set or taken out by hand, and notes added to the melody, stay when the notes are made anew', () => {
    const done = (history: History, own: Edit): History => {
      const result = applyEdit(history, own);
      if ('error' in result) throw new Error(result.error);
      return result;
    };
    const [first, second, third] = present.measures.map(m => m.id) as [string, string, string, string];
    const chord = (measure: string, start: number, name: string | null, frets?: string): Edit => ({
      kind: 'chord',
      ids: [measure],
      values: { start, name, ...(frets && { frets }) },
    });
    let history = startHistory(present);
    history = done(history, chord(first, 2 * TICKS_PER_QUARTER, 'C', 'x32013'));
    history = done(history, chord(second, 0, null));
    const start = TICKS_PER_QUARTER / 2;
    history = done(history, {
      kind: 'insert',
      ids: [third],
      values: { start, string: 4, fret: 0, ticks: start, role: 'melody' },
    });
    const byHand = history.present;
    const { setup } = present;
    for (const level of [4, 2] as const) {
      const next = make(before, { keep: { present: byHand }, settings: { level }, setup, capo: setup.capo });
      const told = (a: Arrangement) =>
        a.measures.map(m => m.chords.map(c => [c.id, c.start, c.sounding, c.byHand]));
      expect(told(next)).toEqual(told(byHand));
      expect(next.measures[0]!.chords[1]!.frets).toEqual([3, 1, 0, 2, 3, null]);
      expect(next.measures[2]!.notes).toContainEqual(
        expect.objectContaining({ start, string: 4, fret: 0, pinned: true }),
      );
      expect(faultOf('arrangements', next)).toBeUndefined();
      expect(sourceChanges(next, before)).toBeUndefined();
    }
    // In another key they go along, without their grips.
    const moved = make(before, { keep: { present: byHand }, transposition: 2 });
    expect(moved.measures[0]!.chords[1]).toMatchObject({ sounding: 'D', byHand: true });
    expect(moved.measures[1]!.chords).toEqual([]);
    // Where the source is another, its chords are taken, and that is told.
    const again = rereadTune(before, read('|:"G"GABd|"D"dcBA|"Em"edBG|"G"G4:|'));
    const followed = make(again, { keep: { present: byHand } });
    expect(followed.measures[0]!.chords.map(c => c.sounding)).toEqual(['G']);
    expect(followed.measures[1]!.chords).toEqual([]);
    expect(ledgerTexts(followed)).toContainEqual(
      expect.stringMatching(/^Measure 1: chords set by hand give way/),
    );
  });
  it("a lesson's ticks stay with their measures, and lines of the ledger with theirs", () => {
    const next = make(corrected, { keep: { present } });
    const step = (a: Arrangement, measure: string) =>
      lessonSteps(a).find(s => s.id === `measure-${measure}`)!.title;
    expect(step(present, 'm2')).toBe('Measure 2');
    expect(step(next, 'm2')).toBe('Measure 3');
    const told = { ...present, ledger: [{ id: 'l1', measures: ['m2'], text: 'the bass G2 is left out' }] };
    const kept = make(corrected, { keep: { present: told, anew: ['m3'] } });
    expect(ledgerTexts(kept)).toContain('Measure 3: the bass G2 is left out.');
  });
});
