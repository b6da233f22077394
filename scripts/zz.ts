import { readFileSync } from 'node:fs';
import { arrange } from '#core/arrange';
import { readAbc } from '#core/formats';

const book = readAbc(readFileSync('demo/tunes/studio.abc', 'utf8'));
for (const { tune } of book) {
  const a = arrange(tune, {
    id: 'x',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 'auto',
    settings: { level: 4 },
  }).arrangement!;
  console.log('==', tune.title, 'capo', a.setup.capo, a.octaveShift, a.ledger);
  const seen = new Map<string, string>();
  for (const m of a.measures)
    for (const c of m.chords)
      seen.set(
        c.shape +
          ' ' +
          [...c.frets!]
            .reverse()
            .map(f => f ?? 'x')
            .join(''),
        '',
      );
  console.log([...seen.keys()].join(' | '));
  for (const [i, m] of a.measures.entries()) {
    if (i > 5) break;
    const starts = [...new Set(m.notes.map(n => n.start))].sort((x, y) => x - y);
    console.log(
      i,
      m.chords.map(c => c.shape).join(','),
      starts
        .map(s =>
          m.notes
            .filter(n => n.start === s)
            .sort((x, y) => y.string - x.string)
            .map(
              n =>
                `${n.voice === 'melody' ? '' : n.voice === 'bass' ? 'B' : '.'}${n.string}/${n.fret}${n.finger ? 'f' + n.finger : ''}${n.pluck ?? ''}${n.graces ? '{' + n.graces + (n.graceBy ?? '') + '}' : ''}`,
            )
            .join('+'),
        )
        .join('  '),
    );
  }
}
