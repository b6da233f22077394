import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, startHistory, undo } from '../edit';
import { readAbc } from '../formats/abc';
import {
  type Arrangement,
  type Into,
  type Pluck,
  type PluckSchool,
  type ScoreNote,
  usualSettings,
} from '../score';
import { done } from '../testing/edits';
import { checkArrangement, placeName, remediesFor } from './index';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cdef|"G"gfed|]\n')[0]!;
const base = arrange(tune, { id: 'c', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
const note = (
  id: string,
  string: number,
  fret: number,
  finger: number | undefined,
  start = 0,
  ticks = 10080,
): ScoreNote => ({
  id,
  role: 'inner',
  start,
  ticks,
  string,
  fret,
  ...(finger && { finger: finger as 1 }),
});
/** The first measure with other notes. */
const withNotes = (notes: ScoreNote[]): Arrangement => ({
  ...base,
  measures: [{ ...base.measures[0]!, notes }, ...base.measures.slice(1)],
});
const messages = (notes: ScoreNote[]) =>
  checkArrangement(withNotes(notes)).map(f => `${f.kind}: ${f.message}`);

/** A note that is sounded out of note "a". */
const into = (kind: Into, note: ScoreNote): ScoreNote => ({ ...note, techniques: [{ kind, from: 'a' }] });

describe('findings', () => {
  it('none in what the arranger made', () => expect(checkArrangement(base, tune)).toEqual([]));
  it('a finger at two frets, fingers that cross, a reach too wide', () => {
    expect(messages([note('a', 1, 3, 2), note('b', 3, 5, 2)])).toEqual([
      "reach: finger 2 can't be at two frets at once",
    ]);
    expect(messages([note('a', 1, 5, 1), note('b', 3, 3, 2)])).toEqual(['reach: fingers 1 and 2 cross']);
    expect(messages([note('a', 1, 1, 1), note('b', 3, 9, 4)])[0]).toMatch(
      /fingers 1 and 4 reach \d+ mm; this hand reaches \d+ mm/,
    );
  });
  it('a barre over a string that must ring lower', () => {
    expect(messages([note('a', 1, 3, 1), note('b', 2, 0, undefined), note('c', 3, 3, 1)])[0]).toMatch(
      /finger 1 lies across string 2, B/,
    );
  });
  it('a string needed twice, one that does not exist, a fret that does not', () => {
    expect(messages([note('a', 2, 1, 1), note('b', 2, 3, 3)])).toContain(
      'string: string 2, B is needed twice at once',
    );
    expect(messages([note('a', 7, 1, 1)])).toEqual(['string: there is no string 7']);
    expect(messages([note('a', 1, 25, 1)])).toEqual(['fret: string 1, E has no fret 25']);
  });
  it('a note without a finger, or over the barline', () => {
    expect(messages([note('a', 1, 3, undefined)])).toEqual(['finger: string 1, E fret 3 has no finger']);
    expect(messages([note('a', 1, 0, undefined, 30240, 20160)])).toEqual([
      'length: a note sounds over the barline without a tie',
    ]);
  });
  it('a slur that leaves its string, with the ways out', () => {
    const slurred = withNotes([note('a', 2, 1, 1), into('hammer', note('b', 1, 3, 3, 10080))]);
    const [finding] = checkArrangement(slurred).filter(f => f.kind === 'slur');
    expect(finding!.message).toMatch(
      /^string 1, E fret 3 is to sound by a hammer-on, but the note that it comes from lies on another string: a slur stays on one string$/,
    );
    const labels = remediesFor(slurred, finding!).map(r => r.label);
    expect(labels.join()).toMatch(/Pluck G4 anew/);
    const history = done(applyEdit(startHistory(slurred), remediesFor(slurred, finding!)[0]!.edit));
    expect(checkArrangement(history.present).filter(f => f.kind === 'slur')).toEqual([]);
    expect(undo(history).present).toEqual(slurred);
  });
  it('a hammer-on downwards, a slide to an open string, a harmonic where there is none', () => {
    expect(messages([note('a', 1, 5, 3), into('hammer', note('b', 1, 3, 1, 10080))])[0]).toMatch(
      /a hammer-on goes to a higher fret/,
    );
    expect(messages([note('a', 1, 5, 3), into('slide', note('b', 1, 0, undefined, 10080))])[0]).toMatch(
      /an open string is no end of a slide/,
    );
    expect(messages([{ ...note('a', 1, 6, 1), techniques: [{ kind: 'harmonic' }] }])).toEqual([
      'fret: over fret 6 string 1, E has no natural harmonic',
    ]);
  });
  it('a grace note that no finger reaches, or whose string sounds, with the ways out', () => {
    const graced = (own: ScoreNote, fret: number, string = own.string): ScoreNote => ({
      ...own,
      graces: [{ id: 'g', string, fret }],
      ...(string !== own.string && { graceBy: 'pick' as const }),
    });
    const bass = note('b', 6, 1, 1);
    expect(messages([graced(note('a', 2, 3, 4), 1), bass])).toEqual([]);
    const far = [graced(note('a', 2, 3, 4), 12), bass];
    expect(messages(far)).toEqual(['grace: no finger is free for its grace note on string 2, B fret 12']);
    expect(messages([graced(note('a', 2, 3, 4), 1, 6), bass])).toEqual([
      'grace: its grace note needs string 6, E, which sounds already',
    ]);
    const [finding] = checkArrangement(withNotes(far));
    const ways = remediesFor(withNotes(far), finding!);
    expect(ways.map(way => way.label)).toContain('Play D4 without its grace note');
    for (const { edit } of ways) {
      const mended = done(applyEdit(startHistory(withNotes(far)), edit)).present;
      expect(checkArrangement(mended).filter(f => f.kind === 'grace')).toEqual([]);
    }
  });
  it('a measure too long or too short, but not a pickup, a divided measure or an end that the pickup fills', () => {
    const lengths = (body: string) => {
      const { tune: own } = readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nK:C\n${body}\n`)[0]!;
      const made = arrange(own, { id: 'c', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
      return checkArrangement(made, own)
        .filter(f => f.kind === 'length')
        .map(f => `${f.measure}: ${f.message}`);
    };
    expect(lengths('cdef|cde|cdef|]')).toEqual(['m2: it is shorter than 4/4: 3 of 4 beats']);
    expect(lengths('cdef|cdefg|cdef|]')).toEqual(['m2: it is longer than 4/4: 5 of 4 beats']);
    expect(lengths('c|cdef|cde|]')).toEqual([]);
    expect(lengths('c|cdef|cde:|c|defg|cde|]')).toEqual([]);
    expect(lengths('cdef|c2:|d2|cdef|]')).toEqual([]);
    expect(lengths('c|cdef|cd|]')).toEqual(['m3: it is shorter than 4/4: 2 of 4 beats']);
  });
  it('fingers that cross, a pick that leaps, and haste at this tempo', () => {
    const plucked = (notes: ScoreNote[], quartersPerMinute = 100, school: PluckSchool = 'by-string') =>
      checkArrangement({
        ...withNotes(notes),
        quartersPerMinute,
        settings: { ...usualSettings('guitar'), school },
      })
        .filter(f => f.kind === 'pluck')
        .map(f => `${f.severity}: ${f.message}`);
    const by = (pluck: Pluck, string: number, start = 0): ScoreNote => ({
      ...note(`${string}.${start}`, string, 0, undefined, start, 1260),
      pluck,
    });
    expect(plucked([by('p', 2), by('i', 4)])).toEqual([
      'warning: the thumb on a thinner string than the index: they cross',
    ]);
    expect(plucked([by('down', 1), by('down', 5)], 100, 'pick')).toEqual([
      "warning: one stroke of a pick can't take string 5, A and string 1, E without what lies between",
    ]);
    const twice = [by('i', 2), by('i', 2, 2520)];
    expect(plucked(twice, 150)).toEqual([
      'advice: the index plucks twice running, 0.10 s apart: too fast at this tempo',
    ]);
    expect(plucked(twice, 60)).toEqual([]);
  });
  it('a melody note that is missing, changed or added', () => {
    const lost = {
      ...base,
      measures: base.measures.map((m, i) => (i ? m : { ...m, notes: m.notes.slice(1) })),
    };
    expect(checkArrangement(lost, tune)).toMatchObject([
      { kind: 'melody', measure: 'm1', start: 0, message: expect.stringContaining('C4 is missing') },
    ]);
    const changed = {
      ...base,
      measures: base.measures.map((m, i) =>
        i ? m : { ...m, notes: m.notes.map((n, j) => (j ? n : { ...n, fret: n.fret + 1 })) },
      ),
    };
    expect(checkArrangement(changed, tune)[0]!.message).toMatch(/the melody has C4 here, C♯4 is played/);
  });
  it('names places as they are counted', () => {
    expect(placeName(base, 1, 10080)).toBe('Measure 2, beat 2');
    expect(placeName(base, 0, 5040)).toBe('Measure 1, on "&"');
  });
});
