/** The strings that a tablature is for, and how its pitches are written. */
import { parseChord, transposeChord } from '../../chord';
import {
  INSTRUMENT_IDS,
  INSTRUMENTS,
  type InstrumentId,
  noteAt,
  type Setup,
  standardSetup,
  tuningName,
  tuningsOf,
} from '../../instrument';
import {
  keyFifths,
  midiOf,
  type Pitch,
  parsePitch,
  semitoneWords,
  spellMidi,
  transposeKey,
} from '../../pitch';
import type { RemarkList } from '../file';
import { isPlaced } from './request';
import type { PartNote, ScorePart } from './scorePart';

/** Notes whose place on the strings tells how high they sound: a harmonic or a dead note does not. */
const tells = (note: PartNote): boolean =>
  isPlaced(note) &&
  note.pitch !== undefined &&
  !note.techniques.some(({ kind }) => kind === 'harmonic' || kind === 'dead');

const toldNotes = (part: ScorePart): PartNote[] =>
  part.measures.flatMap(measure => measure.notes.filter(tells));

/** Semitones by which a note sounds higher on its string than it is written; undefined where there is no such string. */
function awayOf(setup: Setup, { string, fret, pitch }: PartNote): number | undefined {
  return string! > setup.tuning.length ? undefined : noteAt(setup, string!, fret!) - midiOf(pitch!);
}

/** The instrument and tuning of a tablature: as it says, else those with which most of its pitches agree. */
export function setupOf(part: ScorePart, instrument: InstrumentId | undefined, guesses: RemarkList): Setup {
  const { tuning, capo = 0 } = part;
  if (!tuning) return likelySetup(part, instrument, guesses);
  const strings = tuning.length;
  const midis = tuning.map(name => midiOf(parsePitch(name)!));
  const away = (id: InstrumentId) =>
    INSTRUMENTS[id].tuning.reduce(
      (sum, name, i) => sum + Math.abs(midiOf(parsePitch(name)!) - (midis[i] ?? 0)),
      0,
    );
  const fitting = INSTRUMENT_IDS.filter(
    id => INSTRUMENTS[id].tuning.length === (strings <= 4 ? 4 : Math.max(strings, 5)),
  );
  const own =
    (instrument && fitting.includes(instrument) ? instrument : undefined) ??
    fitting.toSorted((a, b) => away(a) - away(b))[0] ??
    'guitar';
  const usual = standardSetup(own, capo);
  return strings === usual.tuning.length ? { ...usual, tuning } : usual;
}

function likelySetup(part: ScorePart, instrument: InstrumentId | undefined, guesses: RemarkList): Setup {
  const { capo = 0, lines = 0 } = part;
  const notes = toldNotes(part);
  const placed = part.measures.flatMap(measure => measure.notes.filter(isPlaced));
  const strings = placed.reduce((most, note) => Math.max(most, note.string!), lines);
  const named = (id: InstrumentId) => part.name.toLowerCase().includes(INSTRUMENTS[id].name.toLowerCase());
  const setups = INSTRUMENT_IDS.filter(id => INSTRUMENTS[id].tuning.length >= strings)
    .sort(
      (a, b) => Number(b === instrument) - Number(a === instrument) || Number(named(b)) - Number(named(a)),
    )
    .flatMap(id => tuningsOf(id).map(({ tuning }): Setup => ({ ...standardSetup(id, capo), tuning })));
  const agreeing = (setup: Setup) => {
    const counts = new Map<number | undefined, number>();
    for (const note of notes) {
      const away = awayOf(setup, note);
      counts.set(away, (counts.get(away) ?? 0) + 1);
    }
    return Math.max(0, ...[0, capo, 12, -12].map(away => counts.get(away) ?? 0));
  };
  const fewest = Math.min(...setups.map(setup => setup.tuning.length));
  const best = setups
    .map(setup => ({
      setup,
      // Of those that fit alike: as many strings as there are lines, else the first of them.
      fits: agreeing(setup) + (lines && setup.tuning.length === fewest ? 0.5 : 0),
    }))
    .sort((a, b) => b.fits - a.fits)[0]?.setup;
  const setup = best ?? standardSetup(instrument ?? 'guitar', capo);
  guesses.add(`no tuning is said: ${INSTRUMENTS[setup.instrument].name}, ${tuningName(setup)} is taken`);
  return setup;
}

/** Notes from which on it is no chance that all are written as far off. */
const FEW = 4;

/**
 * Semitones by which all notes of a tablature sound higher than they are written: as the shapes are called without the capo,
 * in another octave, or for strings that are tuned otherwise. 0 where they agree, or disagree one by one.
 */
export function writtenAway(part: ScorePart, setup: Setup): number {
  const notes = toldNotes(part);
  const all = new Set(notes.map(note => awayOf(setup, note)));
  const [away] = all;
  if (all.size !== 1 || !away) return 0;
  return away === setup.capo || away % 12 === 0 || notes.length >= FEW ? away : 0;
}

/** How that is said. */
export function awayWords(away: number, setup: Setup): string {
  const way = away > 0 ? 'higher' : 'lower';
  if (away === setup.capo)
    return 'the pitches are those of the shapes without the capo: they are taken as they sound';
  const far = Math.abs(away) === 12 ? 'an octave' : semitoneWords(away);
  return `the tablature sounds ${far} ${way} than the pitches are written: it is taken as the tablature has it`;
}

/** A part with its notes, chords and keys so many semitones higher. */
export function moved(part: ScorePart, semitones: number): ScorePart {
  if (!semitones) return part;
  const octaves = semitones % 12 === 0;
  const pitchIn = (pitch: Pitch, fifths: number): Pitch =>
    octaves
      ? { ...pitch, octave: pitch.octave + semitones / 12 }
      : spellMidi(midiOf(pitch) + semitones, fifths);
  return {
    ...part,
    measures: part.measures.map(measure => {
      const key = octaves ? measure.key : transposeKey(measure.key, semitones);
      const fifths = keyFifths(key);
      const note = (own: PartNote): PartNote => ({
        ...own,
        ...(own.pitch && { pitch: pitchIn(own.pitch, fifths) }),
        graces: own.graces.map(note),
      });
      return {
        ...measure,
        key,
        notes: measure.notes.map(note),
        chords: octaves
          ? measure.chords
          : measure.chords.map(chord => {
              const parsed = parseChord(chord.symbol);
              return parsed ? { ...chord, symbol: transposeChord(parsed, semitones, fifths).symbol } : chord;
            }),
      };
    }),
  };
}
