/** What lists show of records, made when a record is saved. */
import { INSTRUMENTS } from '#core/instrument';
import { keyName } from '#core/pitch';
import type { Arrangement } from '#core/score';
import { meterName } from '#core/time';
import { formOf, formWords, measureStarts, melodyNotes, type Tune } from '#core/tune';
import type { ArrangementEntry, Row, TuneEntry } from './db';

/** Raised when entries hold something else: they are then made anew from the records. */
export const ENTRIES_VERSION = 4;

/** The melody's rise and fall in a field of 200 by 40, in whole steps from note to note: a shelf reads thousands of them. */
function contourOf(tune: Tune): string {
  const notes = melodyNotes(tune);
  if (!notes.length) return '';
  const end = measureStarts(tune.measures).at(-1)!;
  const low = notes.reduce((least, n) => Math.min(least, n.midi), 127);
  const span = Math.max(1, notes.reduce((most, n) => Math.max(most, n.midi), 0) - low);
  let [x, y] = [0, 0];
  return notes
    .map((n, i) => {
      const [nextX, nextY] = [
        Math.round(((n.at + n.ticks / 2) / end) * 200),
        Math.round(36 - ((n.midi - low) / span) * 32),
      ];
      const step = `${nextX - x} ${nextY - y}`;
      [x, y] = [nextX, nextY];
      return `${i ? 'l' : 'M'}${step}`;
    })
    .join('');
}

export function tuneEntry(tune: Tune, { changed, demo }: Pick<Row, 'changed' | 'demo'>): TuneEntry {
  return {
    id: tune.id,
    changed,
    ...(demo && { demo }),
    title: tune.title,
    ...(tune.composer && { composer: tune.composer }),
    ...(tune.rhythm && { rhythm: tune.rhythm }),
    key: keyName(tune.key),
    meter: meterName(tune.meter),
    form: formWords(formOf(tune.measures, tune.order)),
    contour: contourOf(tune),
  };
}

/** "Guitar, fingerstyle, capo 2". */
function arrangementLabel(arrangement: Pick<Arrangement, 'setup' | 'style'>): string {
  const { setup, style } = arrangement;
  return `${INSTRUMENTS[setup.instrument].name}, ${style.replace('-', ' ')}${setup.capo ? `, capo ${setup.capo}` : ''}`;
}

export function arrangementEntry(
  arrangement: Arrangement,
  { changed, demo }: Pick<Row, 'changed' | 'demo'>,
): ArrangementEntry {
  const { id, tuneId, name } = arrangement;
  return {
    id,
    tuneId,
    changed,
    ...(demo && { demo }),
    ...(name && { name }),
    label: arrangementLabel(arrangement),
  };
}
