/** "N.C.": where no chord is played nothing accompanies, on every way in and out. */
import { describe, expect, it } from 'vitest';
import { applyEdit, startHistory } from '../edit';
import { readAbc, readMusicXml, readSong, readTab, writeMusicXml, writeTab } from '../formats';
import type { InstrumentId } from '../instrument';
import type { Arrangement, ArrangeSettings, Style } from '../score';
import { trackOf } from '../track';
import { chordSpans, transposeTune } from '../tune';
import { arrange, TEXTURES, textureIn } from './';

const ABC = `X:1
T:Lantern on the Step
M:4/4
L:1/4
Q:1/4=90
K:G
"G"GABc|"N.C."dcBA|"C"cdec|"G"G4|]
`;
const tune = readAbc(ABC)[0]!.tune;
const WAYS: [InstrumentId, Style, Partial<ArrangeSettings>][] = [
  ['guitar', 'fingerstyle', {}],
  ...TEXTURES.map(name => textureIn(name, tune.meter))
    .filter(texture => texture !== undefined)
    .map((texture): [InstrumentId, Style, Partial<ArrangeSettings>] => ['guitar', 'fingerstyle', texture]),
  ['guitar', 'fingerstyle', { level: 4, rootRuns: true, ornaments: 'many' }],
  ['guitar', 'chord-melody', { density: 'every', passing: true }],
  ['guitar', 'pattern', {}],
  ['mandolin', 'chord-melody', { drones: true, tremolo: true, doubling: 'sixths' }],
];
const made = (way = WAYS[0]!) =>
  arrange(tune, { id: 'x', instrument: way[0], style: way[1], capo: 0, settings: way[2] }).arrangement!;
const names = (measures: readonly { chords: readonly { sounding: string }[] }[]) =>
  measures.map(measure => measure.chords.map(chord => chord.sounding).join());

describe('a tune in which no chord is played for a measure', () => {
  it('keeps it, in any key; the chord before ends there', () => {
    expect(tune.measures[1]!.chords.map(chord => chord.symbol)).toEqual(['N.C.']);
    expect(chordSpans(tune).map(({ symbol, ticks }) => [symbol, ticks / 40320])).toEqual([
      ['G', 1],
      ['C', 1],
      ['G', 1],
    ]);
    expect(transposeTune(tune, 2).measures[1]!.chords[0]!.symbol).toBe('N.C.');
  });
  it.each(WAYS)('on %s, %s: the melody alone is struck, and nothing rings over', (...way) => {
    const arrangement = made(way);
    expect(names(arrangement.measures)).toEqual(['G', 'N.C.', 'C', 'G']);
    expect(arrangement.measures[1]!.notes.every(note => note.role === 'melody')).toBe(true);
    const under = arrangement.measures[0]!.notes.filter(note => note.role !== 'melody');
    expect(under.length).toBeGreaterThan(0);
    const { notes } = trackOf(arrangement);
    // A quarter is 10,080 ticks: the first measure ends at 40,320.
    const lasting = notes.filter(
      ({ note, at, ringEnd }) => note.role !== 'melody' && at < 40320 && ringEnd > 40320,
    );
    expect(lasting).toEqual([]);
  });
});

describe('is written and read again', () => {
  it('in MusicXML', () => {
    const read = readMusicXml(writeMusicXml(made()), { tuneId: 't', id: 'y' });
    if (read.error) throw new Error(read.error.message);
    expect(names(read.arrangement!.measures)).toEqual(['G', 'N.C.', 'C', 'G']);
  });
  it('in text tab, also over a rest', () => {
    const text = writeTab(made()).text;
    expect(text).toContain('N.C.');
    const read = readTab(text).measures.map(({ chords = [] }) => chords.map(({ name }) => name).join());
    expect(read).toEqual(['G', 'N.C.', 'C', 'G']);
  });
  it('in a song, in brackets at the head of a line', () => {
    const song = readSong('[G]Down by the [C]river\n[N.C.]and all is still\n[NC]yes, [G]still');
    expect(song.tune!.measures.map(({ chords }) => chords.map(chord => chord.symbol).join())).toEqual([
      'G',
      'C',
      'N.C.',
      'N.C.',
      'G',
    ]);
  });
});

describe('by hand', () => {
  const named = (before: Arrangement, index: number, start: number, name: string) => {
    const edited = applyEdit(startHistory(before), {
      kind: 'chord',
      ids: [before.measures[index]!.id],
      values: { start, name },
    });
    if ('error' in edited) throw new Error(edited.error);
    return edited.present;
  };
  const anew = (present: Arrangement) =>
    arrange(tune, { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 0, keep: { present } })
      .arrangement!;
  it('is taken however it is typed, and stays when the notes are made anew', () => {
    const now = named(made(), 2, 20160, 'nc');
    expect(names(now.measures)).toEqual(['G', 'N.C.', 'C,N.C.', 'G']);
    expect(names(anew(now).measures)).toEqual(['G', 'N.C.', 'C,N.C.', 'G']);
  });
  it('is taken out, and stays so when the notes are made anew', () => {
    const now = named(made(), 1, 0, '');
    expect(names(now.measures)).toEqual(['G', '', 'C', 'G']);
    expect(names(anew(now).measures)).toEqual(['G', '', 'C', 'G']);
  });
});
