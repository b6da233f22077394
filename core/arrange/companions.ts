import { type Chord, parseChord } from '../chord';
import type { Key } from '../pitch';
import type { ArrangeSettings, Style } from '../score';
import {
  isCompound,
  type Meter,
  measureTicks,
  pulseCount,
  pulseTicks,
  strongBeats,
  TICKS_PER_WHOLE,
} from '../time';
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
  /** The chord begins here. */
  changes: boolean;
  /** The chord that begins at the next onset, where another one does: a walking bass leads into it. */
  next?: Chord;
  key: Key;
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

/** The thumb's role at a beat, by school. */
function roleAt(settings: ArrangeSettings, meter: Meter, pulse: number, accented: boolean): BassRole {
  if (settings.bass === 'drone') return 'drone';
  if (accented || settings.bass === 'steady' || settings.bass === 'strong') return 'root';
  if (settings.bass === 'walking') return 'walk';
  return takesRoot(meter, pulse) ? 'root' : 'alternate';
}

/**
 * Where the style sounds more than the melody: the thumb on beats and chord changes (fingerstyle), or grips at chord
 * changes and first beats, on strong beats or under every note (chord melody).
 */
export function companionOnsets(tune: Tune, style: Style, settings: ArrangeSettings): CompanionOnset[] {
  if (style === 'melody' || style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'none'))
    return [];
  const starts = measureStarts(tune.measures);
  const spans = chordSpans(tune).map(span => ({ ...span, chord: parseChord(span.symbol)! }));
  const melody = melodyNotes(tune);
  const onsets: CompanionOnset[] = [];
  for (const [index, measure] of tune.measures.entries()) {
    const start = starts[index]!;
    const end = starts[index + 1]!;
    const pulse = pulseTicks(measure.meter);
    const strong = new Set(strongBeats(measure.meter));
    const ticks = new Set<number>();
    for (let place = 0; place < measureTicks(measure.meter); place += pulse) {
      const tick = place - measure.offset;
      if (tick >= 0 && tick < measure.ticks) ticks.add(start + tick);
    }
    if (style === 'chord-melody' && settings.density === 'every') {
      for (const note of melody)
        if (note.measure === index && !note.tied && onGrid(note.at - start)) ticks.add(note.at);
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
      const wanted =
        style === 'fingerstyle'
          ? accented || settings.bass !== 'strong' || strong.has(place)
          : accented || settings.density === 'every' || (settings.density === 'strong' && strong.has(place));
      if (!wanted) continue;
      const role = roleAt(settings, measure.meter, Math.round(place / pulse), accented);
      inMeasure.push({ at, end, chord: span.chord, role, accented, changes, key: measure.key });
    }
    for (const [i, onset] of inMeasure.entries()) onset.end = inMeasure[i + 1]?.at ?? end;
    onsets.push(...inMeasure);
  }
  for (const [i, onset] of onsets.entries()) {
    const following = onsets[i + 1];
    if (following?.changes && following.chord.symbol !== onset.chord.symbol) onset.next = following.chord;
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
