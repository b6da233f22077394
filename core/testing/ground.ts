/**
 * What must hold for everything: any tune with any road, instrument, tuning, capo, style, level, settings and pattern.
 */
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { arrange, PATTERNS } from '../arrange';
import { readAbc, writeMidi, writeMusicXml } from '../formats';
import { emptyBundle, readBundle, writeBundle } from '../formats/bundle';
import { HAND_SIZES, type Hand } from '../hand';
import { INSTRUMENT_IDS, type InstrumentId, type Setup, standardSetup, tuningsOf } from '../instrument';
import { describeMeasure, lessonSteps } from '../lesson';
import { midiOf, type Pitch, parsePitch, pitchName, spellMidi } from '../pitch';
import { faultOf } from '../records';
import { type Arrangement, type ArrangeSettings, has, isDead, momentsOf, STYLES, type Style } from '../score';
import { performanceOf } from '../sound';
import { FEELS } from '../time';
import { Clock, playingOrder } from '../timeline';
import { gripAt, handsIn, trackOf } from '../track';
import { ROAD_MARKS, type Tune } from '../tune';
import { faultsOf } from './findings';
import { schemaFaults } from './musicxml';
import { anySettings } from './settings';
import { tunes } from './tunes';

/** One case: what is asked of the arranger. */
export interface GroundCase {
  tune: Tune;
  style: Style;
  setup: Setup;
  capo: number | 'auto';
  hand: Hand;
  settings: ArrangeSettings;
}

/** A tuning near the standard one: each string a little lower or higher, as players type them. */
function retuned(instrument: InstrumentId, steps: readonly number[]): string[] {
  return standardSetup(instrument).tuning.map((name, i) =>
    pitchName(spellMidi(midiOf(parsePitch(name) as Pitch) + (steps[i % steps.length] ?? 0), 0)),
  );
}

const anySetup: fc.Arbitrary<Setup> = fc
  .record({
    instrument: fc.constantFrom(...INSTRUMENT_IDS),
    tuning: fc.constantFrom('standard', 'standard', 'named', 'typed'),
    which: fc.nat(20),
    steps: fc.array(fc.integer({ min: -2, max: 1 }), { minLength: 6, maxLength: 6 }),
    capo: fc.integer({ min: 0, max: 7 }),
    partial: fc.nat(4),
  })
  .map(({ instrument, tuning, which, steps, capo, partial }) => {
    const named = tuningsOf(instrument);
    const setup: Setup = {
      ...standardSetup(instrument),
      capo,
      ...(tuning === 'named' && { tuning: named[which % named.length]!.tuning }),
      ...(tuning === 'typed' && { tuning: retuned(instrument, steps) }),
    };
    const strings = setup.tuning.map((_, i) => i + 1);
    return partial === 0 && capo > 0 ? { ...setup, capoStrings: strings.slice(1, -1) } : setup;
  });

/** A tune with repeats, jumps, tempo changes, fermatas and a feel laid over it. */
const anyTune: fc.Arbitrary<Tune> = fc
  .record({
    generated: tunes({ low: -5, high: 12 }),
    feel: fc.constantFrom(...FEELS),
    bars: fc.array(
      fc.record({
        at: fc.nat(20),
        kind: fc.constantFrom('repeat', 'ending', 'mark', 'tempo', 'fermata'),
        value: fc.nat(200),
      }),
      { maxLength: 4 },
    ),
  })
  .map(({ generated, feel, bars }) => {
    const { tune } = readAbc(generated.abc)[0]!;
    for (const { at, kind, value } of bars) {
      const measure = tune.measures[at % tune.measures.length]!;
      if (kind === 'repeat') Object.assign(measure, { repeatEnd: true, passes: 1 + (value % 4) });
      if (kind === 'ending') measure.ending = [1 + (value % 3)];
      if (kind === 'mark') measure.marks = [ROAD_MARKS[value % ROAD_MARKS.length]!];
      if (kind === 'tempo')
        measure.tempos = [{ start: 0, quartersPerMinute: 50 + value, ...(value % 2 && { over: 10080 }) }];
      if (kind === 'fermata') measure.fermatas = [measure.events[value % measure.events.length]!.start];
    }
    return { ...tune, feel };
  });

export const anyCase: fc.Arbitrary<GroundCase> = fc.record({
  tune: anyTune,
  style: fc.constantFrom(...STYLES),
  setup: anySetup,
  capo: fc.boolean().map((auto): number | 'auto' => (auto ? 'auto' : 0)),
  hand: fc.record({ size: fc.constantFrom(...HAND_SIZES), thumb: fc.boolean(), beginner: fc.boolean() }),
  settings: fc
    .tuple(anySettings, fc.option(fc.constantFrom(...PATTERNS.map(p => p.text)), { nil: undefined }))
    // A pick can't pinch: what is asked against itself is a finding, and rightly so.
    .map(([settings, pattern]) => ({
      ...settings,
      ...(pattern && !(settings.school === 'pick' && /\([^)]*B/.test(pattern)) && { pattern }),
    })),
});

/** A property over every case. */
export function forEachCase(check: (piece: GroundCase) => void) {
  return fc.property(anyCase, piece => {
    check({ ...piece, capo: piece.capo === 'auto' ? 'auto' : piece.setup.capo });
  });
}

/** Everything that does not hold in a case, in words. What the arranger refuses with a reason is no fault. */
export function groundFaults({ tune, style, setup, capo, hand, settings }: GroundCase): string[] {
  const result = arrange(tune, {
    id: 'ground',
    instrument: setup.instrument,
    setup,
    style,
    capo,
    hand,
    settings,
  });
  if (result.problem) return result.problem.message ? [] : ['refused without a reason'];
  const { arrangement } = result;
  return [
    ...faultsOf(arrangement, tune).map(f => `finding: ${f.measure} ${f.message}`),
    ...recordFaults(arrangement, tune),
    ...timeFaults(arrangement),
    ...handFaults(arrangement),
    ...fileFaults(arrangement),
  ];
}

/** The door, the bundle, the lesson's ids. */
function recordFaults(arrangement: Arrangement, tune: Tune): string[] {
  const faults: string[] = [];
  const fault = faultOf('arrangements', arrangement) ?? faultOf('tunes', tune);
  if (fault) faults.push(`record: ${fault}`);
  const bundle = { ...emptyBundle(), tunes: [tune], arrangements: [arrangement] };
  const back = readBundle(writeBundle(bundle));
  if (back.error !== undefined) faults.push(`bundle: ${back.error}`);
  else if (
    JSON.stringify(back.bundle.arrangements) !== JSON.stringify(JSON.parse(JSON.stringify([arrangement])))
  )
    faults.push('bundle: the arrangement comes back another');
  const steps = lessonSteps(arrangement).map(step => step.id);
  if (new Set(steps).size !== steps.length) faults.push('lesson: a step stands twice');
  return faults;
}

/** Onsets of the clock, of MIDI and of the sound are the same. */
function timeFaults(arrangement: Arrangement): string[] {
  const faults: string[] = [];
  const order = playingOrder(arrangement);
  const clock = new Clock(arrangement, order);
  const { notes } = trackOf(arrangement, order);
  const sounds = performanceOf(arrangement, order, 100).events;
  const heard = new Set(sounds.map(s => `${s.time.toFixed(6)} ${s.midi}`));
  for (const { note, at, midi } of notes)
    if (!note.graces && !heard.has(`${clock.seconds(at).toFixed(6)} ${midi}`))
      faults.push(`sound: ${note.id} at ${at} is not heard on time`);
  // The strokes of a tremolo are as many as the sound has, in even steps to its written end.
  const strokesOf = ({ note, at, writtenEnd }: (typeof notes)[number]) => {
    const [from, to] = [clock.felt(at), clock.felt(writtenEnd)];
    const [begins, ends] = [clock.seconds(at), clock.seconds(writtenEnd)];
    const again = sounds.filter(
      s => s.again && s.string === note.string && s.time > begins && s.time < ends - 1e-6,
    );
    const count = Math.min(again.length + 1, to - from);
    return Array.from({ length: count }, (_, i) => from + Math.round(((to - from) * i) / count));
  };
  const wanted = notes
    .filter(n => !isDead(n.note))
    .flatMap(n => (has(n.note, 'tremolo') ? strokesOf(n) : [clock.felt(n.at)]).map(at => `${at} ${n.midi}`))
    .sort();
  const file = parseMidi(writeMidi(arrangement));
  const written = file.tracks
    .flatMap(track => {
      let at = 0;
      return track.flatMap(event => {
        at += event.deltaTime;
        return event.type === 'noteOn' ? [`${at} ${event.noteNumber}`] : [];
      });
    })
    .sort();
  if (JSON.stringify(wanted) !== JSON.stringify(written))
    faults.push('midi: other onsets than the clock has');
  for (let i = 1; i < clock.starts.length; i++)
    if (!(clock.seconds(clock.starts[i]!) > clock.seconds(clock.starts[i - 1]!)))
      faults.push(`clock: measure ${i} of the road takes no time`);
  return faults;
}

/** Ring, words and neck pictures never contradict each other. */
function handFaults(arrangement: Arrangement): string[] {
  const faults: string[] = [];
  const { notes, holds } = trackOf(arrangement);
  for (const { note, at, ringEnd } of notes) {
    if (!note.finger || !note.fret || isDead(note) || has(note, 'harmonic')) continue;
    const until = holds
      .filter(
        h => h.finger === note.finger && h.fret === note.fret && h.from <= note.string && note.string <= h.to,
      )
      .reduce((end, h) => (h.at <= end && h.end > end ? h.end : end), at);
    if (ringEnd > until)
      faults.push(`ring: ${note.id} sounds until ${ringEnd}, its finger lifts at ${until}`);
  }
  let start = 0;
  for (const [index, measure] of arrangement.measures.entries()) {
    const hands = handsIn(arrangement, index);
    const told = describeMeasure(arrangement, index);
    for (const moment of momentsOf(measure, index)) {
      const grip = gripAt({ holds }, start + moment.start);
      if (JSON.stringify(hands(moment.start).now) !== JSON.stringify(grip))
        faults.push(`hand: measure ${index + 1} at ${moment.start} differs from the whole track`);
      const words = told.find(m => m.start === moment.start)?.fingers ?? '';
      for (const match of words.matchAll(/Finger (\d) lifts/g))
        if (grip.some(p => p.finger === Number(match[1])))
          faults.push(`lesson: finger ${match[1]} is said to lift and is down`);
    }
    start += measure.ticks;
  }
  return faults;
}

/** Every writer writes, and what it writes is valid. */
function fileFaults(arrangement: Arrangement): string[] {
  const faults = schemaFaults(writeMusicXml(arrangement));
  return faults ? [`musicxml: ${faults.split('\n').slice(0, 2).join(' ')}`] : [];
}
