import { type Chord, parseChord } from '../chord';
import type { Style } from '../score';
import { isCompound, type Meter, measureTicks, pulseCount, pulseTicks, TICKS_PER_WHOLE } from '../time';
import { chordSpans, measureStarts, melodyNotes, type Tune } from '../tune';
import type { BassRole } from './candidates';

/** A place in time where strings are sounded with or under the melody. Ticks run over the written measures. */
export interface CompanionOnset {
  at: number;
  end: number;
  chord: Chord;
  role: BassRole;
  /** Falls where the chord changes or on the first beat: it tells the ear where it is. */
  accented: boolean;
}

/** Whether a pulse takes the chord's root: every other one, or the first of three. */
function takesRoot(meter: Meter, pulse: number): boolean {
  const count = pulseCount(meter);
  if (count === 3) return pulse === 0;
  if (!isCompound(meter) && count === 5) return pulse === 0 || pulse === 3;
  return pulse % 2 === 0;
}

/** Only places that plain note values reach; a chord set inside a tuplet waits for the next beat. */
function onGrid(tick: number): boolean {
  return tick % (TICKS_PER_WHOLE / 128) === 0;
}

/**
 * Where the style sounds more than the melody: the thumb on every beat and chord change (fingerstyle), or grips at
 * chord changes and first beats (chord melody).
 */
export function companionOnsets(tune: Tune, style: Style): CompanionOnset[] {
  if (style === 'melody') return [];
  const starts = measureStarts(tune.measures);
  const spans = chordSpans(tune).map(span => ({ ...span, chord: parseChord(span.symbol)! }));
  const melody = melodyNotes(tune);
  const onsets: CompanionOnset[] = [];
  for (const [index, measure] of tune.measures.entries()) {
    const start = starts[index]!;
    const end = starts[index + 1]!;
    const pulse = pulseTicks(measure.meter);
    const ticks = new Set<number>();
    for (let place = 0; place < measureTicks(measure.meter); place += pulse) {
      const tick = place - measure.offset;
      if (tick >= 0 && tick < measure.ticks) ticks.add(start + tick);
    }
    for (const span of spans)
      if (span.at >= start && span.at < end && onGrid(span.at - start)) ticks.add(span.at);
    const inMeasure: CompanionOnset[] = [];
    for (const at of [...ticks].sort((a, b) => a - b)) {
      const span = spans.find(s => s.at <= at && at < s.at + s.ticks);
      if (!span) continue;
      const place = at - start + measure.offset;
      const changes = span.at === at;
      const accented = changes || place === 0;
      const role: BassRole =
        accented || takesRoot(measure.meter, Math.round(place / pulse)) ? 'root' : 'alternate';
      if (style === 'chord-melody' && !accented) continue;
      inMeasure.push({ at, end, chord: span.chord, role, accented });
    }
    for (const [i, onset] of inMeasure.entries()) onset.end = inMeasure[i + 1]?.at ?? end;
    onsets.push(...inMeasure);
  }
  if (style === 'fingerstyle') return onsets;
  // A grip carries the melody on top, so it waits for the melody where that rests.
  return onsets.flatMap(onset => {
    const note = melody.find(n => n.at + n.ticks > onset.at);
    if (!note || note.at >= onset.end) return [];
    const at = Math.max(onset.at, note.at);
    return onGrid(at) ? [{ ...onset, at }] : [];
  });
}
