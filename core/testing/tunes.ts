/**
 * Made-up tunes in ABC for property tests: all modes, common meters and changes between them, pickups, tuplets, ties,
 * slurs, rests, accidentals and chords, together with the melody that was meant.
 */
import fc from 'fast-check';
import { type Key, keyFifths, MODES, type Mode, midiOf, type Step, signatureAlter } from '../pitch';
import { type Meter, measureTicks, TICKS_PER_WHOLE } from '../time';

export interface GeneratedTune {
  abc: string;
  key: Key;
  meter: Meter;
  /** MIDI notes in written order, tied ones included. */
  melody: number[];
  /** Length in ticks of every written measure. */
  lengths: number[];
}

const METERS: Meter[] = [
  { beats: 4, unit: 4 },
  { beats: 2, unit: 2 },
  { beats: 3, unit: 4 },
  { beats: 2, unit: 4 },
  { beats: 6, unit: 8 },
  { beats: 9, unit: 8 },
  { beats: 12, unit: 8 },
  { beats: 5, unit: 4 },
  { beats: 7, unit: 8 },
];
const MODE_ABC: Record<Mode, string> = {
  major: '',
  minor: 'm',
  dorian: 'Dor',
  mixolydian: 'Mix',
  phrygian: 'Phr',
  lydian: 'Lyd',
  locrian: 'Loc',
};
const TONICS = ['C', 'D', 'E', 'F', 'G', 'A', 'B', 'Bb', 'Eb', 'F#'];
const STEPS: Step[] = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];

/** ABC for a diatonic number, 0 = C4. */
function abcNote(diatonic: number): string {
  const letter = STEPS[((diatonic % 7) + 7) % 7]!;
  const octave = Math.floor(diatonic / 7);
  if (octave >= 1) return letter.toLowerCase() + "'".repeat(octave - 1);
  return letter + ','.repeat(-octave);
}

const CHORD_KINDS = ['', 'm', '7', 'm7', 'sus4', '6', 'dim'];

/** Builds a tune from a stream of numbers, so that fast-check can shrink it. */
function tuneFrom(choices: readonly number[], options: { low: number; high: number }): GeneratedTune {
  let cursor = 0;
  const pick = (n: number) => (choices[cursor++ % choices.length] ?? 0) % n;
  const meter = METERS[pick(METERS.length)]!;
  // One tune in four changes its meter half-way.
  const later = pick(4) === 0 ? METERS[pick(METERS.length)]! : meter;
  const wanted: Key = { tonic: TONICS[pick(TONICS.length)]!, mode: MODES[pick(MODES.length)]! };
  // Signatures of more than seven accidentals are not written.
  const key: Key = Math.abs(keyFifths(wanted)) <= 7 ? wanted : { tonic: 'D', mode: wanted.mode };
  const fifths = keyFifths(key);
  const measureCount = 1 + pick(8);
  const eighthsOf = (m: Meter) => (measureTicks(m) / TICKS_PER_WHOLE) * 8;
  const full = eighthsOf(meter);
  const withChords = pick(3) > 0;
  const pickup = pick(3) === 0 ? 1 + pick(2) : 0;
  const melody: number[] = [];
  const lengths: number[] = [];
  let at = options.low + pick(options.high - options.low + 1);
  let body = '';
  let tie: number | undefined;

  const measure = (eighths: number) => {
    let left = eighths;
    const altered = new Map<Step, number>();
    const note = (length: string, mayTie: boolean): string => {
      const tied = tie;
      if (tied !== undefined) at = tied;
      else at = Math.min(options.high, Math.max(options.low, at + pick(7) - 3));
      const step = STEPS[((at % 7) + 7) % 7]!;
      const octave = 4 + Math.floor(at / 7);
      let mark = '';
      // A tied note repeats the last pitch; accidentals elsewhere now and then, natural and sharp.
      if (tied === undefined && pick(12) === 0) {
        const alter = pick(2);
        altered.set(step, alter);
        mark = alter ? '^' : '=';
      }
      const alter = altered.get(step) ?? signatureAlter(fifths, step);
      const midi = tied === undefined ? midiOf({ step, alter, octave }) : melody[melody.length - 1]!;
      melody.push(midi);
      const ties = mayTie && pick(9) === 0 && alter === signatureAlter(fifths, step);
      tie = ties ? at : undefined;
      return mark + abcNote(at) + length + (ties ? '-' : '');
    };
    while (left > 0) {
      if (withChords && (left === eighths || pick(6) === 0)) {
        const root = STEPS[pick(7)]!;
        body += `"${root}${CHORD_KINDS[pick(CHORD_KINDS.length)]}"`;
      }
      const kind = pick(8);
      if (kind === 0 && left >= 2 && tie === undefined) {
        body += `(3${note('', false)}${note('', false)}${note('', false)}`;
        left -= 2;
      } else if (kind === 3 && left >= 2 && tie === undefined && pick(2) === 0) {
        body += `(${note('', false)}${note('', false)})`;
        left -= 2;
      } else if (kind === 1 && tie === undefined) {
        // An eighth, a quarter, or most of what is left of the measure, as one value.
        const long = [8, 6, 5, 4, 3, 2, 1].find(value => value <= left)!;
        const rest = Math.min(left, [1, 1, 2, long][pick(4)]!);
        body += `z${rest === 1 ? '' : rest}`;
        left -= rest;
      } else if (kind === 2 && tie === undefined) {
        body += `${note('/', false)}${note('/', false)}`;
        left -= 1;
      } else {
        const length = Math.min(left, [1, 1, 2, 2, 3, 4][pick(6)]!);
        body += note(length === 1 ? '' : String(length), true) + (pick(2) ? ' ' : '');
        left -= length;
      }
    }
    lengths.push((eighths / 8) * TICKS_PER_WHOLE);
  };
  if (pickup && pickup < full) {
    measure(pickup);
    body += ' | ';
  }
  const turn = Math.ceil(measureCount / 2);
  for (let i = 0; i < measureCount; i++) {
    if (i === turn && later !== meter) body += `[M:${later.beats}/${later.unit}] `;
    measure(eighthsOf(i < turn ? meter : later));
    body += i === measureCount - 1 ? ' |]' : ' | ';
  }
  // A tie left open at the end leads nowhere.
  body = body.replace(/- ?(?= \|\]$)/, '');
  const abc = `X:1\nT:Generated\nM:${meter.beats}/${meter.unit}\nL:1/8\nQ:1/4=${60 + pick(120)}\nK:${key.tonic}${MODE_ABC[key.mode]}\n${body}\n`;
  return { abc, key, meter, melody, lengths };
}

/** Tunes whose melody lies between two diatonic numbers (0 = C4). */
export function tunes(
  options: { low: number; high: number } = { low: -2, high: 13 },
): fc.Arbitrary<GeneratedTune> {
  return fc.array(fc.nat(5039), { minLength: 40, maxLength: 160 }).map(choices => tuneFrom(choices, options));
}
