/** Other settings of the same measures: another texture, another bass, another register. */
import type { ArrangeSettings, BassSchool, Doubling, Style } from '../../score';
import type { Meter } from '../../time';
import { patternsUnlike, usualPattern } from './patterns';
import { type TextureName, textureIn, textureNamed } from './texture';

/** One of them: what to arrange with, and what is another in it. */
export interface Variation {
  /** Short enough for a list: "let it ring". */
  name: string;
  differs: 'texture' | 'bass' | 'register';
  style: Style;
  settings: ArrangeSettings;
}

/** Textures furthest from each other first, with the names by which they are listed. */
const TEXTURE_NAMES: [TextureName, string][] = [
  ['rolling', 'rolled chords that ring'],
  ['waltz', 'bass, pluck, pluck'],
  ['hymn', 'chords with the melody'],
  ['alternating', 'an alternating thumb'],
  ['dance', 'thumb on the strong beats'],
];

/** Basses in the order in which they are tried. */
const BASS_NAMES: [BassSchool, string][] = [
  ['walking', 'over a walking bass'],
  ['drone', 'over a drone'],
  ['steady', 'over a steady bass'],
];

/**
 * Settings that differ from a present one in its texture, its bass and its register, as a player would vary a part that
 * comes again: for each of the three what to try, the best first, since not every tune has room for each. A pattern under
 * a singer is varied by three other patterns.
 *
 * @param strings of the instrument: on four only fingers have a bass, and what goes with the melody is another
 * @example variationsOf({ style: 'fingerstyle', settings: settingsOf(arrangement) }, { beats: 4, unit: 4 }, 6).length // 3
 */
export function variationsOf(
  { style, settings }: Pick<Variation, 'style' | 'settings'>,
  meter: Meter,
  strings: number,
): Variation[][] {
  if (style === 'pattern') return otherPatterns(settings, meter);
  const { pattern: _pattern, sectionPatterns: _own, measurePatterns: _measures, ...plain } = settings;
  // Less than the whole accompaniment would show nothing of it.
  const base: ArrangeSettings = { ...plain, level: settings.level < 3 ? 3 : settings.level };
  const varied =
    strings > 4 || style === 'fingerstyle'
      ? underBass(style, settings, base, meter)
      : besideMelody(style, settings, base);
  return [...varied, otherRegisters(style, settings)];
}

/** Up the neck, across the strings, or low where it is one of these. */
function otherRegisters(style: Style, settings: ArrangeSettings): Variation[] {
  const lain = (name: string, ringing: boolean, high: boolean): Variation => ({
    name,
    differs: 'register',
    style,
    settings: { ...settings, ringing, high },
  });
  const ways = [
    lain('up the neck', false, true),
    lain('across the strings, ringing', true, false),
    lain('low on the neck', false, false),
  ];
  const { ringing = false, high = false } = settings;
  return ways.filter(({ settings: own }) => own.ringing !== ringing || (!ringing && own.high !== high));
}

/** Other textures and other basses, where there are strings for one. */
function underBass(
  style: Style,
  settings: ArrangeSettings,
  base: ArrangeSettings,
  meter: Meter,
): Variation[][] {
  const now = style === 'fingerstyle' ? textureNamed(settings, meter) : undefined;
  const bass = style === 'fingerstyle' ? settings.bass : undefined;
  return [
    TEXTURE_NAMES.flatMap(([own, name]): Variation[] => {
      const asked = own === now ? undefined : textureIn(own, meter);
      return asked
        ? [{ name, differs: 'texture', style: 'fingerstyle', settings: { ...base, ...asked } }]
        : [];
    }),
    BASS_NAMES.filter(([own]) => own !== bass).map(([own, name]) => ({
      name,
      differs: 'bass',
      style: 'fingerstyle',
      settings: { ...base, bass: own },
    })),
  ];
}

/** What goes with a melody on few strings: thirds or grips, and an open string that drones in the place of a bass. */
function besideMelody(style: Style, settings: ArrangeSettings, base: ArrangeSettings): Variation[][] {
  const now = style === 'chord-melody' ? (settings.doubling ?? 'grips') : undefined;
  const set = (doubling: Doubling, name: string, differs: Variation['differs']): Variation[] =>
    doubling === now ? [] : [{ name, differs, style: 'chord-melody', settings: { ...base, doubling } }];
  return [
    [
      ...set('thirds', 'in thirds', 'texture'),
      ...set('sixths', 'in sixths', 'texture'),
      ...set('grips', 'grips under it', 'texture'),
    ],
    [...set('drone', 'over a drone', 'bass'), ...set('thinner', 'with the next thinner string', 'bass')],
  ];
}

/** Three patterns of the library that are not the present one, as unlike it and each other as there are. */
function otherPatterns(settings: ArrangeSettings, meter: Meter): Variation[][] {
  const now = settings.pattern?.trim() || usualPattern(meter, settings.school).text;
  const { sectionPatterns: _own, measurePatterns: _measures, ...base } = settings;
  return patternsUnlike(now, meter, settings.school)
    .slice(0, 3)
    .map(({ name, text }) => [
      { name, differs: 'texture', style: 'pattern', settings: { ...base, pattern: text } },
    ]);
}
