/**
 * The committee of numbers over the demo book and two books of traditional tunes: `npm run committee`, printed by
 * `npm run bench` too. `npm run committee -- fingerstyle "fifth in the bass"` tells where a figure of a style comes from.
 */
import { arrange } from '#core/arrange';
import type { InstrumentId } from '#core/instrument';
import type { Style } from '#core/score';
import { TICKS_PER_QUARTER } from '#core/time';
import { committeeTunes, count, FIGURES, noCommittee } from '../core/testing/committee';
import { HandTable } from './handFigures';

const tunes = committeeTunes();
const WAYS: [InstrumentId, Style][] = [
  ['guitar', 'fingerstyle'],
  ['guitar', 'chord-melody'],
  ['mandolin', 'chord-melody'],
];
const [asked, figureAsked] = process.argv.slice(2);
const hands = new HandTable();
const columns = WAYS.map(([instrument, style]) => {
  const figures = noCommittee();
  for (const tune of tunes) {
    const { arrangement } = arrange(tune, { id: 'c', instrument, style, capo: 'auto' });
    if (!arrangement) continue;
    hands.add(`${instrument} ${style}`, arrangement);
    count(figures, arrangement, (figure, measure, start) => {
      if (asked && `${instrument} ${style}`.includes(asked) && figure.includes(figureAsked ?? ''))
        console.log(
          `${instrument} ${style}, ${tune.title}, measure ${measure + 1} at ${start / TICKS_PER_QUARTER} quarters: ${figure}`,
        );
    });
  }
  return figures;
});
/**
 * The same in per cent before arrangements were made for the player's ear (commit cb5a2ea and the ones up to it). Of
 * repeated notes all that change finger were counted then, also where the chord's shape asks for it.
 */
const BEFORE: Record<string, readonly number[]> = {
  'guitar fingerstyle': [5.4, 3.2, 6.3, 4.6, 6.3, 14.2, 11.5, 0, 0, 77.4, 0, 0, 6, 3.2, 0],
  'guitar chord-melody': [53.5, 19.9, 9.2, 10.3, 6.3, 24.8, 26.8, 0, 7.4, 77.4, 78.3, 3.5, 6, 50, 0.3],
  'mandolin chord-melody': [32.4, 10.7, 0, 15, 0, 15.2, 13.6, 0, 7.4, 25.8, 41.9, 0.3, 1.9, 53.2, 0],
};
const wide = Math.max(...FIGURES.map(figure => figure.length));
console.log(
  `${`of ${tunes.length} tunes`.padEnd(wide)}  ${WAYS.map(way => way.join(' ').padStart(25)).join('')}`,
);
for (const [row, figure] of FIGURES.entries())
  console.log(
    `${figure.padEnd(wide)}  ${columns
      .map((own, way) => {
        const { times, of } = own[figure];
        const before = BEFORE[WAYS[way]!.join(' ')]![row]?.toFixed(1) ?? '–';
        return `${of ? ((100 * times) / of).toFixed(1) : '–'} %  (before ${before} %)`.padStart(25);
      })
      .join('')}`,
  );
hands.print('The hand that frets, means a measure, capo as planned:', {
  'guitar fingerstyle': { travel: 28.5, shifts: 0.5, stretch: 29.3, fretted: 3.59 },
  'guitar chord-melody': { travel: 26.2, shifts: 0.42, stretch: 34.5, fretted: 3.8 },
  'mandolin chord-melody': { travel: 13.6, shifts: 0.12, stretch: 17.8, fretted: 3.44 },
});
