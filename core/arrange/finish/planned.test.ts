/** A plan chosen on Shapes is what is arranged, and where the melody makes that impossible the ledger says so. */
import { describe, expect, it } from 'vitest';
import { freshPlan, planShapes, type TunePlan } from '../../capo';
import { readAbc } from '../../formats/abc';
import { isBarre } from '../../hand';
import { gripOf, ledgerTexts, momentsOf, type Style, soundingAt } from '../../score';
import { shapeText } from '../../shape';
import { committeeTunes } from '../../testing/committee';
import { arrange } from '../index';

const tuneOf = (body: string, key = 'C') =>
  readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=80\nK:${key}\n${body}\n`)[0]!.tune;
const SONG = tuneOf('"C"e2g2|"Am"e2c\'2|"F"a2c\'2|"G"b2d\'2|"C"c\'4|]');
const planOf = (plan: Partial<TunePlan>): TunePlan => ({ ...freshPlan(SONG.id), ...plan });
const arranged = (plan: TunePlan, style: Style = 'fingerstyle') =>
  arrange(SONG, {
    id: 'a',
    instrument: plan.setup.instrument,
    setup: plan.setup,
    style,
    capo: plan.setup.capo,
    hand: plan.hand,
    wishes: plan.wishes,
    choices: plan.choices,
  }).arrangement!;
const sheetShapes = (plan: TunePlan) =>
  planShapes(SONG, plan).chords.flatMap(c => c.ids.map(id => [id, c.chosen && shapeText(c.chosen.frets)]));
const arrangedShapes = (plan: TunePlan, style?: Style) =>
  arranged(plan, style).measures.flatMap(m => m.chords.map(c => [c.from, c.frets && shapeText(c.frets)]));

describe('the shapes of chord sheet, arrangement and handout', () => {
  it.each<[string, Partial<TunePlan>]>([
    ['as they come', {}],
    ['chosen by hand', { choices: { c1: 'x35553', c4: '320033' } }],
    ['without a barre', { wishes: { noBarre: true } }],
    ['with a free finger', { wishes: { freeFingers: [4] } }],
    ['up the neck', { wishes: { minFret: 3 } }],
    ['for an easy worst change', { wishes: { goal: 'worst' } }],
  ])('%s are the same', (_, plan) => {
    for (const style of ['fingerstyle', 'chord-melody', 'melody', 'pattern'] as const)
      expect(arrangedShapes(planOf(plan), style)).toEqual(sheetShapes(planOf(plan)));
  });
  it('a shape by hand is what the accompaniment is taken from, or the ledger says where it is not', () => {
    const plan = planOf({ choices: { c1: 'x35553' } });
    const made = arranged(plan, 'chord-melody');
    const [first] = made.measures;
    const frets = [3, 5, 5, 5, 3, null];
    const astray = momentsOf(first!, 0).some(moment =>
      moment.notes.some(n => n.role !== 'melody' && n.tie === undefined && frets[n.string - 1] !== n.fret),
    );
    expect(
      ledgerTexts(made).some(line => line.startsWith('Measure 1: the shape x35553 chosen by hand')),
    ).toBe(astray);
  });
  it('a barre is avoided where none is wished; one that the melody needs is told', () => {
    const made = arranged(planOf({ wishes: { noBarre: true } }));
    const barres = made.measures.flatMap((m, i) =>
      momentsOf(m, i).some(moment => gripOf(soundingAt(m, moment.start)).some(isBarre)) ? [i + 1] : [],
    );
    const told = ledgerTexts(made).find(line => line.includes('a barre is needed although none was wished'));
    expect(told === undefined).toBe(barres.length === 0);
    const plain = arranged(planOf({}));
    expect(plain.measures.length).toBe(made.measures.length);
  });
  it('a finger that is to stay free accompanies nothing, or the ledger says where', () => {
    const made = arranged(planOf({ wishes: { freeFingers: [4] } }));
    const used = made.measures.flatMap((m, i) =>
      m.notes.some(n => n.role !== 'melody' && n.finger === 4) ? [i + 1] : [],
    );
    const told = ledgerTexts(made).filter(line => line.includes('finger 4 is needed although'));
    expect(told.length > 0).toBe(used.length > 0);
  });
});

it('B between two E is held by its barre: a shape at hand with B on two strings is no reason (common practice)', () => {
  const tune = committeeTunes().find(own => own.title === 'New Britain')!;
  const made = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 3 }).arrangement!;
  const chords = made.measures.flatMap(measure => measure.chords).filter(({ shape }) => shape === 'B');
  expect(chords.map(({ frets }) => shapeText(frets!))).toEqual(['x24442']);
});
