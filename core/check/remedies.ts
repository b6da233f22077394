/** Ways out of a finding, each an edit that can be undone. */
import { applyEdit, type Edit, startHistory } from '../edit';
import { fingerLabel } from '../hand';
import { harmonicPlaces, noteAt, placesOf, stringName } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  findNote,
  graceSpots,
  has,
  intoOf,
  MOST_BESIDE,
  measureIndex,
  noteMidi,
  PLUCK_NAMES,
  type Pluck,
  type ScoreNote,
  spotsOf,
} from '../score';
import { melodyNotes, type Tune } from '../tune';
import { measureDifficulty } from './difficulty';
import { checkArrangement, type Finding } from './findings';

export interface Remedy {
  label: string;
  edit: Edit;
  /** Difficulty of the measure afterwards. */
  difficulty: number;
}

/** Most remedies offered for a finding. */
const OFFERED = 3;

/**
 * Edits that take a finding away without bringing others into its measure, the easiest to play first.
 *
 * @param tune the source, where a remedy may have to put the melody back
 * @example remediesFor(arrangement, finding)[0] // to be shown as its label, "Play G4 on string 2, B, fret 8"
 */
export function remediesFor(arrangement: Arrangement, finding: Finding, tune?: Tune): Remedy[] {
  const history = startHistory(arrangement);
  const here = (a: Arrangement) => {
    const index = measureIndex(a, finding.measure);
    return index < 0 ? [] : checkArrangement(a, tune, { from: index, to: index });
  };
  const before = here(arrangement).length;
  const same = (f: Finding) =>
    f.kind === finding.kind && f.start === finding.start && f.message === finding.message;
  const remedies: Remedy[] = [];
  for (const { label, edit } of candidateEdits(arrangement, finding, tune)) {
    const result = applyEdit(history, edit);
    if ('error' in result) continue;
    const after = here(result.present);
    if (after.some(same) || after.length >= before) continue;
    remedies.push({
      label,
      edit,
      difficulty: measureDifficulty(result.present, measureIndex(result.present, finding.measure)).total,
    });
  }
  return remedies.sort((a, b) => a.difficulty - b.difficulty).slice(0, OFFERED);
}

const PLUCKS: readonly Pluck[] = ['p', 'i', 'm', 'a', 'down', 'up'];
/** The melody note that ends where another begins. */
function melodyBefore(arrangement: Arrangement, measure: number, note: ScoreNote): ScoreNote | undefined {
  const endsAt = (index: number, end: number) =>
    arrangement.measures[index]?.notes.find(n => n.role === 'melody' && n.start + n.ticks === end);
  return note.start > 0
    ? endsAt(measure, note.start)
    : endsAt(measure - 1, arrangement.measures[measure - 1]?.ticks ?? 0);
}

function candidateEdits(
  arrangement: Arrangement,
  finding: Finding,
  tune: Tune | undefined,
): { label: string; edit: Edit }[] {
  const { setup, hand } = arrangement;
  const edits: { label: string; edit: Edit }[] = [];
  const index = measureIndex(arrangement, finding.measure);
  const measure = arrangement.measures[index]!;
  const fifths = keyFifths(measure.key);
  const name = (midi: number) => pitchName(spellMidi(midi, fifths), true);
  for (const id of finding.notes) {
    const note = findNote(arrangement, id)?.note;
    if (!note) continue;
    const midi = noteMidi(setup, note);
    const what = `${name(midi)}`;
    for (const place of placesOf(setup, midi)) {
      if (place.string === note.string) continue;
      edits.push({
        label: `Play ${what} on ${stringName(setup, place.string)}, ${place.fret ? `fret ${place.fret}` : 'open'}`,
        edit: { kind: 'string', ids: [id], values: { string: place.string } },
      });
    }
    if (note.fret > 0) {
      for (const finger of hand.slide
        ? []
        : hand.thumb
          ? ([1, 2, 3, 4, 5] as const)
          : ([1, 2, 3, 4] as const))
        if (finger !== note.finger)
          edits.push({
            label: `Hold ${what} on ${stringName(setup, note.string)} with ${finger === 5 ? 'the thumb' : `finger ${fingerLabel(finger)}`}`,
            edit: { kind: 'finger', ids: [id], values: { finger } },
          });
    }
    if (note.role !== 'melody')
      for (const octave of [12, -12])
        for (const place of placesOf(setup, midi + octave))
          edits.push({
            label: `Play ${what} an octave ${octave > 0 ? 'higher' : 'lower'}, on ${stringName(setup, place.string)}, ${place.fret ? `fret ${place.fret}` : 'open'}`,
            edit: { kind: 'place', ids: [id], values: place },
          });
    for (const place of harmonicPlaces(setup, midi))
      if (!has(note, 'harmonic'))
        edits.push({
          label: `Play ${what} as a harmonic over fret ${place.fret} of ${stringName(setup, place.string)}`,
          edit: { kind: 'place', ids: [id], values: { ...place, harmonic: true } },
        });
    if (intoOf(note))
      edits.push({ label: `Pluck ${what} anew`, edit: { kind: 'into', ids: [id], values: { into: null } } });
    if (finding.kind === 'slur') {
      const before = melodyBefore(arrangement, index, note);
      if (before)
        edits.push({
          label: `Play the note before it on ${stringName(setup, note.string)} too`,
          edit: { kind: 'string', ids: [before.id], values: { string: note.string } },
        });
    }
    if (finding.kind === 'grace') {
      const spots = (note.graces ?? []).map(grace =>
        graceSpots(setup, note, noteAt(setup, grace.string, grace.fret), true),
      );
      const beside = spots.flatMap(([first]) => first ?? []);
      if (spots.length <= MOST_BESIDE && beside.length === spots.length)
        edits.push({
          label: `Pluck the grace note${spots.length > 1 ? 's' : ''} of ${what} on the next string`,
          edit: { kind: 'graces', ids: [id], values: { frets: beside } },
        });
      if (spots.length === 1)
        edits.push({
          label: `Slide from the grace note into ${what}`,
          edit: { kind: 'graces', ids: [id], values: { frets: spotsOf(note), by: 'slide' } },
        });
      edits.push({
        label: `Play ${what} without its grace note${spots.length > 1 ? 's' : ''}`,
        edit: { kind: 'graces', ids: [id], values: { frets: [] } },
      });
    }
    if (finding.kind === 'pluck')
      for (const pluck of PLUCKS)
        if (note.pluck !== pluck)
          edits.push({
            label: `Pluck ${what} with ${PLUCK_NAMES[pluck]}`,
            edit: { kind: 'pluck', ids: [id], values: { pluck } },
          });
    if (note.role !== 'melody')
      edits.push({ label: `Leave ${what} out`, edit: { kind: 'remove', ids: [id], values: {} } });
    if (note.start + note.ticks > measure.ticks)
      edits.push({
        label: `Shorten ${what} to the barline`,
        edit: { kind: 'length', ids: [id], values: { ticks: measure.ticks - note.start } },
      });
  }
  if (finding.kind === 'melody' && tune) {
    const wanted = melodyNotes(tune).find(
      n =>
        tune.measures[n.measure]!.id === measure.from?.id &&
        tune.measures[n.measure]!.events[n.event]!.start === finding.start,
    );
    const note = measure.notes.find(n => finding.notes.includes(n.id));
    if (wanted && note) {
      const midi = wanted.midi + arrangement.octaveShift + (arrangement.transposition ?? 0);
      for (const place of placesOf(setup, midi))
        edits.push({
          label: `Put the melody's ${name(midi)} back on ${stringName(setup, place.string)}, ${place.fret ? `fret ${place.fret}` : 'open'}`,
          edit: { kind: 'place', ids: [note.id], values: place },
        });
      edits.push({
        label: 'Give the note its length in the tune',
        edit: { kind: 'length', ids: [note.id], values: { ticks: wanted.ticks } },
      });
    }
  }
  return edits;
}
