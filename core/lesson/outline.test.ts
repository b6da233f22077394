/** Lessons of every cut over made-up tunes: nothing skipped, nothing twice, what is played is what is said; changes by hand stay. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, startHistory } from '../edit';
import { readAbc } from '../formats/abc';
import { faultOf } from '../records';
import { type Arrangement, contentOf, type Level } from '../score';
import { done, edit } from '../testing/edits';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { rereadTune, sectionsOf } from '../tune';
import {
  ALONE_PARTS,
  freshOutline,
  JOININGS,
  LESSON_UNITS,
  type LessonChoices,
  type LessonOutline,
  lessonSteps,
  movedStep,
  outlinedSteps,
  practised,
  splitLesson,
  taughtArrangement,
  taughtWith,
  USUAL_CHOICES,
} from '.';

const TUNE =
  'X:1\nT:Eight\nM:3/4\nL:1/4\nK:G\nP:A\n"G"GBd|"C"ceg|"D"dfa|"G"g3|\nP:B\n"Em"GBd|"C"ceg|"D"fed|"G"G3|]\n';
const made = (abc: string, level: Level = 3): Arrangement =>
  arrange(readAbc(abc)[0]!.tune, {
    id: 'l',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { level },
  }).arrangement!;
const choices: fc.Arbitrary<LessonChoices> = fc.record({
  unit: fc.constantFrom(...LESSON_UNITS),
  joining: fc.constantFrom(...JOININGS),
  alone: fc.subarray([...ALONE_PARTS]),
  drills: fc.boolean(),
  slow: fc.boolean(),
});

describe('lessons of every cut', () => {
  it('over made-up tunes: nothing new is skipped, nothing is taught twice, joins hold what was taught, what is played is in order', () => {
    fc.assert(
      fc.property(tunes({ low: -2, high: 11 }), choices, (generated, own) => {
        const { arrangement } = arrange(readAbc(generated.abc)[0]!.tune, {
          id: 'g',
          instrument: 'guitar',
          style: 'fingerstyle',
          capo: 0,
        });
        if (!arrangement) return;
        const steps = lessonSteps(arrangement, own);
        expect(new Set(steps.map(step => step.id)).size).toBe(steps.length);
        const played = arrangement.measures.flatMap((measure, i) => (measure.notes.length ? [i] : []));
        if (own.unit === 'measure' || own.unit === 'beat') {
          const taught = steps
            .filter(step => step.kind === 'measure')
            .flatMap(step => [...step.measures, ...step.alike!]);
          expect(taught.sort((a, b) => a - b)).toEqual(played);
        }
        expect(new Set(steps.flatMap(step => step.measures))).toEqual(
          new Set(arrangement.measures.map((_, i) => i)),
        );
        // What is joined was taught before, by itself or by its twin.
        const known = new Set<number>();
        for (const step of steps) {
          const wide = own.unit === 'phrase' || own.unit === 'section';
          if (step.kind === 'together' && !wide)
            for (const index of step.measures)
              if (arrangement.measures[index]!.notes.length) expect(known).toContain(index);
          if (step.kind === 'measure')
            for (const index of [...step.measures, ...step.alike!]) known.add(index);
          expect(step.minutes).toBeGreaterThan(0);
          const { arrangement: music, order } = practised(arrangement, step);
          expect(order.every(index => music.measures[index] !== undefined)).toBe(true);
          if (step.window || step.part === 'bass' || step.part === 'melody') {
            // Only notes of the arrangement, each where it was.
            const all = new Map(arrangement.measures.flatMap(m => m.notes.map(n => [n.id, n] as const)));
            for (const note of order.flatMap(index => music.measures[index]!.notes))
              expect([note.string, note.fret]).toEqual([all.get(note.id)!.string, all.get(note.id)!.fret]);
          }
          expect(faultOf('arrangements', music)).toBeUndefined();
        }
      }),
      { numRuns: cases(18) },
    );
  });
  it('backwards begins with the end, and each join goes to it', () => {
    const joined = lessonSteps(made(TUNE), { ...USUAL_CHOICES, joining: 'backwards', drills: false });
    const first = joined.filter(step => step.kind === 'measure' && step.measures[0]! < 4);
    expect(first.map(step => step.measures[0])).toEqual([3, 2, 1, 0]);
    const joins = joined.filter(step => step.kind === 'together').map(step => step.measures);
    expect(joins.slice(0, 2)).toEqual([
      [2, 3],
      [1, 2, 3],
    ]);
  });
  it('a drill plays two beats in which its change is', () => {
    const song = readAbc(`X:1\nT:Far\nM:4/4\nL:1/4\nK:F\n"F"cAFA|"B"^d^fbf|"Eb"_BGeG|"F"F4|]\n`)[0]!.tune;
    const arrangement = arrange(song, { id: 'd', instrument: 'guitar', style: 'chord-melody', capo: 0 })
      .arrangement!;
    const drills = lessonSteps(arrangement).filter(step => step.kind === 'drill');
    expect(drills.length).toBeGreaterThan(0);
    for (const drill of drills) {
      const { arrangement: music, order } = practised(arrangement, drill);
      expect(order.reduce((sum, index) => sum + music.measures[index]!.ticks, 0)).toBe(2 * 10080);
      const note = drill.id.replace('drill-', '');
      expect(order.flatMap(index => music.measures[index]!.notes.map(n => n.id))).toContain(note);
    }
  });
  it('the plucking hand alone plays every stroke on open strings, the shapes alone only what is fretted', () => {
    const arrangement = made(TUNE);
    const steps = lessonSteps(arrangement, { ...USUAL_CHOICES, alone: ['open', 'shapes'] });
    const open = practised(arrangement, steps.find(step => step.part === 'open')!);
    expect(
      open.order.flatMap(i => open.arrangement.measures[i]!.notes.map(n => [n.start, n.string, n.fret])),
    ).toEqual(
      open.order.flatMap(i =>
        arrangement.measures[i]!.notes.filter(n => !n.tie).map(n => [n.start, n.string, 0]),
      ),
    );
    const shapes = practised(arrangement, steps.find(step => step.part === 'shapes')!);
    const held = shapes.order.flatMap(i => shapes.arrangement.measures[i]!.notes);
    expect(held.length).toBeGreaterThan(0);
    expect(held.every(note => note.fret > 0 && note.finger)).toBe(true);
  });
});

describe('what a teacher changed', () => {
  const arrangement = made(TUNE);
  const target = lessonSteps(arrangement).find(step => step.title === 'Measure 2')!.id;
  const outline: LessonOutline = {
    ...freshOutline('l'),
    edits: { [target]: { title: 'The climb', advice: 'Look at finger 3.', remark: 'Breathe.', percent: 50 } },
  };
  const changed = (now: Arrangement) => outlinedSteps(now, outline).find(step => step.id === target);
  it('is in the step, and everything else stays as it was', () => {
    expect(changed(arrangement)).toMatchObject({
      title: 'The climb',
      advice: 'Look at finger 3.',
      remark: 'Breathe.',
      percent: 50,
    });
    expect(outlinedSteps(arrangement, freshOutline('l'))).toEqual(lessonSteps(arrangement));
    const left = { ...outline, edits: { [target]: { left: true } } };
    expect(outlinedSteps(arrangement, left).some(step => step.id === target)).toBe(false);
    expect(outlinedSteps(arrangement, left, true).some(step => step.id === target)).toBe(true);
    const all = lessonSteps(arrangement);
    const none = { ...outline, edits: Object.fromEntries(all.map(({ id }) => [id, { left: true }])) };
    expect(outlinedSteps(arrangement, none)).toEqual(all.slice(-1));
  });
  it('a step whose name is taken away goes by its own', () => {
    const nameless = { ...outline, edits: { [target]: { title: ' ', percent: 50 } } };
    expect(outlinedSteps(arrangement, nameless).find(step => step.id === target)).toMatchObject({
      title: 'Measure 2',
      percent: 50,
    });
  });
  it('survives another level, a measure put in, a renamed section', () => {
    expect(changed(made(TUNE, 2))).toMatchObject({ title: 'The climb', measures: [1] });
    const more = edit(startHistory(arrangement), 'add-measures', arrangement.measures[0]!.id, {
      count: 1,
      before: true,
    });
    if ('error' in more) throw new Error(more.error);
    expect(changed(more.present)).toMatchObject({ title: 'The climb', measures: [2] });
    const named = structuredClone(arrangement);
    named.measures[0]!.section!.name = 'Verse';
    expect(changed(named)).toMatchObject({ title: 'The climb' });
  });
  it('survives a corrected source', () => {
    const before = readAbc(TUNE)[0]!.tune;
    const after = rereadTune(before, readAbc(TUNE.replace('"G"GBd|', '"G"GBd|"G"Bdg|'))[0]!.tune);
    const anew = arrange(after, {
      id: 'l',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
      keep: { present: arrangement },
    });
    expect(changed(anew.arrangement!)).toMatchObject({ title: 'The climb', measures: [2] });
  });
  it('has steps of its teacher’s own, which stay with their measures and wait where those are gone', () => {
    const [first, second, third] = arrangement.measures.map(({ id }) => id) as [string, string, string];
    const own = [
      { id: 'own-1', title: 'Warm up', advice: 'Shake your hands.', from: first, to: first },
      { id: 'own-2', title: 'The bridge', advice: 'Sing it.', from: third, to: second, after: target },
      { id: 'own-3', title: 'Lost', advice: '', from: 'm99', to: first, after: target },
    ];
    const steps = outlinedSteps(arrangement, { ...freshOutline('l'), own });
    expect(steps[0]).toMatchObject({ title: 'Warm up', kind: 'own', measures: [0], minutes: 3 });
    expect(steps[0]!.moments!.length).toBeGreaterThan(0);
    const at = steps.findIndex(({ id }) => id === target);
    expect(steps[at + 1]).toMatchObject({ title: 'The bridge', measures: [1, 2] });
    expect(steps.some(({ id }) => id === 'own-3')).toBe(false);
    const music = practised(arrangement, steps[at + 1]!);
    expect(music.order.map(index => music.arrangement.measures[index]!.id)).toEqual([second, third]);
    // Edited and put elsewhere like any other; behind a step that is gone it stands at the end.
    const moved = outlinedSteps(arrangement, {
      ...freshOutline('l'),
      own: [{ ...own[1]!, after: 'nowhere' }],
      edits: { 'own-2': { advice: 'Hum it.' } },
    });
    expect(moved.at(-1)).toMatchObject({ title: 'The bridge', advice: 'Hum it.' });
    expect(
      faultOf('outlines', { ...freshOutline('l'), own, climb: { clean: 4 }, sections: ['s1'] }),
    ).toBeUndefined();
  });
  it('calls the strings as the teacher does, but for what the teacher has written', () => {
    const strings = { '1': 'the thin one', '9': 'nowhere', '2': ' ' };
    const steps = outlinedSteps(arrangement, { ...outline, strings });
    const texts = steps.flatMap(step =>
      (step.moments ?? []).flatMap(({ pluck, fingers }) => [pluck, fingers]),
    );
    expect(texts.some(text => text.includes('the thin one'))).toBe(true);
    expect(texts.some(text => text.includes('string 1, E'))).toBe(false);
    expect(texts.some(text => text.includes('string 2, B'))).toBe(true);
    expect(steps.find(({ id }) => id === target)!.advice).toBe('Look at finger 3.');
  });
  it('another way to play a passage is a step of its own, that plays it; one for the last time says so', () => {
    const [, second] = arrangement.measures;
    const easy = { ...contentOf(second!), notes: second!.notes.slice(0, 1) };
    const variant = {
      id: 'v1',
      name: 'easy form',
      present: 'as it stands',
      measures: [second!.id],
      content: [easy],
    };
    const varied: Arrangement = { ...arrangement, variants: [variant] };
    const steps = outlinedSteps(varied, freshOutline('l'));
    const step = steps.find(({ kind }) => kind === 'variant')!;
    expect(step).toMatchObject({ title: 'Or: easy form', measures: [1] });
    expect(step.advice).toMatch(/^Another way to play measure 2\. It differs in /);
    expect(practised(varied, step).arrangement.measures[1]!.notes).toHaveLength(1);
    expect(step.moments).toHaveLength(1);
    const last = outlinedSteps({ ...varied, variants: [{ ...variant, last: true }] }, freshOutline('l'));
    expect(last.map(({ title }) => title)).toContain('The last time: easy form');
    // One whose measure has another length by now is no step.
    const longer = { ...variant, content: [{ ...easy, ticks: easy.ticks * 2 }] };
    expect(
      outlinedSteps({ ...varied, variants: [longer] }, freshOutline('l')).some(own => own.kind === 'variant'),
    ).toBe(false);
  });
  it('teaches chosen measures at another level: under the same ids, in the words, in what is played; as it stands where that no longer fits', () => {
    const easy = arrange(readAbc(TUNE)[0]!.tune, {
      id: 'l',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
      settings: { level: 1 },
      keep: { present: arrangement, anew: [arrangement.measures[1]!.from!.id] },
    }).arrangement!;
    const { id } = arrangement.measures[1]!;
    const kept = done(
      applyEdit(startHistory(arrangement), {
        kind: 'keep-variant',
        ids: [id],
        values: { name: 'Level 1', present: 'as it stands', of: easy },
      }),
    ).present;
    expect(kept.measures).toEqual(arrangement.measures);
    expect(faultOf('arrangements', kept)).toBeUndefined();
    const [variant] = kept.variants!;
    const mixed = taughtWith(outline, kept, [id], [variant!.id]);
    expect(faultOf('outlines', mixed)).toBeUndefined();
    const taught = taughtArrangement(kept, mixed);
    expect(taught.measures[1]!.notes.every(({ role }) => role === 'melody')).toBe(true);
    expect(taught.measures[2]!.notes).toEqual(arrangement.measures[2]!.notes);
    const steps = outlinedSteps(taught, mixed);
    const step = steps.find(own => own.id === target)!;
    // What the teacher has written of it stays, and it is no other way to play itself.
    expect(step).toMatchObject({ title: 'The climb', measures: [1] });
    expect(steps.some(({ kind }) => kind === 'variant')).toBe(false);
    expect(step.moments!.map(({ pluck }) => pluck).join(' ')).not.toContain('Thumb');
    expect(practised(taught, step).arrangement.measures[1]).toEqual(taught.measures[1]);
    const longer = done(edit(startHistory(kept), 'meter', id, { meter: { beats: 5, unit: 4 } })).present;
    expect(taughtArrangement(longer, mixed).measures).toEqual(longer.measures);
    // Another for the same measure takes its place; none gives it back.
    expect(taughtWith(mixed, kept, [id], ['v9']).inPlace).toEqual(['v9']);
    expect(taughtArrangement(kept, taughtWith(mixed, kept, [id], []))).toBe(kept);
    const { measures: others } = kept;
    expect(taughtWith(mixed, kept, [others[0]!.id], ['v9']).inPlace).toEqual([variant!.id, 'v9']);
    expect(
      applyEdit(startHistory(longer), {
        kind: 'keep-variant',
        ids: [id],
        values: { name: 'Level 1', present: 'as it stands', of: easy },
      }),
    ).toEqual({ error: 'its measures have another length there' });
  });
  it('teaches the chosen sections only, and all where they are gone', () => {
    const two = arrangement;
    const [a, b] = sectionsOf(two.measures);
    const steps = outlinedSteps(two, { ...freshOutline('l'), sections: [b!.id] });
    const taught = new Set(steps.flatMap(({ measures }) => measures));
    expect(Math.min(...taught)).toBe(b!.from);
    expect(steps.some(({ title }) => title === 'The whole tune')).toBe(false);
    expect(steps.at(-1)!.title).toBe(`All of ${b!.name}`);
    const all = outlinedSteps(two, freshOutline('l'));
    expect(outlinedSteps(two, { ...freshOutline('l'), sections: ['s99'] })).toEqual(all);
    expect(outlinedSteps(two, { ...freshOutline('l'), sections: [a!.id, b!.id] })).toEqual(all);
  });
  it('moved steps stay where they were put, and new ones stand behind the step they come after', () => {
    const ids = lessonSteps(arrangement).map(step => step.id);
    const order = movedStep(ids, target, 3);
    expect(order.indexOf(target)).toBe(ids.indexOf(target) + 3);
    const more = edit(startHistory(arrangement), 'add-measures', arrangement.measures[3]!.id, {
      count: 1,
      before: false,
    });
    if ('error' in more) throw new Error(more.error);
    const steps = outlinedSteps(arrangement, { ...outline, order }).map(step => step.id);
    expect(steps).toEqual(order);
    const later = outlinedSteps(
      {
        ...arrangement,
        phrases: [
          { id: 'p9', name: 'the turn', from: arrangement.measures[1]!.id, to: arrangement.measures[2]!.id },
        ],
      },
      { ...outline, order },
    );
    expect(later.map(step => step.id).filter(id => order.includes(id))).toEqual(
      order.filter(id => later.some(step => step.id === id)),
    );
    expect(
      fc
        .sample(fc.integer({ min: -50, max: 50 }), 20)
        .every(by => movedStep(ids, target, by).length === ids.length),
    ).toBe(true);
  });
});

it('a lesson is split without cutting a step, none too long unless one step is, each beginning with what the last one came to', () => {
  const steps = lessonSteps(made(TUNE));
  for (const minutes of [1, 10, 20, 45, 1000]) {
    const parts = splitLesson(steps, minutes);
    expect(parts.flatMap(part => part.steps)).toEqual(steps);
    for (const [i, part] of parts.entries()) {
      expect(part.minutes <= minutes || part.steps.length === 1).toBe(true);
      if (i > 0) expect(parts[i - 1]!.steps).toContain(part.recap);
    }
  }
  expect(splitLesson(steps, 1000)).toHaveLength(1);
});
