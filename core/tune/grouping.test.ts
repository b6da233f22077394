/** Irregular meters and how their beats go together: common practice of the dances that have them, of no one source. */
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc, writeGroups } from '../formats/abc';
import { faultOf } from '../records';
import { noteMidi, sourceChanges } from '../score';
import { isCompound, meterName, parseMeter, sameMeter, strongBeats, TICKS_PER_QUARTER } from '../time';
import { groupingsOf, type Tune } from './index';

const tuneOf = (meter: string, body: string, tempo = 200) =>
  readAbc(`X:1\nT:Dance\nM:${meter}\nL:1/8\nQ:1/8=${tempo}\nK:D\n${body}\n`)[0]!.tune;
const heard = (meter: string, body: string) => meterName(tuneOf(meter, body).meter);

describe('the groups of an irregular meter', () => {
  it('are heard from where notes begin and how long they are', () => {
    expect(heard('5/8', 'd3 f2|e3 d2|')).toBe('5/8 (3+2)');
    expect(heard('5/8', 'd2 f3|ed c3|')).toBe('5/8 (2+3)');
    expect(heard('7/8', 'A2 d3 f2|g2 f3 e2|')).toBe('7/8 (2+3+2)');
    expect(heard('7/8', 'A3 d2 f2|g2f e2 d2|')).toBe('7/8 (3+2+2)');
    expect(heard('5/4', 'd4 f6|e4 d6|')).toBe('5/4 (2+3)');
    expect(heard('8/8', 'd3 e3 f2|d3 e3 d2|')).toBe('8/8 (3+3+2)');
  });
  it('are seen from beams where all notes are alike', () => {
    expect(heard('7/8', 'de de fga|ef ef gab|')).toBe('7/8 (2+2+3)');
    expect(heard('7/8', 'def de fg|gfe fe ed|')).toBe('7/8 (3+2+2)');
  });
  it('are left open where nothing tells, and in meters that go evenly', () => {
    expect(heard('7/8', 'dedefga|efefgab|')).toBe('7/8');
    expect(heard('7/8', 'd7|e7|')).toBe('7/8');
    expect(heard('6/8', 'd2 d2 d2|e2 e2 e2|')).toBe('6/8');
    expect(heard('4/4', 'd3 e3 f2|d3 e3 f2|')).toBe('4/4');
  });
  it('are what the meter says, whatever the notes do', () => {
    expect(heard('2+2+3/8', 'd3 d2 d2|')).toBe('7/8 (2+2+3)');
    expect(heard('(3+2+2)/8', 'd2 d2 d3|')).toBe('7/8 (3+2+2)');
    // Nine in twos and a three does not beat in threes.
    const nine = tuneOf('2+2+2+3/8', 'd2 d2 d2 d3|').meter;
    expect(isCompound(nine)).toBe(false);
    expect(strongBeats(nine).map(tick => (tick / TICKS_PER_QUARTER) * 2)).toEqual([0, 2, 4, 6]);
    expect(sameMeter(nine, { beats: 9, unit: 8 })).toBe(false);
    expect(heard('3+3/8', 'd3 d3|')).toBe('6/8');
  });
  it('are said by hand in the tune and its text, which is read again so; other meters and its music stay', () => {
    const tune = tuneOf('7/8', 'dedefga|[M:4/4]d4e4|[M: 7/8]efefgab|');
    expect(groupingsOf(tune.meter)).toContainEqual([3, 2, 2]);
    const said = writeGroups(tune, [3, 2, 2]);
    const meters = ({ measures }: Tune) => measures.map(({ meter }) => meterName(meter));
    expect(meters(said)).toEqual(['7/8 (3+2+2)', '4/4', '7/8 (3+2+2)']);
    const [again] = readAbc(said.abc!);
    expect(again!.problems).toEqual([]);
    expect(meters(again!.tune)).toEqual(meters(said));
    expect(again!.tune.measures.map(({ events }) => events.length)).toEqual(
      tune.measures.map(({ events }) => events.length),
    );
    // What was arranged before is told of it.
    const { arrangement } = arrange(tune, { id: 'x', instrument: 'guitar', style: 'melody', capo: 0 });
    expect(sourceChanges(arrangement!, tune)).toBeUndefined();
    expect(sourceChanges(arrangement!, said)!.changed).toHaveLength(2);
    // It can be said otherwise; and of a meter that goes evenly there is nothing to say.
    expect(meterName(writeGroups(said, [2, 2, 3]).meter)).toBe('7/8 (2+2+3)');
    expect(groupingsOf(said.meter)).toHaveLength(3);
    expect(groupingsOf({ beats: 6, unit: 8 })).toEqual([]);
    expect(groupingsOf({ beats: 7, unit: 8, groups: [4, 3] })[0]).toEqual([4, 3]);
    expect(() => writeGroups(tune, [2, 2, 2])).toThrow('2 + 2 + 2 are not the 7 beats');
  });
  it('are read as people write them; groups that do not add up are no meter, and no record', () => {
    for (const text of ['7/8 (2+2+3)', '2+2+3/8', '(2+2+3)/8', '7/8(2+2+3)'])
      expect(parseMeter(text)).toEqual({ beats: 7, unit: 8, groups: [2, 2, 3] });
    for (const text of ['7/8 (2+2+2)', '7/8 (2+0+5)', '2+2+3/8 (3+2+2)', '2+/8', '7/8 ()'])
      expect(parseMeter(text), text).toBeUndefined();
    const tune = tuneOf('7/8', 'd2 d2 d3|');
    expect(faultOf('tunes', tune)).toBeUndefined();
    expect(faultOf('tunes', { ...tune, meter: { beats: 7, unit: 8, groups: [2, 2, 2] } })).toContain('2+2+2');
  });
  it('carry the bass of a dance, all of them or, where they follow too fast for a thumb, the first and the longest', () => {
    const basses = (meter: string, body: string, tempo: number) => {
      const tune = tuneOf(meter, body, tempo);
      const { arrangement } = arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
      return arrangement!.measures[0]!.notes.filter(note => note.role === 'bass').map(
        ({ start }) => (start / TICKS_PER_QUARTER) * 2,
      );
    };
    const TWO_TWO_THREE = '"D"de fg agf|"A"ef ed cBA|"D"de fg agf|"D"d2 f2 d3|';
    expect(basses('7/8', TWO_TWO_THREE, 220)).toEqual([0, 2, 4]);
    expect(basses('7/8', TWO_TWO_THREE, 420)).toEqual([0, 4]);
    expect(basses('7/8', '"D"A2 d3 f2|"A"g2 e3 c2|"D"A2 d3 f2|"D"d2 d5|', 200)).toEqual([0, 2, 5]);
    const { arrangement } = arrange(tuneOf('7/8', TWO_TWO_THREE), {
      id: 'x',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
    });
    // Root, fifth, root under D.
    const [first] = arrangement!.measures;
    const pitches = first!.notes
      .filter(({ role }) => role === 'bass')
      .map(n => noteMidi(arrangement!.setup, n) % 12);
    expect(pitches).toEqual([2, 9, 2]);
    // Where nothing tells it is three and the rest.
    expect(basses('7/8', '"D"dedefga|"A"efefgab|"D"dedefga|"D"d7|', 200)).toEqual([0, 3]);
  });
});
