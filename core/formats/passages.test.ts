/** Eight passages as they are played: dictated, they are in order, sound as meant, and go out in every form. */
import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../check';
import { describeMeasure } from '../lesson';
import { faultOf } from '../records';
import { type Arrangement, TECHNIQUE_KINDS } from '../score';
import { performanceOf, semitonesAt } from '../sound';
import { schemaFaults } from '../testing/musicxml';
import { PASSAGES } from '../testing/passages';
import { playingOrder } from '../timeline';
import { pieceOf, readDictation, readTab, writeMidi, writeMusicXml, writeTab } from './index';

const made = PASSAGES.map(({ name, text }) => {
  const piece = pieceOf(readDictation(text), { tuneId: 't', id: 'a', title: 'Passage' });
  if (piece.error !== undefined) throw new Error(`${name}: ${piece.error}`);
  return { name, ...piece };
});
const of = (word: string): Arrangement => made.find(({ name }) => name.includes(word))!.arrangement;
const events = (a: Arrangement) => performanceOf(a, playingOrder(a), 100).events;

describe.each(made.map(p => [p.name, p] as const))('%s', (_, { tune, arrangement, guesses }) => {
  it('is in order as a record, and nothing of it was guessed', () => {
    expect([faultOf('tunes', tune), faultOf('arrangements', arrangement)]).toEqual([undefined, undefined]);
    expect(guesses).toEqual([]);
  });
  it('can be held: no finding says that it can’t be played', () => {
    expect(checkArrangement(arrangement, tune).filter(f => f.severity === 'error')).toEqual([]);
  });
  it('has a finger for every held note', () => {
    for (const note of arrangement.measures.flatMap(m => m.notes))
      if (note.fret > 0 && !note.techniques?.some(t => t.kind === 'harmonic' || t.kind === 'dead'))
        expect([note.string, note.fret, note.finger]).toEqual([note.string, note.fret, expect.any(Number)]);
  });
  it('goes out as MusicXML, MIDI and text tab, and comes back from that', () => {
    const xml = writeMusicXml(arrangement, (measure, reason) => expect([measure, reason]).toBeUndefined());
    expect(schemaFaults(xml)).toBe('');
    expect(writeMidi(arrangement).length).toBeGreaterThan(100);
    const { text, leftOut } = writeTab(arrangement);
    const back = readTab(text);
    expect([leftOut, back.questions, back.guesses, back.leftOut], text).toEqual([[], [], [], []]);
    expect(back.measures.map(m => m.notes.length)).toEqual(arrangement.measures.map(m => m.notes.length));
  });
  it('is told moment by moment', () => {
    for (const [index] of arrangement.measures.entries())
      for (const moment of describeMeasure(arrangement, index))
        expect(moment.pluck.length).toBeGreaterThan(5);
  });
});

describe('what is special about them is heard', () => {
  it('the bends rise a whole tone, one of them twice, one comes back', () => {
    const [up, twice, back] = events(of('a lick'));
    const at = (event: typeof up, part: number) =>
      semitonesAt(event!, event!.time + part * (event!.end - event!.time));
    expect([at(up, 0), at(up, 0.9)]).toEqual([0, 2]);
    expect([at(twice, 0.2), at(twice, 0.45), at(twice, 0.9)].map(Math.round)).toEqual([2, 0, 2]);
    expect([at(back, 0.5), at(back, 0.95)]).toEqual([2, 0]);
  });
  it('the whole grip slides in before the beat, and the bass comes on it', () => {
    const a = of('a grip that slides');
    const all = events(a);
    const arrival = (4 * 60) / 92;
    const sliding = all.filter(e => e.time < arrival && e.time > arrival - 0.1);
    expect(sliding.map(e => e.curve?.at(-1)?.time)).toEqual(Array(3).fill(arrival));
    expect(all.filter(e => Math.abs(e.time - arrival) < 1e-9).map(e => e.string)).toEqual([1, 2, 3, 6]);
  });
  it('a chain of hammer-on and pull-off comes back to the finger that stayed', () => {
    const fingers = of('a lick')
      .measures[0]!.notes.slice(3, 6)
      .map(n => n.finger);
    expect(fingers).toEqual([fingers[0], expect.any(Number), fingers[0]]);
    expect(fingers[1]!).toBeGreaterThan(fingers[0]!);
    const slurred = of('a slur of four')
      .measures[0]!.notes.filter(n => n.string === 3)
      .map(n => n.finger);
    expect(slurred[3]).toBe(slurred[1]);
    const slid = of('open tuning').measures[0]!.notes.filter(
      n => n.techniques?.[0]?.kind === 'slide' || n.fret === 5,
    );
    expect(slid[0]!.finger).toBe(slid[1]!.finger);
  });
  it('harmonics sound an octave above the open strings', () => {
    const harmonics = events(of('paired harmonics')).filter(e => e.midi === 76 || e.midi === 71);
    expect(harmonics.map(e => [e.string, e.midi])).toEqual([
      [1, 76],
      [2, 71],
    ]);
  });
  it('the late pull-off comes out of the note before on its string', () => {
    const [first, , pulled] = of('after another string').measures[0]!.notes.toSorted(
      (a, b) => a.start - b.start,
    );
    expect(pulled!.techniques).toEqual([{ kind: 'pull', from: first!.id }]);
  });
  it('a brush down begins on the thickest of its strings, one up on the thinnest', () => {
    const { measures } = of('brush');
    const strings = (from: number) =>
      events(of('brush'))
        .filter(e => e.time >= from - 1e-9 && e.time < from + 0.1)
        .map(e => e.string);
    expect(strings(0.6)).toEqual([3, 2, 1]);
    expect(strings(1.8)).toEqual([1, 2, 3]);
    expect(measures[1]!.notes.map(n => n.pluck)).toEqual([
      'down',
      'up',
      'down',
      'up',
      'down',
      'up',
      'down',
      'up',
    ]);
  });
  it('swung eighths are late, the triplet is not', () => {
    const a = of('open tuning');
    const beat = 60 / 88;
    const places = events(a)
      .filter(e => e.time >= 0)
      .map(e => +(e.time / beat).toFixed(2));
    expect(places).toEqual([0, 0.33, 0.67, 1, 2, 2.64, 3, 3.64]);
  });
  it('together they use nearly every technique', () => {
    const used = new Set(
      made.flatMap(p =>
        p.arrangement.measures.flatMap(m => m.notes.flatMap(n => n.techniques?.map(t => t.kind) ?? [])),
      ),
    );
    expect(TECHNIQUE_KINDS.filter(kind => used.has(kind)).length).toBeGreaterThanOrEqual(7);
  });
});
