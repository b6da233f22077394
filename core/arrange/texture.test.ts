import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats';
import { arrange, patternFault } from './index';
import { textureOf } from './texture';

const tune = (head: string, body = 'G4|c4|]') => readAbc(`X:1\nT:T\n${head}\nL:1/4\nK:G\n${body}\n`)[0]!.tune;

/** What players do with kinds of tunes: common practice, no source. */
describe('the texture of a tune where nobody asks for one', () => {
  it.each([
    ['R:waltz\nM:3/4\nQ:1/4=132', 'pattern'],
    ['R:air\nM:4/4\nQ:1/4=66', 'pattern'],
    ['R:air\nM:6/8\nQ:3/8=50', 'pattern'],
    ['R:march\nM:4/4\nQ:1/4=100', 'walking'],
    ['R:hymn\nM:3/4\nQ:1/4=84', 'steady'],
    ['R:song\nM:4/4\nQ:1/4=110', 'alternating'],
    ['R:reel\nM:4/4\nQ:1/4=190', 'strong'],
    ['R:reel\nM:2/2\nQ:1/2=92', 'alternating'],
    // An air that is danced to at speed is no slow one.
    ['R:air\nM:4/4\nQ:1/4=150', 'strong'],
  ])('%j has the bass %s', (head, bass) => {
    const texture = textureOf(tune(head));
    expect(texture.settings.bass).toBe(bass);
    const { pattern } = texture.settings;
    if (pattern) expect(patternFault(pattern, tune(head).meter, 6)).toBeUndefined();
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
    // Nothing of it on a mandolin, nor for a melody alone.
    for (const other of [{ instrument: 'mandolin' }, { style: 'melody' }] as const)
      expect(arrange(waltz, { ...request, ...other }).arrangement!.reasons.join(' ')).not.toContain(
        'A waltz',
      );
  });
});
