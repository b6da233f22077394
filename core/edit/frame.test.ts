/** Chords, words, bars, meter, key and tempo by hand: seen by what plays, exports and checks. */
import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../check';
import { writeMidi, writeMusicXml } from '../formats';
import { standardSetup } from '../instrument';
import { faultOf } from '../records';
import { type Arrangement, phraseSpan, phrasesOf, remarksIn } from '../score';
import { performanceOf } from '../sound';
import { done } from '../testing/edits';
import { handmade } from '../testing/handmade';
import { schemaFaults } from '../testing/musicxml';
import { TICKS_PER_QUARTER } from '../time';
import { playingOrder } from '../timeline';
import { measureNumbers } from '../tune';
import { applyEdit, type Edit, type History, startHistory, undo } from './index';

/** Four measures with one whole note each, capo 2. */
const start = (): History =>
  startHistory(
    handmade({
      setup: standardSetup('guitar', 2),
      notes: [0, 1, 2, 3].map(measure => ({ quarters: 2, start: 0, measure, string: 1, fret: measure })),
    }),
  );
const id = (history: History, measure: number) => history.present.measures[measure]!.id;
/** The history after an edit that must succeed; the record is in order then, and undo leads back. */
function edited(history: History, edit: Edit): History {
  const result = done(applyEdit(history, edit));
  expect(faultOf('arrangements', result.present)).toBeUndefined();
  expect(undo(result).present).toEqual(history.present);
  return result;
}
const bars = (history: History, measure: number, values: Extract<Edit, { kind: 'bars' }>['values']) =>
  edited(history, { kind: 'bars', ids: [id(history, measure)], values });
const seconds = (a: Arrangement) => performanceOf(a, playingOrder(a), 100).seconds;

describe('by hand', () => {
  it('a chord is named by its shape, and sounds with the capo; another name replaces it, none takes it off', () => {
    const history = start();
    const chord = (h: History, name: string | null) =>
      edited(h, { kind: 'chord', ids: [id(h, 1)], values: { start: 20160, name } });
    const given = chord(history, 'G7');
    expect(given.present.measures[1]!.chords).toMatchObject([{ start: 20160, shape: 'G7', sounding: 'A7' }]);
    expect(chord(given, 'C').present.measures[1]!.chords).toMatchObject([{ shape: 'C', sounding: 'D' }]);
    expect(chord(given, '').present.measures[1]!.chords).toEqual([]);
    expect(writeMusicXml(given.present)).toContain('<root-step>A</root-step>');
    const wrong = { kind: 'chord', ids: [id(history, 1)], values: { start: 0, name: 'Hm' } } as const;
    expect(applyEdit(history, wrong)).toEqual({
      error: '“Hm” is no chord that is known here: in English it is called Bm',
    });
  });
  it('words stand under their place, a line a verse', () => {
    const history = start();
    const word = (h: History, verse: number, text: string) =>
      edited(h, { kind: 'word', ids: [id(h, 0)], values: { start: 0, verse, text } });
    const second = word(word(history, 0, 'down'), 1, 'up');
    expect(second.present.measures[0]!.words).toEqual([{ start: 0, verses: ['down', 'up'] }]);
    expect(writeMusicXml(second.present)).toContain('<text>up</text>');
    expect(word(word(second, 0, ''), 1, '').present.measures[0]!.words).toEqual([]);
  });
  it('repeats, endings and their number are played', () => {
    let history = bars(bars(start(), 1, { repeatStart: true }), 2, { repeatEnd: true });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 1, 2, 3]);
    history = bars(history, 2, { passes: 3 });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 1, 2, 1, 2, 3]);
    history = bars(history, 2, { repeatEnd: false });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 3]);
    const endings = bars(bars(bars(start(), 1, { ending: [1] }), 1, { repeatEnd: true }), 2, { ending: [2] });
    expect(playingOrder(endings.present)).toEqual([0, 1, 0, 2, 3]);
    expect(schemaFaults(writeMusicXml(endings.present))).toBe('');
  });
  it('a tempo holds from its measure on, a fermata where it stands', () => {
    const history = start();
    // Four measures of four quarters at sixty.
    expect(seconds(history.present)).toBeCloseTo(16, 9);
    const faster = bars(history, 2, { tempo: 120 });
    expect(seconds(faster.present)).toBeCloseTo(12, 9);
    expect(seconds(bars(faster, 2, { tempo: null }).present)).toBeCloseTo(16, 9);
    expect(seconds(bars(history, 3, { fermata: { start: 0, on: true } }).present)).toBeGreaterThan(16.5);
    expect(applyEdit(history, { kind: 'bars', ids: [id(history, 0)], values: { tempo: 5 } })).toEqual({
      error: 'a tempo is 10 to 600 quarters a minute',
    });
    expect(writeMidi(faster.present).length).toBeGreaterThan(writeMidi(history.present).length);
  });
  it('a section gets an id of its own, is renamed and taken off', () => {
    const named = bars(start(), 2, { section: 'Chorus' });
    const { section } = named.present.measures[2]!;
    expect(section).toMatchObject({ name: 'Chorus' });
    expect(section!.id).not.toBe(named.present.measures[0]!.section?.id);
    expect(bars(named, 2, { section: 'Refrain' }).present.measures[2]!.section).toEqual({
      id: section!.id,
      name: 'Refrain',
    });
    expect(bars(named, 2, { section: null }).present.measures[2]!.section).toBeUndefined();
  });
  it('another meter keeps the notes where they are, and refuses where they would be lost', () => {
    const history = start();
    const meter = (h: History, measures: number[], beats: number) => ({
      kind: 'meter' as const,
      ids: measures.map(measure => id(h, measure)),
      values: { meter: { beats, unit: 4 } },
    });
    const three = edited(history, meter(history, [1, 2], 3));
    expect(three.present.measures.map(m => [m.meter.beats, m.ticks / 10080])).toEqual([
      [4, 4],
      [3, 3],
      [3, 3],
      [4, 4],
    ]);
    expect(checkArrangement(three.present).filter(f => f.severity === 'error')).toEqual([]);
    expect(applyEdit(history, meter(history, [0], 1))).toMatchObject({
      error: expect.stringMatching(/measure 1 holds more than 1\/4/),
    });
    expect(schemaFaults(writeMusicXml(three.present))).toBe('');
  });
  it('another key holds up to the next change of key', () => {
    const history = start();
    const key = (h: History, measure: number, tonic: string) =>
      edited(h, { kind: 'key', ids: [id(h, measure)], values: { key: { tonic, mode: 'major' } } });
    const changed = key(key(history, 2, 'D'), 1, 'E');
    expect(changed.present.measures.map(m => m.key.tonic)).toEqual(['G', 'E', 'D', 'D']);
  });
  it('remarks stand on a note, a measure and the piece; they stay when it is made anew', () => {
    const history = start();
    const remark = (h: History, values: { note?: string; text: string }, measure?: number) =>
      edited(h, { kind: 'remark', ids: measure === undefined ? [] : [id(h, measure)], values });
    let all = remark(
      remark(remark(history, { text: 'slowly' }), { text: 'softly' }, 1),
      { note: 'n2', text: 'ring' },
      1,
    );
    expect(all.present.remark).toBe('slowly');
    expect(remarksIn(all.present, [0, 1]).map(r => [r.measure, r.at?.id, r.text])).toEqual([
      [1, undefined, 'softly'],
      [1, 'n2', 'ring'],
    ]);
    all = remark(all, { note: 'n2', text: 'let it ring' }, 1);
    expect(all.present.measures[1]!.remarks).toHaveLength(2);
    expect(
      remark(remark(all, { text: '' }, 1), { note: 'n2', text: ' ' }, 1).present.measures[1],
    ).not.toHaveProperty('remarks');
    // What is proposed anew brings no remarks along.
    const proposal = structuredClone(all.present);
    for (const measure of proposal.measures) delete measure.remarks;
    delete proposal.remark;
    proposal.measures[1]!.notes[0]!.fret = 5;
    const taken = edited(all, { kind: 'take', ids: [], values: { proposal, what: 'anew' } });
    expect(remarksIn(taken.present, [1]).map(r => r.text)).toEqual(['softly', 'let it ring']);
    expect(taken.present.remark).toBe('slowly');
    // A remark whose note is gone is one on the measure.
    const gone = edited(all, { kind: 'remove', ids: ['n2'], values: {} });
    expect(remarksIn(gone.present, [1]).map(r => [r.at, r.text])).toEqual([
      [undefined, 'softly'],
      [undefined, 'let it ring'],
    ]);
  });
  it('a chord has the grip that is usual, or the one that is said; a grip alone is named by its sound', () => {
    const history = start();
    const chord = (name: string | null, frets?: string) =>
      edited(history, {
        kind: 'chord',
        ids: [id(history, 1)],
        values: { start: 0, name, ...(frets && { frets }) },
      }).present.measures[1]!.chords[0]!;
    // The open shapes of C and G, and the barre of F: handbook tables of guitar chords; from memory.
    expect(chord('C')).toMatchObject({ frets: [0, 1, 0, 2, 3, null], fingers: [null, 1, null, 2, 3, null] });
    expect(chord('G', '3x0003')).toMatchObject({ shape: 'G', sounding: 'A', frets: [3, 0, 0, 0, null, 3] });
    expect(chord(null, '133211')).toMatchObject({ shape: 'F', sounding: 'G' });
    expect(
      applyEdit(history, {
        kind: 'chord',
        ids: [id(history, 1)],
        values: { start: 0, name: 'C', frets: 'x32' },
      }),
    ).toHaveProperty('error');
  });
  it('a shape that is written again has the fingers that the piece has for it', () => {
    const { present } = start();
    const written = (fingers: (number | null)[]) => {
      const known = { id: 'c1', start: 0, shape: 'G', sounding: 'A', frets: [3, 0, 0, 0, 2, 3], fingers };
      const measures = present.measures.map((m, i) => (i ? m : { ...m, chords: [known] }));
      const history = startHistory({ ...present, measures });
      const edit: Edit = { kind: 'chord', ids: [id(history, 2)], values: { start: 0, name: 'G' } };
      return edited(history, edit).present.measures[2]!.chords[0]!.fingers;
    };
    expect(written([4, null, null, null, 2, 3])).toEqual([4, null, null, null, 2, 3]);
    expect(written([3, null, null, null, 1, 2])).toEqual([3, null, null, null, 1, 2]);
  });
  it('a measure slows down to its end: it lasts longer, the next one goes on as slowly', () => {
    const history = start();
    const slower = bars(history, 1, { glide: 30 });
    const whole = seconds(history.present);
    // From 60 to 30 over four quarters take 4 · 2 · ln 2 seconds, the eight quarters after it twice as long.
    expect(seconds(slower.present) - whole).toBeCloseTo(4 * (2 * Math.LN2 - 1) + 8, 0);
    expect(seconds(bars(slower, 1, { glide: null }).present)).toBeCloseTo(whole);
    expect(seconds(bars(bars(slower, 2, { tempo: 60 }), 2, { tempo: null }).present)).toBeGreaterThan(whole);
  });
  it('marks of the road are played: da capo al fine', () => {
    let history = bars(start(), 1, { mark: { mark: 'fine', on: true } });
    history = bars(history, 3, { mark: { mark: 'da-capo', on: true } });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 3, 0, 1]);
    expect(schemaFaults(writeMusicXml(history.present))).toBe('');
    history = bars(history, 3, { mark: { mark: 'da-capo', on: false } });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 3]);
  });
  it('a rest stands where its voice is silent, is exported, and gives way to a note', () => {
    const history = start();
    const rest = (from: History, at: number, on = true): Edit => ({
      kind: 'rest',
      ids: [id(from, 0)],
      values: { start: at, ticks: 20160, voice: 1, on },
    });
    // A half note is played on the first two beats.
    expect(applyEdit(history, rest(history, 0))).toEqual({
      error: 'voice 1 sounds there: a note on string 1',
    });
    expect(applyEdit(history, rest(history, 30240))).toHaveProperty('error');
    const rested = edited(history, rest(history, 20160));
    expect(rested.present.measures[0]!.rests).toMatchObject([{ voice: 1, start: 20160, ticks: 20160 }]);
    expect(writeMusicXml(rested.present)).toMatch(/<rest\/>\s*<duration>20160</);
    expect(edited(rested, rest(rested, 20160, false)).present.measures[0]!.rests).toBeUndefined();
    const noted = edited(rested, {
      kind: 'insert',
      ids: [id(rested, 0)],
      values: { start: 20160, string: 1, fret: 3, ticks: 10080 },
    });
    expect(noted.present.measures[0]!.rests).toBeUndefined();
  });
  it('a passage has a name, until it is taken off or its measures are gone', () => {
    const history = start();
    const named = edited(history, {
      kind: 'phrase',
      ids: [id(history, 2), id(history, 1)],
      values: { name: 'the first lick' },
    });
    expect(phrasesOf(named.present)).toMatchObject([{ name: 'the first lick', first: 1, last: 2 }]);
    const gone = edited(named, { kind: 'remove-measures', ids: [id(named, 1)], values: {} });
    expect(phrasesOf(gone.present)).toEqual([]);
    const { id: phrase } = named.present.phrases![0]!;
    expect(
      edited(named, { kind: 'phrase', ids: [], values: { name: null, phrase } }).present.phrases,
    ).toBeUndefined();
  });
  it('a passage with a name may begin and end within its measures, and stays there when they are divided and joined', () => {
    const history = start();
    const named = (values: { start?: number; end?: number }) =>
      applyEdit(history, {
        kind: 'phrase',
        ids: [id(history, 0), id(history, 1)],
        values: { name: 'the turn', ...values },
      });
    const full = history.present.measures[1]!.ticks;
    expect(named({ start: full })).toEqual({ error: 'it begins within its first measure' });
    expect(named({ end: 0 })).toEqual({ error: 'it ends within its last measure' });
    const within = named({ start: TICKS_PER_QUARTER * 2, end: TICKS_PER_QUARTER * 1.5 });
    if ('error' in within) throw new Error(within.error);
    const where = (at: History) =>
      phrasesOf(at.present).map(({ first, begins, last, ends }) => [first, begins, last, ends]);
    const q = TICKS_PER_QUARTER;
    expect(where(within)).toEqual([[0, 2 * q, 1, 1.5 * q]]);
    expect(phraseSpan(within.present, phrasesOf(within.present)[0]!)).toBe(
      'beat 3 of measure 1 to beat 1 of measure 2',
    );
    const divided = (at: History, measure: number, start: number) =>
      edited(at, { kind: 'split', ids: [id(at, measure)], values: { start } });
    // Before where it begins, and just there.
    expect(where(divided(within, 0, q))).toEqual([[1, q, 2, 1.5 * q]]);
    expect(where(divided(within, 0, 2 * q))).toEqual([[1, 0, 2, 1.5 * q]]);
    expect(where(divided(within, 1, q))).toEqual([[0, 2 * q, 2, 0.5 * q]]);
    const joined = edited(divided(within, 1, q), {
      kind: 'join',
      ids: [id(divided(within, 1, q), 1)],
      values: {},
    });
    expect(where(joined)).toEqual(where(within));
    const both = edited(within, { kind: 'join', ids: [id(within, 0)], values: {} });
    expect(where(both)).toEqual([[0, 2 * q, 0, full + 1.5 * q]]);
    const whole = named({});
    if ('error' in whole) throw new Error(whole.error);
    expect(where(divided(whole, 1, q))).toEqual([[0, 0, 2, full - q]]);
  });
  it('a section is played as another one but for its end', () => {
    let history = bars(bars(start(), 0, { section: 'A' }), 3, { section: 'B' });
    const first = history.present.measures[0]!.section!.id;
    history = bars(history, 3, { as: first });
    expect(playingOrder(history.present)).toEqual([0, 1, 2, 0, 1, 3]);
    expect(writeMusicXml(history.present)).toContain('as A, but its end:');
    expect(playingOrder(bars(history, 3, { as: null }).present)).toEqual([0, 1, 2, 3]);
    const itself: Edit = { kind: 'bars', ids: [id(history, 0)], values: { as: first } };
    expect(applyEdit(history, itself)).toHaveProperty('error');
  });
  it('in free time nothing is clicked', () => {
    const free = bars(start(), 1, { free: true });
    const { clicks } = performanceOf(free.present, [0, 1, 2], 100);
    expect(clicks.filter(click => click.time >= 4 && click.time < 8)).toEqual([]);
    expect(clicks).toHaveLength(8);
  });
  it('the first measure is made a pickup where its notes have room, and a whole one again', () => {
    const pickup = (ticks: number): Edit => ({ kind: 'pickup', ids: [], values: { ticks } });
    // A half note is in it.
    expect(applyEdit(start(), pickup(10080))).toHaveProperty('error');
    const made = edited(start(), pickup(20160));
    expect(made.present.measures[0]).toMatchObject({ ticks: 20160, offset: 20160 });
    expect(measureNumbers(made.present.measures)).toEqual([0, 1, 2, 3]);
    expect(seconds(start().present) - seconds(made.present)).toBeCloseTo(2);
    expect(edited(made, pickup(40320)).present.measures[0]).toMatchObject({ ticks: 40320, offset: 0 });
  });
});
