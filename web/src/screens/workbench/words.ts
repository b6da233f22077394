/** What the Workbench says of an arrangement and of places in it. */
import { INSTRUMENTS, stringName } from '#core/instrument';
import { keyName, transposeKey } from '#core/pitch';
import type { Arrangement } from '#core/score';
import type { Cursor } from '../../parts/ribbon/RibbonRow';

/** What stands under its title: version, key, shapes, capo, instrument and style. */
export function underTitle(arrangement: Arrangement): string {
  const { setup, measures } = arrangement;
  const shapeKey = transposeKey(measures[0]!.key, -setup.capo);
  return [
    arrangement.name,
    `sounds ${keyName(measures[0]!.key)}`,
    setup.capo ? `${keyName(shapeKey)} shapes, capo ${setup.capo}` : 'no capo',
    INSTRUMENTS[setup.instrument].name.toLowerCase(),
    arrangement.style.replace('-', ' '),
    arrangement.hand.slide && 'with a bar',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** What stands on a string at a place. */
export function placeWords(
  { setup, measures }: Arrangement,
  { measure, start }: { measure: number; start: number },
  string: Cursor['string'],
): string {
  const name = stringName(setup, string);
  const own = measures[measure]?.notes.find(n => n.start === start && n.string === string);
  if (!own) return `${name}, no note`;
  return `${name}, fret ${own.fret}${own.finger ? `, finger ${own.finger}` : ''}`;
}

/** @param numbers of the measures, 0 for a pickup */
export function loopLabel(numbers: readonly number[], range: { from: number; to: number }): string {
  const name = (index: number) => (numbers[index] === 0 ? 'pickup' : String(numbers[index]));
  return range.from === range.to ? `Loop ${name(range.from)}` : `Loop ${name(range.from)}–${name(range.to)}`;
}
