/** Accompaniment by a picking pattern or strum: what is played under a song that is sung. */
import { type Chord, classOfDegree, NO_CHORD, parseChord } from '../../chord';
import { isStrum, type PatternStroke, patternUnder, silentIn } from '../../fingering';
import type { Finger } from '../../hand';
import { noteAt, type Setup, thinnestBass } from '../../instrument';
import { mod12 } from '../../pitch';
import {
  type LedgerDraft,
  putTechnique,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
} from '../../score';
import { pluckedBassOf } from '../../shape';
import type { Meter } from '../../time';
import { layPattern } from '../texture/patterns';
import { silentWords, Told } from '../told';

/**
 * Fills measures with patterns under the shapes of their chords. Notes last until their string is struck again or the
 * chord changes, those of a strum until the next one.
 *
 * @param strokesFor the pattern of each measure
 * @param restarts as in `layPattern`
 * @param turns where the bass of each measure takes its turn with the root, by tick
 * @returns strings that a pattern asks for and a shape does not have, with the measures
 */
export function accompany(
  measures: ScoreMeasure[],
  strokesFor: (meter: Meter, measure: number) => readonly PatternStroke[],
  setup: Setup,
  restarts = false,
  turns: readonly ReadonlySet<number>[] = [],
): LedgerDraft[] {
  const told = new Told();
  let chord: ScoreChord | undefined;
  for (const [index, measure] of measures.entries()) {
    const notes: ScoreNote[] = [];
    const laid = layPattern(strokesFor(measure.meter, index), measure, restarts);
    const slot = (laid[1]?.start ?? measure.ticks) - (laid[0]?.start ?? 0);
    for (const { start, stroke } of laid) {
      for (const change of measure.chords)
        if (change.start <= start && (change.frets || change.sounding === NO_CHORD)) chord = change;
      if (!chord?.frets) continue;
      const named = parseChord(chord.shape);
      const bass = named && pluckedBassOf(chord.frets, named, setup);
      const turn = turns[index]?.has(start) && bass ? fifthBeside(chord, named, bass, setup) : undefined;
      const played = turn?.chord ?? chord;
      const strings = patternUnder([stroke], played.frets ?? [], turn?.string ?? bass)[0] ?? [];
      for (const string of silentIn([stroke], chord.frets)) told.add(silentWords(string, chord), index);
      const next = Math.min(measure.ticks, ...measure.chords.map(c => c.start).filter(s => s > start));
      // A strum is one rhythm: what it took is written up to the next stroke, though strings ring on that are not struck again.
      for (const note of notes)
        if (
          strings.includes(note.string) ||
          (isStrum(stroke) && isSwept(note)) ||
          goesOver(note, strings, played)
        )
          note.ticks = Math.min(note.ticks, start - note.start);
      // A chop sounds half as long as its stroke.
      const ticks = isChop(stroke) ? Math.min(slot / 2, next - start) : next - start;
      for (const string of strings) {
        notes.push(strokeNote(stroke, played, { start, ticks, string }, strings));
      }
    }
    measure.notes = notes;
  }
  return told.lines();
}

/** Whether the finger of a bass goes over to the next string, as under C: it is no barre, so that the first one ends. */
function goesOver(note: ScoreNote, strings: readonly number[], { fingers = [] }: ScoreChord): boolean {
  const { role, string, finger } = note;
  const held = fingers.flatMap((own, i) => (own && own === finger && i + 1 !== string ? [i + 1] : []));
  return (
    role === 'bass' && held.length === 1 && Math.abs(held[0]! - string) === 1 && strings.includes(held[0]!)
  );
}

/**
 * The fifth that takes turns with the root of a shape, and the shape with it: on a bass string that the shape has, else on
 * a silent one under the root, open or by the root's own finger at its fret, as in C. Of two the lower one; undefined
 * where there is none.
 */
function fifthBeside(
  chord: ScoreChord,
  named: Chord,
  root: number,
  setup: Setup,
): { string: number; chord: ScoreChord } | undefined {
  const fifth = classOfDegree(named, 5);
  const { frets = [], fingers = [] } = chord;
  for (let string = setup.tuning.length; string >= thinnestBass(setup.tuning.length); string--) {
    const held = frets[string - 1];
    const beneath = held === null && string > root ? [0, frets[root - 1]!] : [];
    const fret = [held ?? [], beneath]
      .flat()
      .find(own => mod12(noteAt(setup, string, own) - setup.capo) === fifth);
    if (string === root || fret === undefined) continue;
    const finger = held === null && fret ? fingers[root - 1] : fingers[string - 1];
    const withTurn = <T>(own: readonly T[], turn: T) => own.map((was, i) => (i === string - 1 ? turn : was));
    return {
      string,
      chord: { ...chord, frets: withTurn(frets, fret), fingers: withTurn(fingers, finger ?? null) },
    };
  }
  return undefined;
}

const isChop = ({ play }: PatternStroke) => play[0] === 'C';
const isSwept = ({ pluck }: ScoreNote) => pluck === 'down' || pluck === 'up';

/** One string of a stroke. */
function strokeNote(
  stroke: PatternStroke,
  chord: ScoreChord,
  place: Pick<ScoreNote, 'start' | 'ticks' | 'string'>,
  strings: readonly number[],
): ScoreNote {
  const dead = stroke.play[0] === 'X';
  const thumb = stroke.play.includes('B') || stroke.play.includes('A');
  const note: ScoreNote = {
    id: '',
    role: thumb && place.string === Math.max(...strings) ? 'bass' : 'inner',
    ...place,
    fret: dead ? 0 : chord.frets![place.string - 1]!,
  };
  const finger = chord.fingers?.[place.string - 1];
  if (finger && !dead) note.finger = finger as Finger;
  if (dead) putTechnique(note, { kind: 'dead' });
  if (isChop(stroke)) putTechnique(note, { kind: 'damp' });
  if (stroke.accent) putTechnique(note, { kind: 'accent' });
  if (isStrum(stroke)) note.pluck = stroke.play[0] === 'U' ? 'up' : 'down';
  return note;
}
