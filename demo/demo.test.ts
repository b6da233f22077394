import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { arrange } from '#core/arrange';
import { writeBundle } from '#core/formats/bundle';
import { STYLES } from '#core/score';
import { hasMelody } from '#core/tune';
import { faultsOf } from '../core/testing/findings';
import { buildDemoStudio } from './index';

const book = readFileSync(new URL('./tunes/studio.abc', import.meta.url), 'utf8');
const song = readFileSync(new URL('./songs/lamp.cho', import.meta.url), 'utf8');
const studio = buildDemoStudio(book, song);

describe('the demo studio', () => {
  it('is what its tune book and the arranger give (npm run demo writes it anew)', () => {
    expect(readFileSync(new URL('./studio.json', import.meta.url), 'utf8')).toBe(writeBundle(studio));
  });
  it('has a reel, a jig, a waltz, an air, a ballad with words and a minor tune, all free of rights', () => {
    const kinds = studio.tunes.map(t => t.rhythm);
    for (const kind of ['reel', 'jig', 'waltz', 'air', 'ballad']) expect(kinds).toContain(kind);
    expect(studio.tunes.some(t => t.key.mode === 'minor')).toBe(true);
    expect(studio.tunes.some(t => t.measures.some(m => m.events.some(e => e.words)))).toBe(true);
    expect(studio.tunes.some(t => t.measures[0]!.offset > 0)).toBe(true);
    expect(studio.tunes.every(t => t.rights === 'public-domain' || t.rights === 'own-work')).toBe(true);
  });
  it('has one arrangement for guitar and one for mandolin ready, and a song that is accompanied', () => {
    expect(studio.arrangements.map(a => `${a.setup.instrument} ${a.style}`).sort()).toEqual([
      'guitar fingerstyle',
      'guitar pattern',
      'mandolin chord-melody',
    ]);
    const sung = studio.tunes.find(t => t.song)!;
    expect(faultsOf(studio.arrangements.find(a => a.tuneId === sung.id)!, sung)).toEqual([]);
  });
  it.each(studio.tunes.filter(hasMelody).map(t => [t.title, t] as const))(
    '%s is arranged in every style on both instruments without findings',
    (_, tune) => {
      for (const instrument of ['guitar', 'mandolin'] as const) {
        for (const style of STYLES) {
          const { arrangement, problem } = arrange(tune, { id: 'd', instrument, style, capo: 'auto' });
          expect(problem).toBeUndefined();
          expect(faultsOf(arrangement!, tune)).toEqual([]);
          const accompanied = arrangement!.measures.filter(m =>
            m.notes.some(n => n.role !== 'melody'),
          ).length;
          if (style !== 'melody')
            expect(accompanied / arrangement!.measures.length, `${style} on ${instrument}`).toBeGreaterThan(
              0.7,
            );
          else expect(accompanied).toBe(0);
        }
      }
    },
  );
});
