/** How far the fretting hand goes in arrangements, for the tables of `npm run bench` and `npm run committee`. */
import { type FingerPlacement, fingerMoves, handPosition, stretchOf } from '#core/hand';
import { type Arrangement, gripOf, isStruck, momentsOf, soundingAt } from '#core/score';

/** Of a measure: travel of the hand along the neck (mm), shifts of more than 18 mm, widest stretch (mm), notes it frets. */
export interface HandFigures {
  travel: number;
  shifts: number;
  stretch: number;
  fretted: number;
}

/** Sums over all measures. While a finger stays down the hand does not travel: the others move around it. */
function handFigures(a: Arrangement): HandFigures {
  const sum: HandFigures = { travel: 0, shifts: 0, stretch: 0, fretted: 0 };
  let position: number | undefined;
  let before: readonly FingerPlacement[] = [];
  for (const [index, measure] of a.measures.entries()) {
    let widest = 0;
    for (const moment of momentsOf(measure, index)) {
      const grip = gripOf(soundingAt(measure, moment.start));
      if (!grip.length) continue;
      widest = Math.max(widest, stretchOf(a.setup, a.hand, grip).widest);
      const at = handPosition(a.setup, grip[0]!.finger, grip[0]!.fret);
      const stays = fingerMoves(before, grip).some(move => move.kind === 'stays');
      const away = position === undefined || stays ? 0 : Math.abs(at - position);
      before = grip;
      sum.travel += away;
      if (away > 18) sum.shifts += 1;
      position = at;
    }
    sum.stretch += widest;
    sum.fretted += measure.notes.filter(note => note.fret > 0 && isStruck(note)).length;
  }
  return sum;
}

const words = ({ travel, shifts, stretch, fretted }: HandFigures, measures: number): string =>
  `travel ${(travel / measures).toFixed(1).padStart(5)} mm, shifts ${(shifts / measures).toFixed(2)}, widest stretch ${(stretch / measures).toFixed(1)} mm, ${(fretted / measures).toFixed(1)} notes fretted`;

/** Means over several pieces, each measure counting the same. */
export class HandTable {
  private readonly rows = new Map<string, { sum: HandFigures; measures: number }>();

  add(name: string, a: Arrangement): void {
    const own = handFigures(a);
    const row = this.rows.get(name) ?? {
      sum: { travel: 0, shifts: 0, stretch: 0, fretted: 0 },
      measures: 0,
    };
    for (const figure of ['travel', 'shifts', 'stretch', 'fretted'] as const) row.sum[figure] += own[figure];
    row.measures += a.measures.length;
    this.rows.set(name, row);
  }

  /** @param before the means a measure of an earlier version, by name */
  print(title: string, before: Readonly<Record<string, HandFigures>> = {}): void {
    console.log(`\n${title}`);
    for (const [name, { sum, measures }] of this.rows) {
      const old = before[name] ? ` (before ${words(before[name], 1)})` : '';
      console.log(`  ${name.padEnd(48)} ${words(sum, measures)}${old}`);
    }
  }
}
