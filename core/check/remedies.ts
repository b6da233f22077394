/** Ways out of a finding, each an edit that can be undone. */
import { fingerLabel } from '../hand';
import { placesOf, stringName } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  findNote,
  type History,
  moveToString,
  noteMidi,
  placeAt,
  removeNote,
  setFinger,
  setTicks,
  startHistory,
} from '../score';
import { melodyNotes, type Tune } from '../tune';
import { measureDifficulty } from './difficulty';
import { checkArrangement, type Finding } from './findings';

export interface Remedy {
  label: string;
  /** Does it; the history can take it back. */
  apply: (history: History) => History;
  /** Difficulty of the measure afterwards. */
  difficulty: number;
}

type Edit = (history: History) => History | { error: string };

/** Most remedies offered for a finding. */
const OFFERED = 3;

/**
 * Edits that take a finding away without bringing others into its measure, the easiest to play first.
 *
 * @param tune the source, where a remedy may have to put the melody back
 */
export function remediesFor(arrangement: Arrangement, finding: Finding, tune?: Tune): Remedy[] {
  const history = startHistory(arrangement);
  const here = (a: Arrangement) => checkArrangement(a, tune).filter(f => f.measure === finding.measure);
  const before = here(arrangement).length;
  const same = (f: Finding) =>
    f.kind === finding.kind && f.start === finding.start && f.message === finding.message;
  const remedies: Remedy[] = [];
  for (const { label, edit } of candidateEdits(arrangement, finding, tune)) {
    const result = edit(history);
    if ('error' in result) continue;
    const after = here(result.present);
    if (after.some(same) || after.length >= before) continue;
    remedies.push({
      label,
      apply: present => {
        const done = edit(present);
        return 'error' in done ? present : done;
      },
      difficulty: measureDifficulty(result.present, finding.measure).total,
    });
  }
  return remedies.sort((a, b) => a.difficulty - b.difficulty).slice(0, OFFERED);
}

function candidateEdits(
  arrangement: Arrangement,
  finding: Finding,
  tune: Tune | undefined,
): { label: string; edit: Edit }[] {
  const { setup, hand } = arrangement;
  const edits: { label: string; edit: Edit }[] = [];
  const measure = arrangement.measures[finding.measure]!;
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
        edit: history => moveToString(history, id, place.string),
      });
    }
    if (note.fret > 0) {
      for (const finger of hand.thumb ? ([1, 2, 3, 4, 5] as const) : ([1, 2, 3, 4] as const))
        if (finger !== note.finger)
          edits.push({
            label: `Hold ${what} on ${stringName(setup, note.string)} with ${finger === 5 ? 'the thumb' : `finger ${fingerLabel(finger)}`}`,
            edit: history => setFinger(history, id, finger),
          });
    }
    if (note.voice !== 'melody')
      edits.push({ label: `Leave ${what} out`, edit: history => removeNote(history, id) });
    if (note.start + note.ticks > measure.ticks)
      edits.push({
        label: `Shorten ${what} to the barline`,
        edit: history => setTicks(history, id, measure.ticks - note.start),
      });
  }
  if (finding.kind === 'melody' && tune) {
    const wanted = melodyNotes(tune).find(
      n =>
        n.measure === finding.measure && tune.measures[n.measure]!.events[n.event]!.start === finding.start,
    );
    const note = measure.notes.find(n => finding.notes.includes(n.id));
    if (wanted && note) {
      const midi = wanted.midi + arrangement.octaveShift + (arrangement.transposition ?? 0);
      for (const place of placesOf(setup, midi))
        edits.push({
          label: `Put the melody's ${name(midi)} back on ${stringName(setup, place.string)}, ${place.fret ? `fret ${place.fret}` : 'open'}`,
          edit: history => placeAt(history, note.id, place.string, place.fret),
        });
      edits.push({
        label: 'Give the note its length in the tune',
        edit: history => setTicks(history, note.id, wanted.ticks),
      });
    }
  }
  return edits;
}
