import { type Chord, parseChord } from '../../chord';
import { isStrum, type PatternStroke } from '../../fingering';
import type { Key } from '../../pitch';
import type { ArrangeSettings, Style } from '../../score';
import { isCompound, type Meter, measureTicks, pulseCount, pulseTicks, TICKS_PER_WHOLE } from '../../time';
import { chordSpans, measureStarts, melodyNotes, sectionsOf, type Tune, type TuneMeasure } from '../../tune';
import { chordChanges, firstAlike } from '../alike';
import { type Close, lastChordOf } from '../close';
import { isBlock, layPattern } from '../texture/patterns';
import { strokeBeats } from '../texture/texture';
import { type BassRole, takesTurns } from './bass';
import { passingChords } from './grips';

/** A place in time where strings are sounded with or under the melody. Ticks run over the written measures. */
export interface CompanionOnset {
  at: number;
  end: number;
  chord: Chord;
  role: BassRole;
  /** Falls where the chord changes or on the first beat: it tells the ear where it is. */
  accented: boolean;
  /** Falls on a strong beat of the meter. */
  strong: boolean;
  /** Strings of a pattern are plucked between it and the melody. */
  patterned?: boolean;
  /** The chord begins here. */
  changes: boolean;
  /** The chord that begins at the next onset, where another one does: a walking bass leads into it. */
  next?: Chord;
  /** It goes on from the chord's root and comes back to it. */
  returns?: boolean;
  key: Key;
  /** The melody rests at least a beat on what is struck here. */
  rests?: boolean;
  /** The tune or a part of it begins or closes here: the ear wants the root below. */
  strict?: boolean;
  /** The last chord is struck here. */
  closes?: boolean;
  /** Chords that may pass into the next one here, in place of the chord. */
  passing?: Chord[];
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

/** The thumb's role at a beat, by school; `turn` strokes after the last accent. */
function roleAt(settings: ArrangeSettings, meter: Meter, pulse: number, turn: number): BassRole {
  const accented = turn === 0;
  if (settings.bass === 'drone') return 'drone';
  if (accented || settings.bass === 'steady') return 'root';
  if (settings.bass === 'strong') return settings.bassTurns && turn % 2 ? 'fifth' : 'root';
  if (settings.bass === 'walking') return 'walk';
  if (settings.alternation === 'three') {
    // Over three strings the other string comes on every second beat, the fifth in the middle: 5-4-6-4 under A minor.
    if (pulse % 2 === 1) return 'upper';
    return takesRoot(meter, pulse) && pulse % 4 === 0 ? 'root' : 'lower';
  }
  if (takesRoot(meter, pulse)) return 'root';
  return settings.alternation === 'third' ? 'third' : 'fifth';
}

/**
 * Where a picking pattern gives the thumb something to do, by tick from the start of what is written.
 *
 * @param takesTurn whether a bass takes turns with the root before it
 * @param inTurn whether the only one of the measure does, with that of the measure before
 */
function patternBass(
  strokes: readonly PatternStroke[],
  measure: Parameters<typeof layPattern>[1],
  restarts: boolean | undefined,
  takesTurn: boolean,
  inTurn: boolean,
): Map<number, BassRole> {
  const roles = new Map<number, BassRole>();
  const laid = layPattern(strokes, measure, restarts);
  const basses = laid.filter(({ stroke }) => stroke.play.includes('B') || stroke.play[0] === 'D');
  let before: BassRole | undefined = basses.length === 1 && inTurn ? 'root' : undefined;
  for (const { start, stroke } of basses) {
    // A chord that is struck whole stands on its root.
    const turns: boolean = takesTurn && before === 'root' && !isBlock(stroke) && !isStrum(stroke);
    before = turns ? 'fifth' : 'root';
    roles.set(start, before);
  }
  for (const { start, stroke } of laid) if (stroke.play.includes('A')) roles.set(start, 'upper');
  return roles;
}

/**
 * The measures in which a bass that comes once a measure is not the root but takes its turn: every second one under a
 * chord that stays, as a waltz goes (common practice). Not where a section closes, nor under a melody that is played where
 * an equal measure begins a chord: what is equal is played so.
 *
 * @param sung whether the melody is left to a voice
 */
function measuresInTurn(
  tune: Tune,
  newChords: ReadonlySet<number>,
  close: Close | undefined,
  sung = false,
): ReadonlySet<number> {
  const starts = measureStarts(tune.measures);
  /** Whether no other chord has begun since the first beat of the measure before. */
  const stays = (measure: number) =>
    [...newChords].every(at => at <= starts[measure - 1]! || starts[measure]! < at);
  const able = new Set<number>();
  for (const { from, to } of sectionsOf(tune.measures)) {
    let run = 0;
    for (let m = from + 1; m < to - 1; m++) {
      // A chord that stays from the pickup on begins with the first measure.
      run = stays(m) && tune.measures[m - 1]!.offset === 0 ? run + 1 : 0;
      if (run % 2 === 1 && m !== close?.measure) able.add(m);
    }
  }
  if (sung) return able;
  const kinds = firstAlike(tune);
  const never = new Set(kinds.filter((_, m) => !able.has(m)));
  return new Set([...able].filter(m => !never.has(kinds[m]!)));
}

/**
 * Where the bass of a pattern under a singer takes turns with the root before it, by tick from the start of what is
 * written. One that has the next string on its way moves by itself.
 *
 * @param strokesFor the picking pattern of each measure
 */
export function turnsUnderSinger(
  tune: Tune,
  settings: Pick<ArrangeSettings, 'patternRestarts'>,
  strokesFor: (meter: Meter, measure: number) => readonly PatternStroke[],
  close: Close | undefined,
): ReadonlySet<number>[] {
  const starts = measureStarts(tune.measures);
  const newChords = chordChanges(tune);
  const inTurn = measuresInTurn(tune, newChords, close, true);
  return tune.measures.map((measure, index) => {
    const strokes = strokesFor(measure.meter, index);
    const roles = patternBass(strokes, measure, settings.patternRestarts, true, inTurn.has(index));
    const turns = [...roles].filter(([at, role]) => role === 'fifth' && !newChords.has(starts[index]! + at));
    return new Set([...roles.values()].includes('upper') ? [] : turns.map(([at]) => at));
  });
}

/**
 * Where the style sounds more than the melody: the thumb on beats and chord changes (fingerstyle), or grips at chord
 * changes and first beats, on strong beats or under every note (chord melody).
 *
 * @param strokesFor the picking pattern of each measure, for a bass that follows one
 * @param close the note that the tune comes to rest on
 */
export function companionOnsets(
  tune: Tune,
  style: Style,
  settings: ArrangeSettings,
  strokesFor: (meter: Meter, measure: number) => readonly PatternStroke[],
  close: Close | undefined,
): CompanionOnset[] {
  if (style === 'melody' || style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'none'))
    return [];
  const starts = measureStarts(tune.measures);
  const spans = chordSpans(tune).map(span => ({ ...span, chord: parseChord(span.symbol)! }));
  const melody = melodyNotes(tune);
  const last = lastChordOf(tune);
  const newChords = chordChanges(tune);
  const inTurn = settings.bassTurns ? measuresInTurn(tune, newChords, close) : new Set<number>();
  const onsets: CompanionOnset[] = [];
  for (const [index, measure] of tune.measures.entries()) {
    const start = starts[index]!;
    const end = starts[index + 1]!;
    const pulse = pulseTicks(measure.meter);
    const strong = new Set(strokeBeats(measure.meter, tune.quartersPerMinute));
    const ticks = new Set<number>();
    const byPattern =
      style === 'fingerstyle' && settings.bass === 'pattern'
        ? patternBass(
            strokesFor(measure.meter, index),
            measure,
            settings.patternRestarts,
            settings.bassTurns ?? false,
            inTurn.has(index),
          )
        : undefined;
    for (const tick of byPattern?.keys() ?? []) ticks.add(start + tick);
    for (let place = 0; !byPattern && place < measureTicks(measure.meter); place += pulse) {
      const tick = place - measure.offset;
      if (tick >= 0 && tick < measure.ticks) ticks.add(start + tick);
    }
    if (style === 'chord-melody' && settings.density === 'every') {
      for (const note of melody)
        if (note.measure === index && !note.tied && onGrid(note.at - start)) ticks.add(note.at);
    }
    for (const span of spans)
      if (span.at >= start && span.at < end && onGrid(span.at - start)) ticks.add(span.at);
    const closes = style === 'chord-melody' && last?.measure === index && onGrid(last.at - start);
    if (closes) ticks.add(last.at);
    const inMeasure: CompanionOnset[] = [];
    for (const at of [...ticks].sort((a, b) => a - b)) {
      const span = spans.find(s => s.at <= at && at < s.at + s.ticks);
      if (!span) continue;
      const place = at - start + measure.offset;
      const changes = span.at === at;
      const accented = changes || place === 0;
      const wanted =
        byPattern !== undefined ||
        (style === 'fingerstyle'
          ? accented || settings.bass !== 'strong' || strong.has(place)
          : accented ||
            (closes && at === last.at) ||
            settings.density === 'every' ||
            (settings.density === 'strong' && strong.has(place)));
      if (!wanted) continue;
      const turn = accented ? 0 : inMeasure.length - inMeasure.findLastIndex(own => own.accented);
      const usual = byPattern
        ? (!newChords.has(at) && byPattern.get(at - start)) || 'root'
        : roleAt(settings, measure.meter, Math.round(place / pulse), turn);
      // The thumb's last bass is a root.
      const isLast = at === last?.at;
      const role = style === 'fingerstyle' && isLast && takesTurns(usual) ? 'root' : usual;
      inMeasure.push({
        at,
        end,
        chord: span.chord,
        role,
        accented,
        strong: strong.has(place),
        ...(byPattern && { patterned: true }),
        ...(isLast && { closes: true }),
        changes,
        key: measure.key,
      });
    }
    if (style === 'chord-melody' && settings.passing) addPassing(inMeasure, spans, end, measure);
    for (const [i, onset] of inMeasure.entries()) onset.end = inMeasure[i + 1]?.at ?? end;
    onsets.push(...inMeasure);
  }
  for (const [i, onset] of onsets.entries()) {
    const following = onsets[i + 1];
    if (following?.changes && following.chord.symbol !== onset.chord.symbol) onset.next = following.chord;
    const around = [onsets[i - 1], following];
    const isRooted = around.every(
      other => other?.role === 'root' && other.chord.symbol === onset.chord.symbol,
    );
    if (onset.role === 'walk' && isRooted) onset.returns = true;
  }
  markCloses(onsets, tune, starts);
  // The last chord rings: after it only first beats are struck.
  const due = onsets.filter(onset => onset.accented || !close || onset.at <= close.at);
  if (style === 'fingerstyle') return due;
  // What doubles the melody waits for it; a chord keeps the beat that the melody leaves out.
  const waits = (settings.doubling ?? 'grips') !== 'grips';
  return due.flatMap((onset): CompanionOnset[] => {
    const note = melody.find(n => n.at + n.ticks > onset.at);
    if (!note) return waits || (close && onset.at > close.at) ? [] : [{ ...onset, rests: true }];
    const pulse = pulseTicks(tune.measures[note.measure]!.meter);
    const at = Math.max(onset.at, note.at);
    if (!waits && at > onset.at) {
      const { passing: _none, ...own } = onset;
      return [{ ...own, rests: at - onset.at >= pulse }];
    }
    if (note.at >= onset.end || !onGrid(at)) return [];
    const rests = note.at + note.ticks - at >= pulse;
    return [{ ...onset, at, ...(rests && { rests }) }];
  });
}

/** Marks the first chord, and the last one of every section. */
function markCloses(onsets: readonly CompanionOnset[], tune: Tune, starts: readonly number[]): void {
  const [first] = onsets;
  if (first) first.strict = true;
  for (const { to } of sectionsOf(tune.measures)) {
    const close = onsets.findLast(onset => onset.changes && onset.at < starts[to]!);
    if (!close) continue;
    for (const onset of onsets)
      if (onset.at >= close.at && onset.at < starts[to]!)
        onset.strict = onset.accented || onset === onsets.at(-1);
  }
}

/** A chord that lasts at least this many pulses has time for another to pass before the next; judgement. */
const ROOM_TO_PASS = 2;

/** Adds an onset for a passing chord on the last pulse before each chord change, where there is time for one. */
function addPassing(
  onsets: CompanionOnset[],
  spans: readonly { at: number; ticks: number; chord: Chord }[],
  end: number,
  measure: TuneMeasure,
): void {
  const pulse = pulseTicks(measure.meter);
  for (const [i, span] of spans.entries()) {
    const next = spans[i + 1];
    const at = span.at + span.ticks - pulse;
    // The pulse must lie in this measure, and the next chord follow at its end.
    if (!next || next.at !== at + pulse || at + pulse > end || at < end - measure.ticks) continue;
    if (span.ticks < ROOM_TO_PASS * pulse || next.chord.symbol === span.chord.symbol || !onGrid(at)) continue;
    const passing = passingChords(span.chord, next.chord, measure.key);
    const there = onsets.find(onset => onset.at === at);
    if (there) there.passing = passing;
    else
      onsets.push({
        at,
        end,
        chord: span.chord,
        role: 'root',
        accented: false,
        strong: false,
        changes: false,
        key: measure.key,
        passing,
      });
  }
  onsets.sort((a, b) => a.at - b.at);
}
