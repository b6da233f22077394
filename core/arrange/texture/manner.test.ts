/** The manner read off an arrangement's notes: against what was asked for, and against tab that was written by hand. */
import { describe, expect, it } from 'vitest';
import { pieceOf, readAbc, readText } from '../../formats';
import { type ArrangeSettings, type Style, settingsOf, usualSettings } from '../../score';
import { committeeTunes } from '../../testing/committee';
import { isCompound, type Meter, pulseCount, strongBeats } from '../../time';
import {
  type ArrangeRequest,
  arrange,
  mannerOf,
  TEXTURES,
  textureIn,
  textureNamed,
  textureOf,
  variationsOf,
} from '../index';

// In two beats, and where all are strong, a steady bass and one on the strong beats are the same.
const TUNES = committeeTunes()
  .filter(({ meter }) => pulseCount(meter) > 2 && !isCompound(meter))
  .filter((_, index) => index % 8 === 3)
  // A strain of each tells its manner.
  .map(tune => ({ ...tune, measures: tune.measures.slice(0, 9) }));

/** Made up for this test, after the rhythm of the dance. */
const habaneras = readAbc(`X:1
T:The Dove Over the Harbour
R:habanera
M:2/4
L:1/16
Q:1/4=56
K:D
A2|"D"d3c d2e2|f4 d2A2|"D"f3e f2g2|"A7"e6 A2|"A7"c3B c2d2|e4 c2A2|"A7"e3d e2c2|"D"d6|]

X:2
T:Evening Tango
R:tango
M:2/4
L:1/16
Q:1/4=60
K:Am
"Am"e3d c2B2|A4 E4|"E7"E2^G2B2d2|c2B2 B4|"E7"e3d c2B2|^G2B2e2d2|"Am"c2e2a2e2|c4 A4|]

X:3
T:Down the Stairs
R:habanera
M:2/4
L:1/16
Q:1/4=60
K:Dm
"Dm"d3^c (3=c2B2A2|"Dm"A3A G2F2|"Dm"E2F2 G2E2|"A7"F4 E4|"A7"d3^c =c2A2|A3A G2F2|"A7"E2F2 G2^C2|"Dm"D6|]
`).map(({ tune }) => tune);

/** What is found in arrangements that were asked for in one way, all that says so taken off them. */
function found(
  style: Style,
  settings: Partial<ArrangeSettings>,
  read: (own: ArrangeSettings) => unknown,
  more: Partial<ArrangeRequest> = {},
): unknown[] {
  return TUNES.flatMap(tune => {
    const made = arrange(tune, { id: 'x', instrument: 'guitar', style, capo: 'auto', settings, ...more });
    if (!made.arrangement) return [];
    const { settings: _asked, ...bare } = made.arrangement;
    return [read(mannerOf(bare).settings)];
  });
}
const part = (values: readonly unknown[], wanted: unknown) =>
  values.filter(value => value === wanted).length / values.length;

describe('the manner of an arrangement', () => {
  it('is what was asked for, though nothing but the notes says so', () => {
    expect(TUNES.length).toBeGreaterThan(4);
    for (const level of [1, 2] as const)
      expect(
        part(
          found('fingerstyle', { level }, own => own.level),
          level,
        ),
      ).toBe(1);
    for (const bass of ['steady', 'alternating', 'walking', 'drone'] as const)
      expect(
        part(
          found('fingerstyle', { bass }, own => own.bass),
          bass,
        ),
        bass,
      ).toBeGreaterThan(0.6);
    expect(
      part(
        found('melody', { ringing: true }, own => own.ringing),
        true,
      ),
    ).toBeGreaterThan(0.7);
    expect(
      part(
        found('melody', {}, own => own.ringing),
        true,
      ),
    ).toBeLessThan(0.3);
    expect(
      part(
        found('melody', { ornaments: 'many' }, own => own.ornaments),
        'plain',
      ),
    ).toBeLessThan(0.2);
    for (const doubling of ['sixths', 'drone', 'grips'] as const)
      expect(
        part(
          found('chord-melody', { doubling }, own => own.doubling),
          doubling,
        ),
      ).toBeGreaterThan(0.8);
    expect(
      part(
        found('chord-melody', { density: 'every' }, own => own.density),
        'every',
      ),
    ).toBeGreaterThan(0.8);
    expect(
      part(
        found('chord-melody', { density: 'changes' }, own => own.density),
        'every',
      ),
    ).toBeLessThan(0.3);
  });
  it('has the texture by its name', () => {
    for (const name of TEXTURES) {
      // Under a busy melody little of a roll, or of what a habanera has between its basses, is left to be seen.
      const own = (name === 'habanera' ? habaneras : committeeTunes())
        .filter(tune =>
          name === 'rolling' || name === 'habanera'
            ? textureOf(tune).name === name
            : textureIn(name, tune.meter),
        )
        // In two beats, and where all are strong, a blues is no other than a dance.
        .filter(({ meter }) => name !== 'blues' || strongBeats(meter).length < pulseCount(meter) - 1)
        .filter((_, index) => name === 'habanera' || index % 4 === 0)
        .slice(0, 6);
      const names = own.flatMap(tune => {
        const settings = textureIn(name, tune.meter)!;
        const { arrangement } = arrange(tune, {
          id: 'x',
          instrument: 'guitar',
          style: 'fingerstyle',
          capo: 'auto',
          settings,
        });
        if (!arrangement) return [];
        const { settings: _asked, ...bare } = arrangement;
        return [textureNamed(mannerOf(bare).settings, tune.meter)];
      });
      expect(part(names, name), `${name}: ${names.join()}`).toBeGreaterThan(0.6);
    }
  });
  it('hears whether the bass of a waltz or a dance takes turns with the root', () => {
    for (const name of ['waltz', 'dance'] as const)
      for (const bassTurns of [true, false]) {
        const own = committeeTunes().filter(tune => textureOf(tune).name === name);
        expect(own.length).toBeGreaterThan(1);
        const heard = own.slice(0, 6).flatMap(tune => {
          const settings = { ...textureIn(name, tune.meter)!, bassTurns };
          const request = {
            id: 'x',
            instrument: 'guitar',
            style: 'fingerstyle',
            capo: 'auto',
            settings,
          } as const;
          const { settings: _asked, ...bare } = arrange(tune, request).arrangement!;
          return [mannerOf(bare).settings.bassTurns ?? false];
        });
        expect(part(heard, bassTurns), `${name}: ${heard.join()}`).toBeGreaterThan(0.6);
      }
  });
  it('reads an alternating thumb off a tab written by hand, and no more than is there', () => {
    const tab = `
    C               F               G               C
e|--------0-------|--------1-------|------3---1-----|0---------------|
B|1-----------1---|1-----------1---|0---------------|1---------------|
G|----------------|----------------|----------------|----------------|
D|----2-------2---|3-------3-------|----0-------0---|----2-------2---|
A|3-------3-------|----3-------3---|----------------|3-------3-------|
E|----------------|----------------|3-------3-------|----------------|
`;
    const piece = pieceOf(readText(tab), { tuneId: 't', id: 'a' });
    if (piece.error !== undefined) throw new Error(piece.error);
    const manner = mannerOf(piece.arrangement);
    expect(manner.style).toBe('fingerstyle');
    expect(manner.settings).toMatchObject({
      bass: 'alternating',
      level: 3,
      ornaments: 'plain',
      ringing: false,
    });
  });
  it('finds a pattern that has no name, string by string', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"z4|"Am"z4|"F"z4|"G7"z4|"C"z4|\n')[0]!;
    const { arrangement } = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B 1 3 (21)' },
    });
    const { settings: _asked, ...bare } = arrangement!;
    expect(mannerOf(bare)).toMatchObject({ style: 'pattern', settings: { pattern: 'B 1 3 (21)' } });
  });
});

it('hears the bass of the fullest level, whose runs and fills are no pattern', () => {
  const heard = committeeTunes()
    .filter((_, index) => index % 4 === 1)
    .flatMap(tune => {
      const asked = { id: 'x', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' } as const;
      const made = arrange(tune, { ...asked, settings: { level: 4 } }).arrangement;
      if (!made) return [];
      const { settings, ...bare } = made;
      return [{ settings: settings!, own: mannerOf(made).settings, bare: mannerOf(bare).settings }];
    });
  expect(heard.length).toBeGreaterThan(12);
  const kept = (same: (one: (typeof heard)[number]) => boolean) => heard.filter(same).length / heard.length;
  expect(kept(({ settings, own }) => own.bass === settings.bass && own.level === 4)).toBeGreaterThan(0.9);
  // A texture is heard without being told, too.
  const rolled = heard.filter(({ settings }) => settings.pattern);
  expect(rolled.length).toBeGreaterThan(4);
  const same = rolled.filter(({ settings, bare }) => bare.pattern === settings.pattern);
  expect(same.length / rolled.length).toBeGreaterThan(0.75);
});

it('tells a bass in turn with its fifth from one that goes over two strings', () => {
  const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"z4|"Am"z4|"F"z4|"G7"z4|"C"z4|"F"z4|"C"z4|\n')[0]!;
  const heard = (settings: Partial<ArrangeSettings>, song = tune) => {
    const asked = { id: 'x', instrument: 'guitar', style: 'pattern', capo: 0 } as const;
    const { settings: _asked, ...bare } = arrange(song, { ...asked, settings }).arrangement!;
    return mannerOf(bare).settings;
  };
  for (const bassTurns of [true, false])
    expect(heard({ pattern: 'B T B T', bassTurns })).toMatchObject({ pattern: 'B T B T', bassTurns });
  expect(heard({ pattern: 'B T A T' })).toMatchObject({ pattern: 'B T A T' });
  // Of G, E minor and D no other string has a third or a seventh.
  const inG = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"z4|"Em"z4|"D"z4|"G"z4|"Em"z4|"D"z4|"G"z4|\n')[0]!.tune;
  for (const pattern of ['B T B T', 'B T A T'])
    expect(heard({ pattern, bassTurns: true }, inG)).toMatchObject({ pattern });
  // A roll of whose six strokes the melody takes two is that roll.
  const air = readAbc(
    'X:1\nT:T\nR:air\nM:3/4\nL:1/4\nQ:1/4=66\nK:D\n"D"Ade|"A"e2c|"D"Ade|"G"d2B|"A"ece|"D"d3|\n',
  )[0]!.tune;
  const made = arrange(air, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
  const { settings, ...played } = made;
  expect(mannerOf(played).settings.pattern).toBe(settings!.pattern);
});

describe('other settings of a part', () => {
  it('are of three kinds, all different from the present and from each other, and can be made', () => {
    for (const tune of TUNES.slice(0, 2))
      for (const style of ['fingerstyle', 'chord-melody', 'pattern', 'melody'] as const)
        for (const instrument of ['guitar', 'mandolin'] as const) {
          const present = arrange(tune, { id: 'x', instrument, style, capo: 'auto' }).arrangement;
          if (!present) continue;
          const now = { style, settings: settingsOf(present) };
          const all = variationsOf(now, tune.meter, present.setup.tuning.length);
          expect(all.length).toBeGreaterThanOrEqual(style === 'pattern' ? 1 : 3);
          const asked = all.flat().map(own => JSON.stringify([own.style, own.settings]));
          expect(new Set([JSON.stringify([style, now.settings]), ...asked]).size).toBe(asked.length + 1);
          for (const [own] of all) {
            const { setup } = present;
            const made = arrange(tune, {
              id: 'x',
              instrument,
              setup,
              capo: setup.capo,
              ...own!,
              keep: { present },
            });
            expect(made.problem).toBeUndefined();
            expect(made.arrangement!.measures.map(m => m.id)).toEqual(present.measures.map(m => m.id));
          }
        }
  });
  it('of a picked song sound unlike it and each other; none pinches where a pick is used', () => {
    const patterns = (pattern: string, meter: Meter, school: ArrangeSettings['school'] = 'by-string') =>
      variationsOf({ style: 'pattern', settings: { ...usualSettings('guitar'), pattern, school } }, meter, 6)
        .flat()
        .map(own => own.settings.pattern);
    // A roll is answered by a bass in turn, bass and brush, and a strum; a strum by a roll first.
    expect(patterns('B 3 2 3 1 3 2 3', { beats: 4, unit: 4 })).toEqual([
      'B 2 A 1 B 2 A 1',
      'B T A T',
      'D D D D',
    ]);
    expect(patterns('D D D D', { beats: 4, unit: 4 })[0]).toBe('B 3 2 3 1 3 2 3');
    expect(patterns('B 2 1', { beats: 6, unit: 8 })).toEqual(['B . T', 'B . (321)', '>D U D']);
    const byPick = patterns('B T', { beats: 2, unit: 4 }, 'pick');
    expect(byPick).toHaveLength(3);
    expect(byPick.join()).not.toContain('(B1)');
  });
});
