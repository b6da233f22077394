/** Tunings: named, typed, and how far they lie from standard. */
import { germanNote, isGermanAlone, midiOf, type Pitch, parsePitch, pitchName } from '../pitch';
import { INSTRUMENTS, type Instrument, type InstrumentId } from './instruments';
import { openStringNote, type Setup, stringName } from './setup';

/** Named tunings, thickest string first as the trade says them (common practice). */
export const TUNINGS: Record<Instrument['kind'], { name: string; notes: string; strings: number }[]> = {
  guitar: [
    { name: 'Standard', notes: 'E2 A2 D3 G3 B3 E4', strings: 6 },
    { name: 'Drop D', notes: 'D2 A2 D3 G3 B3 E4', strings: 6 },
    { name: 'Double drop D', notes: 'D2 A2 D3 G3 B3 D4', strings: 6 },
    { name: 'D-A-D-G-A-D', notes: 'D2 A2 D3 G3 A3 D4', strings: 6 },
    { name: 'Open D', notes: 'D2 A2 D3 F#3 A3 D4', strings: 6 },
    { name: 'Open G', notes: 'D2 G2 D3 G3 B3 D4', strings: 6 },
    { name: 'Open C', notes: 'C2 G2 C3 G3 C4 E4', strings: 6 },
  ],
  mandolin: [],
};

/**
 * The named tunings of an instrument, its standard one first.
 *
 * @example tuningsOf('mandolin')[0].name // 'Standard'
 */
export function tuningsOf(instrument: InstrumentId): { name: string; tuning: string[] }[] {
  const { kind, tuning } = INSTRUMENTS[instrument];
  const named = TUNINGS[kind]
    .filter(t => t.strings === tuning.length)
    .map(t => ({ name: t.name, tuning: t.notes.split(' ').reverse() }));
  return named.length ? named : [{ name: 'Standard', tuning: [...tuning] }];
}

/** Names told already: a planner asks for that of each shape it weighs. */
const namesKnown = new Map<string, string>();

/**
 * Name of a tuning, or its notes from the thickest string to the thinnest: "D A D G A D".
 *
 * @example tuningName(setup) // 'Standard'
 */
export function tuningName(setup: Pick<Setup, 'instrument' | 'tuning'>): string {
  const notes = setup.tuning.join();
  const key = `${setup.instrument} ${notes}`;
  let name = namesKnown.get(key);
  if (name === undefined) {
    const named = tuningsOf(setup.instrument).find(t => t.tuning.join() === notes);
    name = named?.name ?? [...setup.tuning].reverse().map(openStringNote).join(' ');
    namesKnown.set(key, name);
  }
  return name;
}

/**
 * Reads a tuning typed note by note or as one word, thickest string first as the trade says it. A note without octave
 * ("D A D G A D", "DADGAD") takes the octave nearest to the string's standard pitch.
 *
 * @example parseTuning('D A D G A D', 'guitar') // ['D4', 'A3', 'G3', 'D3', 'A2', 'D2']
 */
export function parseTuning(text: string, instrument: InstrumentId): string[] | { error: string } {
  const standard = INSTRUMENTS[instrument].tuning;
  const trimmed = text.trim();
  const written = /^([A-H][b#]?){4,}$/.test(trimmed)
    ? trimmed.match(/[A-H][b#]?/g)!
    : trimmed.split(/[\s,-]+/).filter(Boolean);
  // Where one string is called H, or Es, the names are the German ones.
  const letters = (name: string) => name.replace(/\d+$/, '');
  const german = written.some(name => isGermanAlone(letters(name)));
  const names = german ? written.map(name => name.replace(/^\D+/, own => germanNote(own) ?? own)) : written;
  if (names.length !== standard.length)
    return { error: `${standard.length} strings are needed, ${names.length} were given` };
  const tuning: string[] = [];
  for (const [index, name] of names.entries()) {
    const string = standard.length - index;
    const usual = midiOf(parsePitch(standard[string - 1]!) as Pitch);
    const candidates = /\d$/.test(name) ? [name] : [0, 1, 2, 3, 4, 5, 6].map(octave => `${name}${octave}`);
    const [best] = candidates
      .flatMap(candidate => {
        const pitch = parsePitch(candidate);
        return pitch ? [{ name: pitchName(pitch), away: Math.abs(midiOf(pitch) - usual) }] : [];
      })
      .sort((a, b) => a.away - b.away);
    if (!best) return { error: `string ${string}: "${name}" is not a note such as D or E2` };
    if (best.away > 12)
      return {
        error: `string ${string}: ${best.name} lies more than an octave from its standard ${standard[string - 1]}`,
      };
    tuning[string - 1] = best.name;
  }
  return tuning;
}

/** How far one string is tuned from standard. */
export interface TuningChange {
  string: number;
  /** Semitones, negative when lower. */
  semitones: number;
  /** What may happen to the string; absent within −5 … +2 semitones. */
  warning?: string;
}

/**
 * Each string's distance from standard tuning. Above +2 semitones a string may break (common practice).
 *
 * @example
 * tuningChanges({ ...setup, tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'D2'] })[5]
 * // { string: 6, semitones: -2 }
 */
export function tuningChanges(setup: Pick<Setup, 'instrument' | 'tuning'>): TuningChange[] {
  return setup.tuning.map((name, index) => {
    const string = index + 1;
    const standard = INSTRUMENTS[setup.instrument].tuning[index]!;
    const semitones = midiOf(parsePitch(name) as Pitch) - midiOf(parsePitch(standard) as Pitch);
    const change: TuningChange = { string, semitones };
    const who = stringName(setup, string);
    if (semitones > 2)
      change.warning = `${who}: ${semitones} semitones above standard, it may break. Use a thinner string or a capo.`;
    if (semitones < -5)
      change.warning = `${who}: ${-semitones} semitones below standard, it will be slack and rattle.`;
    return change;
  });
}
