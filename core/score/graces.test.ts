import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, startHistory } from '../edit';
import { readAbc, writeMusicXml } from '../formats';
import { readDictation } from '../formats/dictation';
import { readMusicXml } from '../formats/musicxml';
import { readTab, writeTab } from '../formats/tab';
import { noteAt, standardSetup } from '../instrument';
import { describeMeasure } from '../lesson';
import { midiOf } from '../pitch';
import { faultOf } from '../records';
import { performanceOf } from '../sound';
import { handmade } from '../testing/handmade';
import { playingOrder } from '../timeline';
import { explainNote, graceSpots, gracesText, movedGraces, readGraces, soundingAt, spotsOf } from './index';

const guitar = standardSetup('guitar');
const mandolin = standardSetup('mandolin');

describe('where a grace note lies', () => {
  it('on its own string where that is in reach, else on the next one', () => {
    // Open strings of a guitar E A D G B E, of a mandolin G D A E (common practice).
    expect(graceSpots(guitar, { string: 1, fret: 3 }, 66)[0]).toBe(2);
    expect(graceSpots(guitar, { string: 1, fret: 0 }, 62)[0]).toEqual({ string: 2, fret: 3 });
    expect(graceSpots(mandolin, { string: 2, fret: 0 }, 68)[0]).toEqual({ string: 3, fret: 6 });
    expect(graceSpots(guitar, { string: 6, fret: 0 }, 38)).toEqual([]);
    expect(graceSpots(guitar, { string: 1, fret: 3 }, 76, true)).toEqual([]);
  });
  it('keeps its distance where its note goes to another string', () => {
    const note = { string: 2, fret: 8, graces: [{ id: 'g1', string: 2, fret: 7 }] };
    expect(movedGraces(guitar, note, { string: 1, fret: 3 })).toEqual([{ id: 'g1', string: 1, fret: 2 }]);
    // E from E flat: an open string has nothing below it, the next one has.
    expect(
      movedGraces(
        guitar,
        { ...note, fret: 5, graces: [{ id: 'g1', string: 2, fret: 4 }] },
        { string: 1, fret: 0 },
      ),
    ).toEqual([{ id: 'g1', string: 2, fret: 4 }]);
  });
  it('is said in text and read back', () => {
    const spots = [2, { string: 4, fret: 12 }, 0];
    expect(gracesText(spots)).toBe('2 4:12 0');
    expect(readGraces(gracesText(spots))).toEqual(spots);
  });
});

describe('grace notes of a tune', () => {
  const graced =
    'X:1\nT:Graces\nM:3/4\nL:1/4\nQ:1/4=90\nK:G\n"Em"{d}e2{f}g|"G"{c}d2B|"Am"{d}e{g}a{^f}g|"D"{c}B{G}A2|"G"{^F}G3|]\n';
  const { tune } = readAbc(graced)[0]!;
  const wanted = tune.measures.flatMap(m => m.events.flatMap(e => e.graces?.map(midiOf) ?? []));
  for (const [instrument, style] of [
    ['guitar', 'fingerstyle'],
    ['guitar', 'melody'],
    ['mandolin', 'melody'],
  ] as const)
    it(`are all played on the ${instrument}, ${style}, at their pitch, by a free finger and string`, () => {
      const { arrangement } = arrange(tune, { id: 'a', instrument, style, capo: 0 });
      const { setup, measures, octaveShift } = arrangement!;
      const made = measures.flatMap(m => m.notes.flatMap(n => n.graces ?? []));
      const left = arrangement!.ledger.filter(line => line.text.includes('grace note')).length;
      expect(made.length + left).toBeGreaterThanOrEqual(wanted.length);
      expect(left).toBeLessThanOrEqual(1);
      const pitches = wanted.map(midi => midi + octaveShift);
      for (const grace of made) expect(pitches).toContain(noteAt(setup, grace.string, grace.fret));
      for (const measure of measures)
        for (const note of measure.notes)
          for (const grace of note.graces ?? []) {
            const others = soundingAt(measure, note.start).filter(other => other !== note);
            expect(others.map(other => other.string)).not.toContain(grace.string);
            if (grace.fret && note.graceBy !== 'slide')
              expect(others.filter(other => other.fret).map(other => other.finger)).not.toContain(
                grace.finger,
              );
            if (grace.string !== note.string) expect(note.graceBy).toBe('pick');
          }
    });
  it('that lie beside their note are heard at their pitch on their string, told, explained, and go out and come back', () => {
    const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'melody', capo: 0 });
    const made = arrangement!;
    const beside = made.measures.flatMap((measure, index) =>
      measure.notes.flatMap(note =>
        note.graces?.some(grace => grace.string !== note.string) ? [{ note, index }] : [],
      ),
    );
    expect(beside.length).toBeGreaterThan(0);
    const { events } = performanceOf(made, playingOrder(made), 100);
    for (const { note, index } of beside) {
      const [grace] = note.graces!;
      const midi = noteAt(made.setup, grace!.string, grace!.fret);
      expect(events.some(event => event.string === grace!.string && event.midi === midi)).toBe(true);
      const words = describeMeasure(made, index).map(moment => moment.pluck);
      expect(words.join(' ')).toContain(
        `quick pluck before it of ${grace!.fret ? `fret ${grace!.fret}` : 'the open string'} on string ${grace!.string}`,
      );
      expect(explainNote(made, note.id)).toContain('grace notes lie on another string');
    }
    const placesOf = (a: typeof made) =>
      a.measures.map(m => m.notes.map(n => [n.string, n.fret, spotsOf(n), n.graceBy]));
    expect(faultOf('arrangements', made)).toBeUndefined();
    const back = readMusicXml(writeMusicXml(made), { tuneId: 't', id: 'b' });
    if (back.error) throw new Error(back.error.message);
    expect(
      placesOf(back.arrangement!)
        .flat()
        .filter(([, , spots]) => (spots as unknown[]).length),
    ).toEqual(
      placesOf(made)
        .flat()
        .filter(([, , spots]) => (spots as unknown[]).length),
    );
  });
  it('are written in a dictation and in a tab with the number of their string', () => {
    const piece = handmade({
      setup: guitar,
      notes: [
        {
          quarters: 4,
          string: 1,
          fret: 0,
          graceBy: 'pick',
          graces: [{ id: 'g9', string: 2, fret: 3 }],
        },
      ],
    });
    const { text } = writeTab(piece);
    expect(text).toContain('{2:3}0');
    expect(readTab(text).measures[0]!.notes[0]!.graces).toEqual([{ string: 2, fret: 3 }]);
    const said = readDictation('s1 {2:3}0 {9:3}2');
    expect(said.measures[0]!.notes[0]!.graces).toEqual([{ string: 2, fret: 3 }]);
    expect(said.questions[0]!.message).toContain('there is no string 9');
  });
  it('are not put where another note sounds', () => {
    const piece = handmade({
      setup: guitar,
      notes: [
        { quarters: 4, string: 2, fret: 1 },
        { quarters: 4, start: 0, string: 1, fret: 0 },
      ],
    });
    const graces = (string: number) =>
      applyEdit(startHistory(piece), {
        kind: 'graces',
        ids: ['n2'],
        values: { frets: [{ string, fret: 3 }] },
      });
    expect(graces(2)).toEqual({ error: 'another note sounds on string 2 there' });
    expect(graces(7)).toEqual({ error: 'there is no string 7' });
    expect(graces(3)).toMatchObject({ present: { measures: [{ notes: [{}, { graceBy: 'pick' }] }] } });
  });
});
