/** Sheets as people type them: dashes more or less before a bar, bars and rows drawn otherwise, rules and numbers between. */
import { describe, expect, it } from 'vitest';
import { beats, six } from '../../testing/tabs';
import { TICKS_PER_QUARTER } from '../../time';
import { pieceOf } from '../piece';
import { writtenOn } from '../text';
import { readTab } from './index';

/** Where in beats something is struck, measure by measure. */
const struck = (text: string) =>
  readTab(text).measures.map(({ notes }) => [...new Set(notes.map(note => note.start / TICKS_PER_QUARTER))]);
const said = (text: string) => readTab(text).guesses.map(({ message }) => message);
const QUARTERS = [0, 1, 2, 3];
const EIGHTHS = [0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5];

describe('rhythm of sheets that are not counted out', () => {
  it('dashes before the bar are no rest where numbers stand evenly', () => {
    expect(struck(six('-0-2-3-5----|-7-5-3-2----|'))).toEqual([QUARTERS, QUARTERS]);
    expect(struck(six('-0-2-3-5-7-5-3-2--|-3---2---0---2-|'))).toEqual([EIGHTHS, QUARTERS]);
    expect(struck(six('-0-2-3---5-----|'))).toEqual([[0, 0.5, 1, 2]]);
    expect(said(six('-0-2-3-5----|-7-5-3-2----|')).join()).not.toMatch(/uneven/);
  });
  it('a measure that is cut short is spaced as the others are', () => {
    // A common strum: down, down, up, down, up.
    expect(struck(six('-3---3-3---3-3-|-0---0-0---|-3---3-3---3-|'))).toEqual([
      [0, 1, 1.5, 2.5, 3],
      [0, 1, 1.5],
      [0, 1, 1.5, 2.5],
    ]);
  });
  it('rows without a bar are divided by their count, or by the meter', () => {
    const row = '-0-2-3-5-7-5-3-2-3-2-0-2-3-5-7-5-0-------';
    expect(struck(six(row))).toEqual([EIGHTHS, EIGHTHS, [0]]);
    expect(said(six(row))).toContain('no bars are drawn: 3 measures are taken');
    const waltz = `   1  2  3  1  2  3\n${six('-0--2--3--5--3--2---')}`;
    expect(struck(waltz)).toEqual([
      [0, 1, 2],
      [0, 1, 2],
    ]);
    // Eight places and less are one measure.
    expect(struck(six('-0-2-3-5-7-5-3---'))).toHaveLength(1);
  });
  it('a first measure that is narrow, a note at a time, is a pickup', () => {
    const pickup = (text: string) => (readTab(text).pickup ?? 0) / TICKS_PER_QUARTER;
    expect(pickup(six('-0-2-|-3---3---2---0-|-3---3---2---0-|'))).toBe(1);
    expect(pickup(six('-0-|-3-3-2-0-|-7-5-3-2-|'))).toBe(1);
    expect(said(six('-0-|-3-3-2-0-|-7-5-3-2-|')).join()).toContain('it is taken for a pickup (quarter)');
    // A chord that begins on the first beat is none, nor is what is as wide as the others.
    expect(pickup(six('-0-|-3-3-2-0-|-7-5-3-2-|').replace(/E\|---/, 'E|-3-'))).toBe(0);
    expect(pickup(six('-0-------|-3-3-2-0-|-7-5-3-2-|'))).toBe(0);
  });
  it('written over a whole measure, a pickup stands at its end', () => {
    const piece = pieceOf(readTab(six('-3-3-2-0-|-7-5-3-2-|-3-3-2-0-|')), { tuneId: 't', id: 'a' });
    if (piece.error !== undefined) throw new Error(piece.error);
    const own = piece.arrangement;
    const { arrangement } = writtenOn(own, own.measures[1]!.id, ` G\n${six('-0-|-1-1-1-1-|-3-3-3-3-|')}`);
    const written = arrangement!.measures[1]!;
    expect(written).toMatchObject({
      ticks: own.measures[1]!.ticks,
      chords: [{ start: 3 * TICKS_PER_QUARTER }],
    });
    expect(beats([written])).toEqual([['3:1/0']]);
    expect(beats(arrangement!.measures.slice(2, 3))).toEqual([['0:1/1', '1:1/1', '2:1/1', '3:1/1']]);
  });
  it('two numbers a measure are halves; a count from the bar on is moved to the first number', () => {
    expect(struck(six('-0--0-|-3--3-|'))).toEqual([
      [0, 2],
      [0, 2],
    ]);
    expect(struck(`${six('-0-1-3-1-0-1-3-1-|')}\n  1e&a2e&a3e&a4e&a`)).toEqual([EIGHTHS]);
    // What begins off the beat under a count that has its places stays there.
    expect(struck(`${six('---0---1---3---1-|')}\n   1 & 2 & 3 & 4 &`)).toEqual([[0.5, 1.5, 2.5, 3.5]]);
  });
  it('three places of a width are 3/4 where a dash is missing at the end, too', () => {
    expect(readTab(six('--0---2---3--|--5---3---2--|')).heading.meter).toEqual({ beats: 3, unit: 4 });
  });
});

describe('rows and bars that are drawn otherwise', () => {
  const plain = six('-0---2---3---5---|-7---5---3---2---|');
  const same = (text: string) => {
    const reading = readTab(text);
    expect(beats(reading.measures)).toEqual(beats(readTab(plain).measures));
    expect(reading.leftOut).toEqual([]);
    expect(reading.heading.instrument).toBe('guitar');
  };
  it('with spaces, dots or lines below; with a colon or a bracket for a bar', () => {
    for (const sign of [' ', '.', '_']) same(plain.replaceAll('-', sign));
    same(plain.replace(/^(.)\|/gm, '$1:'));
    same(plain.replace(/^(.)\|/gm, '$1 [').replace(/\|$/gm, ']'));
    expect(readTab(plain.replace(/^(.)\|/gm, '$1:')).measures[0]!.repeat).toBeUndefined();
  });
  it('by the numbers of strings before spaces; with words behind the last bar', () => {
    same(
      plain
        .replace(/^.\|/gm, () => '')
        .split('\n')
        .map((row, i) => `${i + 1} ${row}`)
        .join('\n'),
    );
    const marked = readTab(plain.replace(/\n/, '  <- mind the thumb-stroke\n'));
    expect(beats(marked.measures)).toEqual(beats(readTab(plain).measures));
    expect(marked.leftOut.map(({ message }) => message)).toEqual(['“<- mind the thumb-stroke”']);
  });
  it('a ruled line is no string', () => {
    same(`-----------------------\n${plain}\n-----------------------`);
    expect(readTab(`The Old Well\n--------\n${plain}`).heading.title).toBe('The Old Well');
    // Rows that have neither name nor bar are dashes alone where nothing is played on them.
    expect(readTab(plain.replace(/^.\||\|$/gm, '').replaceAll('|', '-')).heading.instrument).toBe('guitar');
  });
  it('numbers of measures are no count', () => {
    const second = `${plain}\n3                4\n${plain}`;
    same(`  1                2\n${plain}`);
    same(`  |1               |2\n${plain}`);
    expect(readTab(`1                2\n${second}`)).toMatchObject({ leftOut: [], heading: {} });
    expect(readTab(`1                2\n${second}`).measures).toHaveLength(4);
    expect(readTab(`  17\n${plain}`).leftOut).toHaveLength(1);
  });
});

describe('what stands over rows', () => {
  it('who made it, its title by that name, and tunings in other words', () => {
    const heading = (head: string) =>
      readTab(`${head}\n\n${six('0---1---3---1---|').replace(/^.\|/gm, '|')}`).heading;
    expect(heading('Song: The Old Well\nby A. Made-Up\nBPM: 80')).toMatchObject({
      title: 'The Old Well',
      composer: 'A. Made-Up',
      quartersPerMinute: 80,
    });
    expect(heading('The Old Well\nTrad.')).toMatchObject({ title: 'The Old Well', composer: 'Trad.' });
    expect(heading('Standard tuning (EADGBe), no capo')).toMatchObject({
      capo: 0,
      tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2'],
    });
    expect(heading('D A D G A D tuning, capo 2')).toMatchObject({
      capo: 2,
      tuning: ['D4', 'A3', 'G3', 'D3', 'A2', 'D2'],
    });
    expect(heading('Tuning: half step down').tuning).toEqual(['Eb4', 'Bb3', 'Gb3', 'Db3', 'Ab2', 'Eb2']);
    expect(heading('Dropped D').tuning?.at(-1)).toBe('D2');
    expect(
      readTab(`GDAE\n\nE|-0-2-3-5-|\nA|---------|\nD|---------|\nG|---------|`).heading.title,
    ).toBeUndefined();
    expect(heading('CABBAGE').title).toBe('CABBAGE');
    expect(heading('Tuning: 1=E 2=B 3=G 4=D 5=A 6=D').tuning?.at(-1)).toBe('D2');
    expect(heading('Guitar tab:\nThe Old Well').title).toBe('The Old Well');
  });
  it('words under chords are sung to the rows below', () => {
    const { measures, heading, leftOut } = readTab(
      `[Verse]\n  Am              G\n  As I went out\n${six('-0---1---3---1---|-3---1---0---1---|')}`,
    );
    expect(measures[0]!.words?.flatMap(({ verses }) => verses).join(' ')).toBe('As I went out');
    expect([heading.title, leftOut]).toEqual([undefined, []]);
  });
  it('strokes by letters are not sung', () => {
    const { measures, leftOut } = readTab(`${six('-0---1---3---1---|')}\n   V   V   V   V`);
    expect([measures[0]!.words, leftOut.length]).toEqual([undefined, 1]);
  });
  it('a chord that was moved to the right begins with the measure whose bass it is', () => {
    const rows = (bass: string) =>
      six('-0---3---0---3---|-0---3---0---3---|').replace(
        /^E\|.*$/m,
        own => `${own.slice(0, 21)}${bass}${own.slice(22)}`,
      );
    const chords = (column: number, bass: string) =>
      readTab(`${'   C'.padEnd(column)}Em\n${rows(bass)}`).measures[1]!.chords?.map(
        ({ start }) => start / TICKS_PER_QUARTER,
      );
    expect(chords(21, '0')).toEqual([0]);
    expect(chords(24, '0')).toEqual([0]);
    // Where the bass is not its own, it stands over what it stands over.
    expect(chords(25, '3')).toEqual([1]);
  });
});

describe('a text for several players', () => {
  const first = six('-0---1---3---1---|');
  const second = six('-3---3---3---3---|');
  const duet = `Evening Duet

Verse
Guitar 1 (capo 2)
${first}

Gtr. 2:
${second}

Chorus
Guitar 1
${first}

Gtr. 2:
${second}
`;
  const frets = (reading: ReturnType<typeof readTab>) =>
    reading.measures.map(({ section, notes }) => [section, ...notes.map(({ fret }) => fret)]);
  it('is what one of them plays, with the sections and the capo that are theirs; who else plays is told', () => {
    const one = readTab(duet);
    expect(one.players).toEqual({ names: ['Guitar 1', 'Gtr. 2'], read: 0 });
    expect(frets(one)).toEqual([
      ['Verse', 0, 1, 3, 1],
      ['Chorus', 0, 1, 3, 1],
    ]);
    expect([one.heading.capo, one.heading.title]).toEqual([2, 'Evening Duet']);
    expect(one.guesses.map(({ message }) => message)).toContain(
      '“Gtr. 2” plays beside “Guitar 1”, which is read here by itself',
    );
    const other = readTab(duet, { player: 1 });
    expect(other.players?.read).toBe(1);
    expect(frets(other)).toEqual([
      ['Verse', 3, 3, 3, 3],
      ['Chorus', 3, 3, 3, 3],
    ]);
    expect(other.heading.capo).toBeUndefined();
    expect([one, other].flatMap(({ questions, leftOut }) => [...questions, ...leftOut])).toEqual([]);
  });
  it('is told of one alone what stands in brackets', () => {
    const { players, heading, measures } = readTab(`Guitar (capo 2)\n${first}`);
    expect([players, heading.capo, measures[0]!.section]).toEqual([undefined, 2, 'Guitar']);
    const twice = readTab(`Guitar (capo 2) x2\n${first}`);
    expect([twice.heading.capo, twice.measures[0]!.repeat]).toEqual([2, { start: true, end: true }]);
  });
  it('may have each on another instrument', () => {
    const four = ['E', 'A', 'D', 'G']
      .map((name, i) => `${name}|${i ? '---------' : '-0---1---'}|`)
      .join('\n');
    const text = `Mandolin\n${four}\n\nGuitar\n${first}`;
    expect([0, 1].map(player => readTab(text, { player }).heading.instrument)).toEqual([
      'mandolin',
      'guitar',
    ]);
  });
  it('the chords over the rows of one are those of the other below, unless bars or capo are others', () => {
    const names = '  Am      C';
    const chords = (text: string) =>
      [0, 1].map(player =>
        readTab(text, { player }).measures.map(({ chords: own = [] }) =>
          own.map(({ name }) => name).join(' '),
        ),
      );
    const text = (one: string, other: string, rows = second) =>
      `${one}\n${names}\n${first}\n\n${other}\n${rows}\n\n${one}\n  G\n${first}\n\n${other}\n${rows}\n`;
    expect(chords(text('Guitar 1', 'Guitar 2'))).toEqual([
      ['Am C', 'G'],
      ['Am C', 'G'],
    ]);
    const wide = six('-3-------3-------3-------3-------|');
    expect(chords(text('Guitar 1', 'Guitar 2', wide))[1]).toEqual(['', '']);
    expect(chords(text('Guitar 1', 'Guitar 2 (capo 3)'))[1]).toEqual(['', '']);
    // Those of one's own hold.
    const own = `Guitar 1\n${names}\n${first}\n\nGuitar 2\n  Em\n${second}\n`;
    expect(chords(own)).toEqual([['Am C'], ['Em']]);
  });
  it('a solo, and parts of one piece, are no other players', () => {
    for (const names of [
      ['Guitar 1', 'Guitar solo'],
      ['Part 1', 'Part 2'],
      ['Guitar 1', 'Gtr.1'],
    ]) {
      const reading = readTab(names.map(name => `${name}\n${first}`).join('\n\n'));
      expect(reading.players, names.join()).toBeUndefined();
      expect(reading.measures, names.join()).toHaveLength(2);
    }
  });
});
