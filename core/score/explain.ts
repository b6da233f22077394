/** Why a generated note is there, in words. */
import { bassClass, chordClasses, chordLabel, degreeOf } from '../chord';
import type { Place } from '../instrument';
import { mod12, semitoneWords } from '../pitch';
import { melodyMove } from '../tune';
import { soundingAt } from './grip';
import {
  type Arrangement,
  COST_PARTS,
  type CostPart,
  findNote,
  isDead,
  noteMidi,
  type ScoreMeasure,
  type ScoreNote,
} from './model';
import { beginsChord, chordAt, runsInto } from './role';
import { BASSES_IN_TURN, settingsOf } from './settings';
import { intoOf } from './techniques';

const BASS_REASONS: Record<string, string> = {
  steady: 'a steady bass: the root on each beat',
  alternating: 'an alternating bass',
  strong: 'a bass on strong beats',
  walking: 'a walking bass',
  pattern: 'the thumb of the picking pattern',
};

/** Name of a chord's degree in the bass: "the root", "the fifth", "the third", or "b7". */
function degreeWords(degree: string | undefined): string {
  if (degree === '1' || degree === 'R') return 'the root';
  if (degree?.endsWith('5')) return 'the fifth';
  if (degree?.endsWith('3')) return 'the third';
  return degree ? `the ${degree}` : 'a note that leads on';
}

/**
 * Why a note is where it is: what the tune or the arranger wanted of it, and what a hand has changed.
 *
 * @example
 * explainNote(arrangement, arrangement.measures[0].notes[0].id)
 * // 'The melody, as the tune has it. Next best was string 3 at fret 5, which is harder to hold and lies less well on the neck.'
 */
export function explainNote(arrangement: Arrangement, id: string): string {
  const found = findNote(arrangement, id);
  if (!found) return '';
  const { note, measure } = found;
  const settings = settingsOf(arrangement);
  // What a hand has written into the piece has no reason but that.
  const own = note.pinned && !note.from && note.role !== 'melody';
  const reasons = own ? [] : [reasonOf(arrangement, measure, note)];
  const over = whyNotOther(note);
  if (over) reasons.push(over);
  if (note.tie) reasons.push('It sounds on from the note before: a tie is not plucked.');
  if (intoOf(note)) reasons.push('It is slurred: only the first note of a slur is plucked.');
  if (note.graces)
    reasons.push(
      note.graces.some(grace => grace.string !== note.string)
        ? 'Its grace notes lie on another string: each is plucked by itself.'
        : 'Its grace notes stay on its own string; only the first is plucked unless they are a quick change.',
    );
  if (note.pinned) reasons.push('It was set by hand and is pinned.');
  if (note.pluckPinned)
    reasons.push(`Its plucking is an exception to the school (${settings.school.replaceAll('-', ' ')}).`);
  return reasons.join(' ');
}

/** What speaks against the other choice, by the part that makes it dearer. */
const AGAINST: Record<CostPart, string> = {
  place: 'lies less well on the neck',
  grip: 'is harder to hold',
  shape: 'leaves the shape of the chord',
  moves: 'asks more movement of the left hand',
  ring: 'cuts a ringing note short',
  slur: 'would slur across strings',
  line: 'makes a less even line',
  accompaniment: 'carries the chord less well',
  wishes: 'goes against what was wished of the hand',
  alike: 'is not as the same measure is played elsewhere',
};

const LIST = new Intl.ListFormat('en-GB');

/** Parts are told that make up at least this much of what the other choice costs more; judgement. */
const TOLD = 0.25;

/** What the arranger weighed a note against, and what decided; undefined where nothing was. */
function whyNotOther({ nextBest }: ScoreNote): string | undefined {
  if (!nextBest) return undefined;
  const { places, more } = nextBest;
  const dearer = COST_PARTS.filter(part => (more[part] ?? 0) > 0).sort((a, b) => more[b]! - more[a]!);
  const sum = dearer.reduce((total, part) => total + more[part]!, 0);
  const deciding = dearer.filter(part => more[part]! >= TOLD * sum).map(part => AGAINST[part]);
  if (!deciding.length) return undefined;
  const other = places.length ? placesInWords(places) : 'to leave it out';
  return `Next best was ${other}, which ${LIST.format(deciding)}.`;
}

/** A part of the effort, by name. */
const COST_NAMES: Record<CostPart, string> = {
  place: 'place on the neck',
  grip: 'holding',
  shape: 'shape of the chord',
  moves: 'moving',
  ring: 'ring',
  slur: 'slurs',
  line: 'line of the bass',
  accompaniment: 'carrying the chord',
  wishes: 'wishes',
  alike: 'likeness of measures',
};

/** Parts that are told of a choice, the largest first. */
const MOST_PARTS = 3;

/** A choice of the arranger beside what it weighed most nearly. */
export interface Weighing {
  note: ScoreNote;
  /** What it would have been instead: "string 3 at fret 5", or "nothing". */
  other: string;
  /** How much more effort that would have been in all. */
  more: number;
  /** What of: "holding +0.9, moving −0.3". */
  parts: string;
}

/**
 * What was weighed in a measure, the closest choices first: those that a teacher may well make otherwise.
 *
 * @example weighedIn(arrangement.measures[0])[0].other // 'string 4 at fret 5'
 */
export function weighedIn(measure: Pick<ScoreMeasure, 'notes'>): Weighing[] {
  return measure.notes
    .flatMap(note => {
      if (!note.nextBest) return [];
      const { places, more } = note.nextBest;
      const parts = COST_PARTS.filter(part => Math.abs(more[part] ?? 0) >= 0.05)
        .sort((a, b) => Math.abs(more[b]!) - Math.abs(more[a]!))
        .slice(0, MOST_PARTS)
        .map(part => `${COST_NAMES[part]} ${more[part]! < 0 ? '−' : '+'}${Math.abs(more[part]!).toFixed(1)}`);
      const sum = COST_PARTS.reduce((total, part) => total + (more[part] ?? 0), 0);
      return [{ note, other: placesInWords(places) || 'nothing', more: sum, parts: parts.join(', ') }];
    })
    .sort((a, b) => a.more - b.more);
}

/** Places in words: "string 4 at fret 2", "strings 2 and 3 open, string 4 at fret 2". */
function placesInWords(places: readonly Place[]): string {
  const byFret = new Map<number, number[]>();
  for (const { string, fret } of places) byFret.set(fret, [...(byFret.get(fret) ?? []), string]);
  return [...byFret]
    .map(
      ([fret, strings]) =>
        `string${strings.length > 1 ? 's' : ''} ${LIST.format(strings.map(String))} ${fret ? `at fret ${fret}` : 'open'}`,
    )
    .join(', ');
}

/** Whether a note sounds over a melody note that it was added to. */
function liesOverMelody({ setup }: Arrangement, measure: ScoreMeasure, note: ScoreNote): boolean {
  const melody = soundingAt(measure, note.start).find(({ role }) => role === 'melody');
  return melody !== undefined && noteMidi(setup, note) > noteMidi(setup, melody);
}

/** Whether the melody is struck again after a place. */
function isSungAfter({ measures }: Arrangement, measure: number, start: number): boolean {
  const isSung = ({ notes }: ScoreMeasure, from: number) =>
    notes.some(({ role, tie, start: own }) => role === 'melody' && tie === undefined && own > from);
  return isSung(measures[measure]!, start) || measures.slice(measure + 1).some(later => isSung(later, -1));
}

function reasonOf(arrangement: Arrangement, measure: number, note: ScoreNote): string {
  const settings = settingsOf(arrangement);
  const written = arrangement.measures[measure]!;
  const chord = chordAt(arrangement, measure, note.start);
  if (isDead(note)) return 'A damped stroke of the strum: the strings only thump.';
  if (note.role === 'melody') {
    if (note.pinned) return 'A note of the melody.';
    const { semitones, octaves } = melodyMove(arrangement.transposition ?? 0, arrangement.octaveShift);
    const moved = [
      semitones && `${semitoneWords(semitones)} ${semitones < 0 ? 'lower' : 'higher'}`,
      octaves && `an octave ${octaves < 0 ? 'lower' : 'higher'}`,
    ].filter(Boolean);
    return `The melody, ${moved.length ? `${moved.join(' and ')} than` : 'as'} the tune has it.`;
  }
  const pitchClass = mod12(noteMidi(arrangement.setup, note));
  const degree = chord && degreeWords(degreeOf(chord, pitchClass));
  const of = chord ? ` of ${chordLabel(chord.symbol)}` : '';
  const begins = soundingAt(written, note.start).some(n => n.role === 'melody' && n.start === note.start);
  const overMelody = begins
    ? `The chord stands over the melody, which is its bass: ${degree}${of}.`
    : isSungAfter(arrangement, measure, note.start)
      ? `It answers over a long note of the melody, which lies low there: ${degree}${of}.`
      : `It rings over the last note, under which it has no place: ${degree}${of}.`;
  const silent = soundingAt(written, note.start).every(({ role }) => role !== 'melody');
  const inTurn = `Where a chord stays its bass takes turns: ${degree}${of}.`;
  if (arrangement.style === 'pattern') {
    const turns = settings.bassTurns && note.role === 'bass' && degree === 'the fifth';
    return turns ? inTurn : `A stroke of the pattern: ${degree ?? 'a note'}${of}.`;
  }
  const into = runsInto(arrangement, measure, note);
  const run =
    into &&
    `The bass runs into ${chordLabel(into.chord.symbol)}: a step ${into.step > 0 ? 'below' : 'above'} its bass.`;
  if (arrangement.style === 'chord-melody') {
    if (run) return run;
    const passing = written.chords.some(c => c.passing && c.start === note.start);
    if (passing) return `Part of the passing chord${of}: ${degree}.`;
    const doubling = settings.doubling ?? 'grips';
    if (doubling === 'thirds' || doubling === 'sixths') return `The melody doubled in ${doubling}.`;
    if (doubling === 'drone') return 'An open string that drones beside the melody.';
    if (doubling === 'thinner') return 'A double stop on the next thinner string.';
    if (liesOverMelody(arrangement, written, note)) return overMelody;
    if (silent) return `Part of the chord${of}, which keeps the beat while the melody is silent: ${degree}.`;
    return `Part of the grip${of} under the melody: ${degree}.`;
  }
  const foreign = chord !== undefined && !chordClasses(chord).includes(pitchClass);
  if (note.role === 'inner') {
    if (liesOverMelody(arrangement, written, note)) return overMelody;
    if (settings.bass === 'pattern')
      return `The picking pattern, ${silent ? 'on its own strings' : 'which gives way to the melody'}: ${degree}${of}.`;
    if (foreign && note.fret === 0) return `An open string that drones with the chord${of}.`;
    const alone = written.notes.every(other => other === note || other.start !== note.start);
    return alone
      ? `A fill from the shape${of}, where ${silent ? 'the melody is silent' : 'nothing else is struck'}: ${degree}.`
      : `It makes the chord${of} full: ${degree}.`;
  }
  if (settings.bass === 'drone') return 'A drone of the key, the same under every chord.';
  const starts = beginsChord(arrangement, measure, note.start);
  if (chord && starts && pitchClass === bassClass(chord))
    return `The bass lands on ${degree}${of} where the chord begins.`;
  if (chord && starts && chordClasses(chord).includes(pitchClass))
    return `${degree?.replace(/^t/, 'T')}${of} stands in for its bass, which is out of reach here.`;
  if (foreign && starts && note.fret === 0)
    return `An open string drones under the chord${of}, whose bass is out of reach here.`;
  if (run && settings.bass !== 'walking') return run;
  if (settings.bassTurns && degree === 'the fifth' && BASSES_IN_TURN.has(settings.bass)) return inTurn;
  return `Part of ${BASS_REASONS[settings.bass] ?? 'the bass'}: ${degree ?? 'a note on its way'}${!degree || degree.startsWith('a note') ? '' : of}.`;
}
