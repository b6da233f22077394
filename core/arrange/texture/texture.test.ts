import { describe, expect, it } from 'vitest';
import { chordClasses, classOfDegree, degreeOf, parseChord } from '../../chord';
import { readAbc } from '../../formats';
import { noteAt } from '../../instrument';
import { mod12, pitchClassOf } from '../../pitch';
import {
  type ArrangeSettings,
  explainNote,
  ledgerTexts,
  noteMidi,
  type ScoreNote,
  scoreChordAt,
  soundingAt,
} from '../../score';
import { committeeTunes } from '../../testing/committee';
import { faultsOf } from '../../testing/findings';
import { PSALM } from '../../testing/psalm';
import { oneIn } from '../../testing/setup';
import { measureTicks, strongBeats, TICKS_PER_QUARTER } from '../../time';
import { arrange, patternFault, patternSuiting } from '../index';
import { isHymn, TEXTURES, textureIn, textureNamed, textureOf } from './texture';

const tune = (head: string, body = 'G4|c4|]') => readAbc(`X:1\nT:T\n${head}\nL:1/4\nK:G\n${body}\n`)[0]!.tune;

/** What players do with kinds of tunes: common practice, no source. */
describe('the texture of a tune where nobody asks for one', () => {
  it.each([
    ['R:waltz\nM:3/4\nQ:1/4=132', 'waltz'],
    ['R:mazurka\nM:3/4\nQ:1/4=120', 'waltz'],
    ['R:air\nM:3/4\nQ:1/4=70', 'rolling'],
    ['R:air\nM:4/4\nQ:1/4=66', 'rolling'],
    ['R:air\nM:6/8\nQ:3/8=50', 'rolling'],
    ['M:4/4\nQ:1/4=60', 'rolling'],
    ['R:march\nM:4/4\nQ:1/4=100', 'march'],
    ['R:hymn\nM:3/4\nQ:1/4=84', 'hymn'],
    ['R:habanera\nM:2/4\nQ:1/4=56', 'habanera'],
    ['R:milonga\nM:4/4\nQ:1/4=112', 'habanera'],
    // By the names of other countries.
    ['R:Marsch\nM:4/4\nQ:1/4=100', 'march'],
    ['R:marcia\nM:2/4\nQ:1/4=100', 'march'],
    ['R:Kirchenlied\nM:4/4\nQ:1/4=84', 'hymn'],
    ['R:Noël\nM:4/4\nQ:1/4=84', 'rolling'],
    ['R:Wiegenlied\nM:3/4\nQ:1/4=84', 'rolling'],
    // In three there is none.
    ['R:tango\nM:3/4\nQ:1/4=100', 'waltz'],
    // Carols go as their chords do: some were danced to. A barcarolle is none.
    ['R:carol\nM:6/8\nQ:3/8=60', 'rolling'],
    ['R:carol\nM:3/4\nQ:1/4=88', 'rolling'],
    ['R:carol\nM:3/4\nQ:1/4=120', 'waltz'],
    ['R:barcarolle\nM:3/8\nQ:1/8=110', 'waltz'],
    ['R:berceuse\nM:2/4\nQ:1/4=80', 'rolling'],
    ['R:bossa nova\nM:4/4\nQ:1/4=128', 'dance'],
    ['R:cha-cha-cha\nM:4/4\nQ:1/4=116', 'dance'],
    ['R:samba\nM:2/4\nQ:1/4=92', 'alternating'],
    ['R:bolero\nM:4/4\nQ:1/4=66', 'rolling'],
    ['R:blues\nM:4/4\nQ:1/4=100', 'blues'],
    ['R:blues\nM:4/4\nQ:1/4=60', 'blues'],
    ['R:blues\nM:4/4\nQ:1/4=160', 'dance'],
    // Six, five and seven beats are threes and twos.
    ['M:6/4\nQ:1/4=120', 'waltz'],
    ['R:air\nM:6/4\nQ:1/4=72', 'rolling'],
    ['R:hymn\nM:6/4\nQ:1/4=96', 'hymn'],
    ['R:air\nM:5/4\nQ:1/4=66', 'rolling'],
    ['R:air\nM:7/4\nQ:1/4=66', 'rolling'],
    ['R:song\nM:4/4\nQ:1/4=110', 'alternating'],
    ['R:reel\nM:4/4\nQ:1/4=190', 'dance'],
    ['R:reel\nM:2/2\nQ:1/2=92', 'alternating'],
    // An air that is danced to at speed is no slow one.
    ['R:air\nM:4/4\nQ:1/4=150', 'dance'],
  ])('%j is %s', (head, name) => {
    const texture = textureOf(tune(head));
    expect(texture.name).toBe(name);
    expect(textureNamed(texture.settings, tune(head).meter)).toBe(name);
    const { pattern } = texture.settings;
    if (pattern) expect(patternFault(pattern, tune(head).meter, 6)).toBeUndefined();
  });
  it('moves in chords where they change with nearly every beat and nothing says that it is of another kind (common practice of hymns)', () => {
    const psalm = (chords: string, more = '') =>
      readAbc(`X:1\nT:Psalm\nM:4/4\nL:1/4\nQ:1/4=90\n${more}K:G\n${chords}`)[0]!.tune;
    const often = '"G"G"D"F"Em"E"Bm"D|"G"G"D"A"G"BB|"G"BB"D"A"Em"G|"C"c"G"B"D"A"G"G|]';
    expect(textureOf(psalm(often))).toMatchObject({
      name: 'hymn',
      why: expect.stringContaining('every beat'),
    });
    expect(textureOf(psalm('"G"GFED|"G"G"D"ABB|"G"BBAG|"C"cB"D"AG|]')).name).toBe('alternating');
    expect(textureOf(psalm(often, 'R:reel\n')).name).toBe('alternating');
    expect(textureOf(psalm(often, 'R:carol\n')).name).toBe('hymn');
    expect(textureOf({ ...psalm(often), quartersPerMinute: 160 }).name).not.toBe('hymn');
    const { arrangement } = arrange(psalm(often), {
      id: 'p',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
    });
    // Bass, two inner voices and the melody, on nearly every beat.
    const [, second] = arrangement!.measures;
    const voices = [0, 1, 2].map(beat => second!.notes.filter(n => n.start === beat * 10080).length);
    expect(Math.min(...voices)).toBeGreaterThanOrEqual(3);
  });
  it('so too where other voices make the chords, before they are written', () => {
    const { tune } = readAbc(PSALM)[0]!;
    expect(textureOf(tune).name).toBe('hymn');
    const made = arrange(tune, { id: 'p', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
    expect(made.arrangement!.settings).toMatchObject({ bass: 'pattern' });
  });
  it('as chord melody has a hymn’s chord on each strong beat, and strikes nothing between the beats', () => {
    // New Britain, its beginning, from memory; and a line of my own.
    const threes = tune('R:hymn\nM:3/4\nQ:1/4=84', '"G"D|"G"G2B/G/|B2A|"C"G2E|"G"D2D|G2B/G/|B2A|"D"d3|]');
    const fours = tune('R:hymn\nM:4/4\nQ:1/4=100', '"G"GABG|"D"AGFD|"G"GABc|"D"d3d|"C"ecBA|"G"G4|]');
    for (const own of [threes, fours]) {
      const request = { id: 'h', instrument: 'guitar', style: 'chord-melody', capo: 'auto' } as const;
      const made = arrange(own, request).arrangement!;
      expect(made.reasons).toContainEqual(expect.stringMatching(/^Like a hymn: a chord on each strong beat/));
      for (const { notes, offset } of made.measures.slice(0, -1)) {
        const own = notes.filter(note => note.role !== 'melody');
        expect(own.filter(({ start }) => (start + offset) % TICKS_PER_QUARTER)).toEqual([]);
      }
      const strong = made.measures
        .filter(({ ticks, meter }) => ticks === measureTicks(meter))
        .flatMap(({ notes, meter }) =>
          strongBeats(meter).map(beat => notes.filter(({ start }) => start === beat).length),
        );
      expect(strong.filter(n => n >= 3).length).toBeGreaterThan(0.8 * strong.length);
      // As somebody wants it otherwise.
      const changes = arrange(own, { ...request, settings: { density: 'changes' } }).arrangement!;
      expect(changes.reasons).not.toContainEqual(expect.stringMatching(/^Like a hymn/));
    }
  });
  it('rolls in three where the melody runs between the beats, unless it is called a waltz or is sung', () => {
    const runs = 'c/B/ c/G/ B/A/|G/z/ E/G/ A/c/|G2 z|]';
    expect(textureOf(tune('M:3/4\nQ:1/4=120', runs)).name).toBe('rolling');
    expect(textureOf(tune('M:3/4\nQ:1/4=120', 'c B/A/ G|A c B|G3|]')).name).toBe('waltz');
    for (const kind of ['waltz', 'Walzer', 'valse'])
      expect(textureOf(tune(`R:${kind}\nM:3/4\nQ:1/4=120`, runs)).name).toBe('waltz');
    expect(patternSuiting(tune('M:3/4\nQ:1/4=120', runs), 'by-string', 6)?.pattern).toBe('B (321) (321)');
    const { arrangement } = arrange(tune('M:3/4\nQ:1/4=120', runs), {
      id: 'r',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
    });
    expect(arrangement!.reasons).toContainEqual(expect.stringMatching(/runs between the beats/));
  });
  it('a roll does not forestall the melody: of two strings it takes the one that the melody does not strike next', () => {
    const rolled = (next: string) => {
      const own = tune('R:air\nM:4/4\nQ:1/4=60', `"G"B,${next}B,D|"G"G,4|]`);
      const made = arrange(own, { id: 'f', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
        .arrangement!;
      expect(made.octaveShift).toBe(0);
      const [between] = made.measures[0]!.notes.filter(
        n => n.role === 'inner' && n.start === TICKS_PER_QUARTER / 2,
      );
      return [between?.string, made.reasons.join(' ') + ledgerTexts(made).join(' ')] as const;
    };
    // G lies on string 3, where the roll goes before another note.
    expect(rolled('D')[0]).toBe(3);
    const [string, told] = rolled('G,');
    expect(string).toBe(4);
    expect(told).toMatch(/string 3 of the pattern is where the melody goes next/);
  });
  it.each([
    ['rolling', '5/4', 'B 3 2 1 2 3 B 3 2 3'],
    ['rolling', '2+3/4', 'B 3 2 3 B 3 2 1 2 3'],
    ['rolling', '7/8', 'B 3 2 B 3 B 3'],
    ['rolling', '2+2+3/8', 'B 3 B 3 B 3 2'],
    ['waltz', '6/4', 'B (32) (32) B (32) (32)'],
    ['hymn', '6/4', '(B32) . (B32) (B32) . (B32)'],
    ['hymn', '2+2+3/8', '(B32) . (B32) . (B32) . .'],
  ] as const)('%s in %s goes by the twos and threes that it is heard in', (name, meter, pattern) => {
    const own = tune(`M:${meter}`).meter;
    expect(textureIn(name, own)?.pattern).toBe(pattern);
    expect(patternFault(pattern, own, 6)).toBeUndefined();
  });
  it('under a blues the root is struck on each beat', () => {
    const own = tune('R:blues\nM:4/4\nQ:1/4=100', '"E7"B4|"A7"A4|"E7"E4|]');
    const made = arrange(own, { id: 'b', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    for (const { notes, chords } of made.measures.slice(0, 2)) {
      const basses = notes.filter(n => n.role === 'bass');
      expect(basses.map(n => n.start / TICKS_PER_QUARTER)).toEqual([0, 1, 2, 3]);
      for (const bass of basses)
        expect(noteMidi(made.setup, bass) % 12).toBe(pitchClassOf(chords[0]!.sounding[0]!));
    }
  });
  it('a roll does not strike one string twice over a low melody: it goes up to the note that comes', () => {
    const own = tune('R:air\nM:12/8\nQ:3/8=46', '"D"A3/2 d e/ f3/2 e3/2|"D"d3 d3|]');
    const made = arrange(own, { id: 'r', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    const between = made.measures[0]!.notes.filter(
      n => n.role === 'inner' && n.start < 1.5 * TICKS_PER_QUARTER,
    );
    expect(between.map(({ string }) => string)).toEqual([2, 1]);
  });
  it('under a habanera the bass is struck on both beats, root and then fifth, and a note of the chord before the second', () => {
    const own = tune('R:habanera\nM:2/4\nQ:1/4=56', '"D"f2|"D"d2|"A7"e2|"D"d2|]');
    const made = arrange(own, { id: 'h', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    for (const { notes, chords } of made.measures.slice(0, 3)) {
      const at = (quarters: number, role: string) =>
        notes.filter(n => n.start === quarters * TICKS_PER_QUARTER && n.role === role);
      const [first, second] = [0, 1].map(beat => at(beat, 'bass')[0]!);
      expect(noteMidi(made.setup, first!) % 12).toBe(pitchClassOf(chords[0]!.sounding[0]!));
      expect((noteMidi(made.setup, second!) - noteMidi(made.setup, first!) + 24) % 12).toBe(7);
      expect(at(0.75, 'inner')).toHaveLength(1);
      expect(notes.filter(n => n.start === TICKS_PER_QUARTER / 2)).toEqual([]);
    }
    expect(patternSuiting(own, 'by-string', 6)?.pattern).toBe('B . . 3 B . 3 .');
    expect(patternSuiting(own, 'by-string', 4)?.pattern).not.toBe('B . . 3 B . 3 .');
  });
  it.each(['2/4', '3/4', '4/4', '5/4', '6/8', '9/8', '12/8'])('what goes with %s fits it', meter => {
    const own = tune(`M:${meter}`).meter;
    const names = TEXTURES.filter(name => textureIn(name, own));
    expect(names.includes('waltz')).toBe(meter === '3/4');
    for (const name of names) {
      const { pattern } = textureIn(name, own)!;
      if (pattern) expect(patternFault(pattern, own, 6)).toBeUndefined();
    }
  });
  it('a voice of a hymn is left out rather than held with a hand opened to its limit (F with A on string 1)', () => {
    const hymn = committeeTunes().find(own => own.title === 'Old Hundredth')!;
    const made = arrange(hymn, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 2 }).arrangement!;
    const high = made.measures.flatMap(measure =>
      measure.notes
        .filter(n => n.string === 1 && n.fret === 5)
        .map(n => soundingAt(measure, n.start).filter(own => own !== n))
        .filter(under => under.some(n => n.string === 4 && n.fret === 3))
        .map(under => under.map(n => `${n.string}/${n.fret}`)),
    );
    expect(high.length).toBeGreaterThan(3);
    for (const under of high) expect(under.sort()).toEqual(['3/2', '4/3']);
  });
  it('no string of a pattern doubles another in unison, unless the shape itself does', () => {
    for (const own of oneIn(4, committeeTunes())) {
      const made = arrange(own, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' })
        .arrangement!;
      const midi = (note: ScoreNote) => noteMidi(made.setup, note);
      for (const [index, { notes }] of made.measures.entries())
        for (const note of notes.filter(n => n.role === 'inner')) {
          const frets = scoreChordAt(made, index, note.start)?.frets;
          const same = notes.filter(n => n.start === note.start && midi(n) === midi(note));
          const asItLies = same.every(n => frets?.[n.string - 1] === n.fret);
          expect(same.length > 1 && !asItLies, `${own.title}, measure ${index + 1}`).toBe(false);
        }
    }
  });
  it('a hymn moves in three or four voices on its beats', () => {
    const hymn = tune('R:hymn\nM:4/4\nQ:1/4=84', '"G"B2 "D"A2|"Em"G2 "C"c2|"D"d2 "G"B2|"G"B4|]');
    const made = arrange(hymn, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    // The last chord rings: nothing is struck again under the last note.
    expect(made.measures.at(-1)!.notes.every(note => note.start === 0)).toBe(true);
    expect(made.measures.at(-1)!.notes.length).toBeGreaterThanOrEqual(3);
    const voices = made.measures.flatMap(measure =>
      [...new Set(measure.notes.map(n => n.start))].map(at => soundingAt(measure, at).length),
    );
    expect(Math.max(...voices)).toBe(4);
    expect(voices.filter(n => n >= 3).length / voices.length).toBeGreaterThan(0.8);
  });
  it('closes a hymn with its third in a voice under the melody: D x5423x for xx023x (common practice of part-writing)', () => {
    const hymns = committeeTunes()
      .map(own => (own.rhythm === 'carol' ? { ...own, rhythm: 'hymn' } : own))
      .filter(isHymn);
    expect(hymns.length).toBeGreaterThan(8);
    const closes = hymns.map(own => {
      const made = arrange(own, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' })
        .arrangement!;
      const last = made.measures.findLastIndex(({ notes }) => notes.length);
      const start = Math.max(...made.measures[last]!.notes.map(note => note.start));
      const chord = parseChord(scoreChordAt(made, last, start)!.sounding)!;
      const sounding = soundingAt(made.measures[last]!, start).map(note => noteMidi(made.setup, note));
      return { title: own.title, third: sounding.some(midi => mod12(midi) === classOfDegree(chord, 3)) };
    });
    // In A without a capo it would be C sharp below D3.
    expect(closes.filter(({ third }) => !third).map(({ title }) => title)).toEqual(['Coventry Carol']);
  });
  it('the plucks of a waltz go over a long note that lies next to its bass, instead of the bass three times (common practice)', () => {
    const half = tune('R:waltz\nM:3/4\nQ:1/4=108', '"G"B c/B/A/G/|"D7"A3|"G"d G G|"G"G3|]');
    const made = arrange(half, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    const { notes } = made.measures[1]!;
    expect(notes.filter(({ role }) => role === 'melody')).toMatchObject([{ string: 3, fret: 2 }]);
    expect(notes.filter(({ role }) => role === 'bass')).toMatchObject([{ string: 4, fret: 0, start: 0 }]);
    const plucks = [1, 2].map(beat =>
      notes.filter(({ start }) => start === beat * TICKS_PER_QUARTER).map(({ string }) => string),
    );
    expect(plucks.map(strings => strings.sort())).toEqual([
      [1, 2],
      [1, 2],
    ]);
  });
  it('the plucks of a waltz leave out thirds below D3 where a low melody sends them down', () => {
    // The minuet in G that Petzold wrote, its beginning, from memory.
    const low = tune(
      'R:waltz\nM:3/4\nQ:1/4=108',
      '"G"d G/A/B/c/|"G"d G G|"C"e c/d/e/f/|"G"g G G|"Am"c d/c/B/A/|"G"B c/B/A/G/|"D7"F G/A/B/G/|"D"A3|]',
    );
    const made = arrange(low, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
    let plucks = 0;
    for (const measure of made.measures.slice(0, -1))
      for (const note of measure.notes.filter(n => n.role === 'inner')) {
        const chord = parseChord(measure.chords[0]!.sounding)!;
        const midi = noteAt(made.setup, note.string, note.fret);
        plucks += 1;
        expect(midi < 50 && mod12(midi) === classOfDegree(chord, 3), `${note.string}/${note.fret}`).toBe(
          false,
        );
      }
    expect(plucks).toBeGreaterThan(6);
  });
  it('a pattern goes on under a melody that lies high: the hand takes what of the chord it has there', () => {
    // The F chord under A, B flat and C on string 1 is held from fret 3 to 8, not in its shape at the nut.
    const hymn = tune('M:3/4\nQ:1/4=84', '"F"a a c\'|"C"g e c|"Am"a g e|"F"c3|]');
    const settings = { bass: 'pattern', pattern: '(B32) (B32) (B32)' } as const;
    const made = arrange(hymn, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0, settings })
      .arrangement!;
    for (const [m, measure] of made.measures.slice(0, 3).entries())
      for (const at of new Set(measure.notes.map(n => n.start)))
        expect(soundingAt(measure, at).length, `measure ${m + 1}`).toBeGreaterThanOrEqual(3);
    const chord = parseChord('F')!;
    for (const note of made.measures[0]!.notes)
      expect(chordClasses(chord)).toContain(mod12(noteAt(made.setup, note.string, note.fret)));
  });
  it('the hand does not leave its place for a string of the pattern that lies under it, too', () => {
    // Laid across the strings Clementine has A at 2/10, 1/5 and 2/8 in one measure: D has its strings at fret 7 there.
    const clementine = committeeTunes().find(own => own.title === 'Clementine')!;
    const asked = { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 3 } as const;
    const { arrangement } = arrange(clementine, { ...asked, settings: { ringing: true } });
    const { notes } = arrangement!.measures[3]!;
    const plucks = notes.filter(note => note.role === 'inner');
    expect(plucks.length).toBeGreaterThan(2);
    for (const { fret } of notes.filter(note => note.fret)) expect(fret).toBeGreaterThanOrEqual(5);
  });
  it('a roll goes on moving where the melody leaves it few strings', () => {
    const air = tune('R:air\nM:3/4\nQ:1/4=84', '"D"d3|"A7"e3|"D"A3/2A3/2|"D"A3|"D"f2 f|"D"d3|]');
    const made = (settings: Partial<ArrangeSettings> = {}) =>
      arrange(air, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0, settings }).arrangement!;
    const rolled = (settings?: Partial<ArrangeSettings>) =>
      made(settings)
        .measures.slice(0, 4)
        .map(({ notes }) => notes.filter(n => n.role !== 'melody').sort((a, b) => a.start - b.start));
    const told = (text: string, settings?: Partial<ArrangeSettings>) =>
      made(settings).ledger?.find(line => line.text.includes(text))?.measures;
    const [d, a7, low, long] = rolled().map(notes => notes.map(n => n.string));
    // Under D on string 2 the bass rocks with string 3, under E on string 1 the roll turns back before it.
    expect(d).toEqual([4, 3, 4, 3, 4, 3]);
    expect(a7).toEqual([5, 3, 2, 3, 2, 3]);
    // Under A on string 3 there is none left: the bass keeps the beat. Where A is held the roll goes round it.
    expect(low).toEqual([4, 4, 4]);
    expect(long).toEqual([5, 4, 2, 1, 2, 4]);
    expect(rolled()[2]!.map(n => n.ticks)).toEqual([0, 1, 2].map(() => TICKS_PER_QUARTER));
    // What is asked for string by string is played so, and without its roll the bass lasts.
    const typed = { bass: 'pattern', pattern: 'B 3 3 3 3 3' } as const;
    expect(rolled(typed)[0]!.map(n => n.string)).toEqual([4, 3, 3, 3, 3, 3]);
    expect(told('rocks between')).toContain(made().measures[0]!.id);
    expect(told('rocks between', typed)).toBeUndefined();
    expect(told('keeps the beat')).toEqual([made().measures[2]!.id]);
    for (const easy of [0, 2].map(measure => rolled({ level: 2 })[measure]!))
      expect(easy.map(n => n.ticks)).toEqual([measureTicks({ beats: 3, unit: 4 })]);
  });
  it('what is plucked doubles no other string in unison, unless it is typed so', () => {
    // The root lies at 4/5 under B at fret 7: there the open string 3 of a G shape is the same G.
    const waltz = tune('R:waltz\nM:3/4\nQ:1/4=132', '"G"d3|e d2|d3|b3|"D7"a3|"G"g3|]');
    const doubled = (settings: Partial<ArrangeSettings>) => {
      const { arrangement } = arrange(waltz, {
        id: 't',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        settings: { ...settings, bassTurns: false },
      });
      const { measures, setup } = arrangement!;
      return measures.flatMap(measure =>
        measure.notes.filter(
          note =>
            note.role === 'inner' &&
            soundingAt(measure, note.start).some(
              own => own.string !== note.string && noteMidi(setup, own) === noteMidi(setup, note),
            ),
        ),
      );
    };
    expect(doubled({})).toEqual([]);
    expect(doubled({ bass: 'pattern', pattern: 'B 3 3' }).length).toBeGreaterThan(0);
  });
  it('leaves few strings of a pattern out', () => {
    let lacking = 0;
    let all = 0;
    for (const own of oneIn(4, committeeTunes())) {
      if (textureOf(own).settings.bass !== 'pattern' || own.measures.length > 24) continue;
      const made = arrange(own, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' })
        .arrangement!;
      all += made.measures.length;
      for (const line of made.ledger ?? [])
        if (line.text.includes('has no room for the pattern')) lacking += line.measures.length;
    }
    expect(all).toBeGreaterThan(60);
    expect(lacking / all).toBeLessThan(0.15);
  });
  it('keeps the fingers that are set by hand under it, and can be held', () => {
    let kept = 0;
    for (const own of oneIn(4, committeeTunes())) {
      if (textureOf(own).settings.bass !== 'pattern') continue;
      const request = { id: 't', instrument: 'guitar', style: 'fingerstyle' } as const;
      const present = structuredClone(arrange(own, { ...request, capo: 'auto' }).arrangement!);
      const melody = present.measures
        .flatMap(measure => measure.notes)
        .filter(note => note.role === 'melody' && note.fret > 0 && !note.tie);
      // Every seventh note gets another finger.
      const pins = melody.filter((_, i) => i % 7 === 3);
      for (const [i, note] of pins.entries())
        Object.assign(note, { pinned: true, fingerPinned: true, finger: 1 + (i % 4) });
      const { setup, settings } = present;
      const made = arrange(own, {
        ...request,
        capo: setup.capo,
        setup,
        settings: settings!,
        keep: { present },
      }).arrangement!;
      expect(faultsOf(made, own), own.title).toEqual([]);
      const fingers = new Map(made.measures.flatMap(({ notes }) => notes.map(n => [n.id, n.finger])));
      for (const { id, finger } of pins) expect(fingers.get(id)).toBe(finger);
      kept += pins.length;
    }
    expect(kept).toBeGreaterThan(10);
  });
  it('is used with its reason, and gives way to what is asked for', () => {
    const waltz = tune('R:waltz\nM:3/4\nQ:1/4=132', '"G"G3|"D"A3|"G"B3|]');
    const request = { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 } as const;
    const own = arrange(waltz, request).arrangement!;
    expect(own.settings).toMatchObject({ bass: 'pattern', pattern: 'B (32) (32)' });
    expect(own.reasons.join(' ')).toContain('A waltz: bass, pluck, pluck');
    const asked = arrange(waltz, { ...request, settings: { bass: 'steady' } }).arrangement!;
    expect(asked.settings!.bass).toBe('steady');
    expect(asked.reasons.join(' ')).not.toContain('A waltz');
    // Nothing of it under grips, nor for a melody alone.
    for (const other of [{ instrument: 'mandolin', style: 'chord-melody' }, { style: 'melody' }] as const)
      expect(arrange(waltz, { ...request, ...other }).arrangement!.reasons.join(' ')).not.toContain(
        'A waltz',
      );
  });
});

it('two strings that are plucked together give way to a melody that runs on there, and needs their fingers', () => {
  const waltz = tune('R:waltz\nM:3/4\nQ:1/4=132', '"G"gag|"G"ga/4g/4a/4g/4g|"G"g3|]');
  const { measures } = arrange(waltz, { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement!;
  const inner = (measure: number) =>
    measures[measure]!.notes.filter(n => n.role === 'inner' && n.start === TICKS_PER_QUARTER).length;
  expect([inner(0), inner(1)]).toEqual([2, 0]);
});

/** Common practice of waltzes and of what is rolled: under a chord that stays the bass is the root, then the fifth. */
describe('the bass of a pattern where a chord stays', () => {
  const request = { id: 't', instrument: 'guitar', style: 'fingerstyle', capo: 0 } as const;
  /** What the basses are of their chords, measure by measure. */
  const degrees = (own: ReturnType<typeof tune>, more: Partial<Parameters<typeof arrange>[1]> = {}) => {
    const made = arrange(own, { ...request, ...more }).arrangement!;
    return made.measures.map((measure, m) =>
      measure.notes
        .filter(note => note.role === 'bass')
        .map(note => {
          const chord = parseChord(scoreChordAt(made, m, note.start)!.sounding)!;
          return degreeOf(chord, mod12(noteMidi(made.setup, note)));
        })
        .join(),
    );
  };
  const WALTZ = 'R:waltz\nM:3/4\nQ:1/4=132';
  it('takes turns from measure to measure in a waltz; it begins and ends on the root', () => {
    const body = '"G"d3|e d2|d3|b3|"D7"a3|a f2|"G"g3|e d2|d3|]';
    expect(degrees(tune(WALTZ, body))).toEqual(['1', '5', '1', '5', '1', '5', '1', '5', '1']);
    // The same by a symbol in every measure, and the reason is told so.
    const again = '"G"d3|"G"e d2|"G"d3|"G"b3|"D7"a3|"D7"a f2|"G"g3|"G"e d2|"G"d3|]';
    expect(degrees(tune(WALTZ, again))).toEqual(degrees(tune(WALTZ, body)));
    const made = arrange(tune(WALTZ, again), request).arrangement!;
    const reason = (m: number) => {
      const bass = made.measures[m]!.notes.find(n => n.role === 'bass')!;
      return explainNote(made, bass.id).split('.')[0];
    };
    expect([4, 5].map(reason)).toEqual([
      'The bass lands on the root of D7 where the chord begins',
      'Where a chord stays its bass takes turns: the fifth of D7',
    ]);
  });
  it('is as it is in an equal measure, and the root in the measure after the chord has changed inside one', () => {
    const body = '"G"d3|e d2|d3|b3|"D7"a3|"G"e d2|g3|]';
    expect(degrees(tune(WALTZ, body))).toEqual(['1', '1', '1', '5', '1', '1', '1']);
    expect(degrees(tune(WALTZ, '"G"d3|e2 "D7"f|a3|f a2|"G"g3|]'))).toEqual(['1', '5,1', '1', '5', '1']);
  });
  it('takes turns inside the measure in a roll that has it twice', () => {
    const AIR = 'R:air\nM:4/4\nQ:1/4=66';
    expect(degrees(tune(AIR, '"G"g4|"G"g2 "D"a2|"G"g4|]')).slice(0, 2)).toEqual(['1,5', '1,1']);
    // Not where it would take one of the two strings that the melody leaves to the roll.
    expect(degrees(tune(AIR, '"G"d4|d4|"D"a4|"G"g4|]'))[0]).toBe('1,1');
  });
  it('takes an open string in turn where the shape leaves no more of them under the melody for another: A on string 5', () => {
    // D, Em and A7 shapes: string 6, fret 5 leaves string 5 between, which D has not.
    const body = '"G"B3|D ^C D|"Am"c3|"D7"c3|"G"G3|]';
    const made = arrange(tune(WALTZ, body), { ...request, capo: 5 }).arrangement!;
    const places = made.measures.map(({ notes }) => notes.find(note => note.role === 'bass'));
    expect(places.slice(0, 2)).toMatchObject([
      { string: 4, fret: 0 },
      { string: 5, fret: 0 },
    ]);
  });
  it('holds the root rather than take the third, where the fifth is out of reach', () => {
    // The F chord under C on string 1, at fret 8.
    const air = committeeTunes().find(own => own.title === 'Greensleeves')!;
    const basses = degrees(air, { capo: 'auto' }).flatMap(measure => measure.split(','));
    expect(basses.filter(degree => degree === '5').length).toBeGreaterThan(6);
    expect(basses.filter(degree => degree.endsWith('3'))).toEqual([]);
  });
  it('takes turns on the strong beats of a dance', () => {
    const reel = tune('R:reel\nM:4/4\nQ:1/4=190', '"G"g2 a2|g2 f2|a2 "D"a2|"G"g4|]');
    expect(degrees(reel).slice(0, 3)).toEqual(['1,5', '1,5', '1,1']);
    expect(degrees(reel, { settings: { bassTurns: false } }).slice(0, 2)).toEqual(['1,1', '1,1']);
  });
  it('moves alone where a hymn holds its note, under voices that are held; with the melody and a new chord all move', () => {
    const hymn = tune('R:hymn\nM:4/4\nQ:1/4=84', '"G"g4|g2 g g|"D"a3 "G"g|"C"g4|"G"g4|]');
    expect(degrees(hymn)).toEqual(['1,5,1,5', '1,5,1,1', '1,5,1,1', '1,5,1,5', '1']);
    const made = arrange(hymn, request).arrangement!;
    const struck = made.measures.map(({ notes }) => {
      const starts = [...new Set(notes.map(n => n.start))].sort((a, b) => a - b);
      return starts.map(start => notes.filter(n => n.start === start).length).join();
    });
    expect(struck.slice(0, 4)).toEqual(['4,1,1,1', '4,1,4,4', '4,1,1,4', '4,1,1,1']);
    for (const note of made.measures[0]!.notes.filter(n => n.role === 'inner'))
      expect(note.ticks).toBe(4 * TICKS_PER_QUARTER);
    // Nothing moves under a dotted note, whose eighth follows at once.
    expect(degrees(tune('R:hymn\nM:4/4\nQ:1/4=84', '"G"g3/f/ e d|g2 b3/a/|g4|]'))).toEqual([
      '1,1,1',
      '1,5,1',
      '1',
    ]);
    // What is typed for a measure is played as it is typed.
    const measurePatterns = { [hymn.measures[0]!.id]: '(B32) (B3) (B32) (B3)' };
    const typed = arrange(hymn, { ...request, settings: { measurePatterns } }).arrangement!;
    expect(typed.measures[0]!.notes.filter(n => n.role === 'inner').length).toBeGreaterThan(4);
  });
  it('is the root where a beginner plays and where turns are not asked for', () => {
    const body = '"G"d3|e d2|d3|b3|"D7"a3|"G"g3|]';
    const roots = ['1', '1', '1', '1', '1', '1'];
    expect(degrees(tune(WALTZ, body), { capo: 'auto', settings: { level: 2 } })).toEqual(roots);
    expect(degrees(tune(WALTZ, body), { settings: { bassTurns: false } })).toEqual(roots);
    expect(degrees(tune(WALTZ, body), { settings: { bass: 'pattern', pattern: 'B 3 2' } })).toEqual(roots);
    expect(arrange(tune(WALTZ, body), request).arrangement!.reasons.join(' ')).toContain('takes turns');
  });
});
