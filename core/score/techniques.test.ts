/** Every technique of the list is written, drawn, heard, told and exported: none may be forgotten. */

import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { firstAlike } from '../compare';
import { readAbc, writeMidi, writeMusicXml } from '../formats';
import { describeMeasure } from '../lesson';
import { faultOf } from '../records';
import { performanceOf } from '../sound';
import { schemaFaults } from '../testing/musicxml';
import { trackOf } from '../track';
import { dropTechniques, has, isStruck, mendLinks, putTechnique } from './index';
import { type Arrangement, noteMidi } from './model';
import { TECHNIQUE_KINDS, TECHNIQUES, type Technique, type TechniqueKind } from './techniques';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=60\nK:G\ng2a2|g2a2|]\n')[0]!;
const plain = arrange(tune, { id: 't', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;

/** One way to have each technique. */
const ONE: { [K in TechniqueKind]: (from: string) => Technique } = {
  hammer: from => ({ kind: 'hammer', from }),
  pull: from => ({ kind: 'pull', from }),
  slide: from => ({ kind: 'slide', from }),
  'slide-in': () => ({ kind: 'slide-in', way: 'below' }),
  'slide-off': () => ({ kind: 'slide-off', way: 'below' }),
  bend: () => ({ kind: 'bend', semitones: 2, shape: 'up' }),
  harmonic: () => ({ kind: 'harmonic', touch: 12 }),
  vibrato: () => ({ kind: 'vibrato' }),
  'palm-mute': () => ({ kind: 'palm-mute' }),
  dead: () => ({ kind: 'dead' }),
  accent: () => ({ kind: 'accent' }),
  'let-ring': () => ({ kind: 'let-ring' }),
  damp: () => ({ kind: 'damp' }),
  tremolo: () => ({ kind: 'tremolo' }),
};

/** The first measure's second note with a technique; for a pull-off the first note lies higher. */
function withTechnique(kind: TechniqueKind): Arrangement {
  const changed = structuredClone(plain);
  const [first, second] = changed.measures[0]!.notes;
  Object.assign(first!, { string: 1, fret: kind === 'pull' ? 7 : 3, finger: 1 });
  // Half as long as there is room for, so that what rings on is heard.
  Object.assign(second!, { string: 1, fret: 5, finger: 3, ticks: second!.ticks / 2 });
  putTechnique(second!, ONE[kind](first!.id));
  return changed;
}
const base = withTechnique('accent');
for (const { notes } of base.measures) for (const own of notes) dropTechniques(own, ['accent']);

describe.each(TECHNIQUE_KINDS)('%s', kind => {
  const changed = withTechnique(kind);
  const [, own] = changed.measures[0]!.notes;
  it('has a name, a sign and a meaning of its own', () => {
    const { name, sign, meaning } = TECHNIQUES[kind];
    for (const text of [name, sign, meaning]) expect(text.length).toBeGreaterThan(0);
    expect(TECHNIQUE_KINDS.filter(other => TECHNIQUES[other].name === name)).toEqual([kind]);
  });
  it('is a record in order, and makes the measure another than a plain one', () => {
    expect(faultOf('arrangements', changed)).toBeUndefined();
    const both = {
      measures: [...changed.measures.slice(0, 1), ...structuredClone(base).measures.slice(0, 1)],
    };
    expect(firstAlike(both)).toEqual([0, 1]);
  });
  it('is heard, or changes nothing that sounds', () => {
    const sound = (a: Arrangement) => JSON.stringify(performanceOf(a, [0], 100).events);
    const ring = (a: Arrangement) => JSON.stringify(trackOf(a, [0]).notes.map(n => n.ringEnd));
    if (kind !== 'let-ring') expect([sound(changed), ring(changed)]).not.toEqual([sound(base), ring(base)]);
    if (kind === 'let-ring')
      expect(trackOf(changed).notes[1]!.ringEnd).toBeGreaterThanOrEqual(trackOf(base).notes[1]!.ringEnd);
    expect(writeMidi(changed).length).toBeGreaterThan(50);
  });
  it('is told in the lesson', () => {
    const said = (a: Arrangement) => describeMeasure(a, 0).map(m => m.pluck)[1];
    expect(said(changed)).not.toBe(said(base));
  });
  it('is exported, validly', () => {
    const xml = writeMusicXml(changed);
    expect(schemaFaults(xml)).toBe('');
    expect(xml).not.toBe(writeMusicXml(base));
  });
  it('rules out both ways what it rules out', () => {
    for (const other of TECHNIQUES[kind].against)
      expect([other, TECHNIQUES[other].against]).toEqual([other, expect.arrayContaining([kind])]);
    const note = structuredClone(own!);
    for (const other of TECHNIQUES[kind].against) {
      putTechnique(note, ONE[other]('n1'));
      expect(has(note, kind)).toBe(false);
      putTechnique(note, ONE[kind]('n1'));
      expect(has(note, other)).toBe(false);
    }
  });
});

describe('techniques', () => {
  it('an artificial harmonic at the twelfth fret above sounds an octave higher', () => {
    const [, own] = withTechnique('harmonic').measures[0]!.notes;
    const [, stopped] = base.measures[0]!.notes;
    expect(noteMidi(plain.setup, own!)).toBe(noteMidi(plain.setup, stopped!) + 12);
  });
  it('a slide that is plucked again is struck, others are not', () => {
    expect(isStruck({ techniques: [{ kind: 'slide', from: 'a' }] })).toBe(false);
    expect(isStruck({ techniques: [{ kind: 'slide', from: 'a', again: true }] })).toBe(true);
  });
});

describe('links', () => {
  it('a pull-off may come after another string has sounded', () => {
    const changed = withTechnique('pull');
    const [first, second] = changed.measures[0]!.notes;
    second!.start += second!.ticks / 2;
    second!.ticks /= 2;
    changed.measures[0]!.notes.push({
      id: 'n900',
      role: 'inner',
      start: first!.ticks,
      ticks: 2520,
      string: 2,
      fret: 0,
    });
    mendLinks(changed.measures);
    expect(second!.techniques).toEqual([{ kind: 'pull', from: first!.id }]);
    expect(faultOf('arrangements', { ...changed, nextId: 901 })).toBeUndefined();
  });
  it('one that leads to no note is taken off, or leads to the note before on the string', () => {
    const changed = withTechnique('hammer');
    const [first, second] = changed.measures[0]!.notes;
    putTechnique(second!, { kind: 'hammer', from: 'gone' });
    expect(faultOf('arrangements', changed)).toMatch(/linked to gone/);
    mendLinks(changed.measures);
    expect(second!.techniques).toEqual([{ kind: 'hammer', from: first!.id }]);
    second!.string = 4;
    mendLinks(changed.measures);
    expect(second!.techniques).toBeUndefined();
  });
});
