/** Text tab out: what is written reads back the same. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { standardSetup } from '../../instrument';
import type { Arrangement, Technique, WrittenMeasure } from '../../score';
import { handmade } from '../../testing/handmade';
import { readAbc } from '../abc';
import { readTab, writeTab } from './index';

/** What a text tab tells of a note, with links as their kind only. */
function told(n: {
  start: number;
  string: number;
  fret: number;
  tie?: unknown;
  techniques?: Technique[];
  graces?: (number | { fret: number })[];
}) {
  const techniques = (n.techniques ?? []).map(({ ...t }) => ({ ...t, ...('from' in t && { from: '' }) }));
  const dead = techniques.some(t => t.kind === 'dead');
  return JSON.stringify([
    Math.round(n.start),
    n.string,
    dead ? 0 : n.fret,
    n.tie !== undefined,
    techniques.sort((a, b) => a.kind.localeCompare(b.kind)),
    (n.graces ?? []).map(g => (typeof g === 'number' ? g : g.fret)),
  ]);
}
const notesOf = (measures: readonly (WrittenMeasure | Arrangement['measures'][number])[]) =>
  measures.map(m => m.notes.map(told).sort());

/** A quick change of grace notes is plucked: a text tab has no sign for it. */
const reads = (arrangement: Arrangement) => {
  const { text } = writeTab(arrangement);
  const reading = readTab(text);
  expect([reading.questions, reading.leftOut, reading.guesses], text).toEqual([[], [], []]);
  expect(notesOf(reading.measures), text).toEqual(notesOf(arrangement.measures));
  return reading;
};

/** Words under what is struck, without verses that are silent at the end. */
const sungWords = ({ notes, words }: Arrangement['measures'][number]) => {
  const struck = new Set(notes.map(note => note.start));
  return words
    .filter(({ start, verses }) => struck.has(start) && verses.some(Boolean))
    .map(({ start, verses }) => ({ start, verses: verses.slice(0, verses.findLastIndex(Boolean) + 1) }));
};

describe('what is written', () => {
  const book = readAbc(readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8'));
  it.each(book.map(e => [e.tune.title, e.tune] as const))(
    '%s: reads back the same, in several styles',
    (_, tune) => {
      for (const [style, instrument] of [
        ['fingerstyle', 'guitar'],
        ['chord-melody', 'guitar'],
        ['melody', 'mandolin'],
      ] as const) {
        const { arrangement } = arrange(tune, {
          id: 'a',
          instrument,
          style,
          capo: 'auto',
          settings: { level: 4 },
        });
        if (!arrangement) continue;
        const { heading, measures } = reads(arrangement);
        expect(heading).toMatchObject({
          title: tune.title,
          instrument,
          tuning: arrangement.setup.tuning,
          capo: arrangement.setup.capo,
          meter: arrangement.measures[0]!.meter,
        });
        expect(heading.quartersPerMinute).toBeCloseTo(arrangement.quartersPerMinute, 1);
        const bars = (m: Pick<WrittenMeasure, 'ending' | 'section'>) => [m.ending ?? [], m.section];
        expect(measures.map(m => [Boolean(m.repeat?.start), Boolean(m.repeat?.end), ...bars(m)])).toEqual(
          arrangement.measures.map(({ section, ...m }) => [
            Boolean(m.repeatStart),
            Boolean(m.repeatEnd),
            ...bars({ ...m, ...(section && { section: section.name }) }),
          ]),
        );
        expect(measures.map(m => m.words ?? [])).toEqual(arrangement.measures.map(sungWords));
      }
    },
  );
  const one = (techniques: Technique[], fret = 7): Arrangement =>
    handmade({
      setup: standardSetup('guitar'),
      notes: [
        { quarters: 1, string: 2, fret: 5 },
        { quarters: 1.5, string: 2, fret, techniques },
        { quarters: 1.5, string: 1, fret: 12 },
        { quarters: 2, start: 0, string: 6, fret: 3 },
      ],
    });
  it.each<[string, Technique[], number?]>([
    ['hammer-on', [{ kind: 'hammer', from: 'n1' }]],
    ['pull-off', [{ kind: 'pull', from: 'n1' }], 3],
    ['slide', [{ kind: 'slide', from: 'n1' }]],
    ['slide down, plucked again', [{ kind: 'slide', from: 'n1', again: true }], 2],
    ['slide in', [{ kind: 'slide-in', way: 'above' }]],
    ['slide off', [{ kind: 'slide-off', way: 'below' }]],
    ['bend', [{ kind: 'bend', semitones: 2, shape: 'up' }]],
    ['bend and release', [{ kind: 'bend', semitones: 1, shape: 'release' }]],
    ['pre-bend', [{ kind: 'bend', semitones: 2, shape: 'pre' }]],
    ['bend twice', [{ kind: 'bend', semitones: 3, shape: 'repeat' }]],
    ['natural harmonic', [{ kind: 'harmonic' }], 12],
    ['artificial harmonic', [{ kind: 'harmonic', touch: 12 }]],
    ['vibrato', [{ kind: 'vibrato' }]],
    ['palm mute', [{ kind: 'palm-mute' }]],
    ['damped stroke', [{ kind: 'dead' }]],
    ['accent', [{ kind: 'accent' }]],
    ['let ring', [{ kind: 'let-ring' }]],
    ['stopped short', [{ kind: 'damp' }]],
    ['tremolo', [{ kind: 'tremolo' }]],
    ['several', [{ kind: 'bend', semitones: 2, shape: 'up' }, { kind: 'vibrato' }, { kind: 'accent' }]],
  ])('%s reads back the same', (_, techniques, fret) => {
    reads(one(techniques, fret));
  });
});
