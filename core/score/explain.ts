/** Why a generated note is there, in words. */
import { bassClass, chordClasses, chordLabel, degreeOf } from '../chord';
import { mod12 } from '../pitch';
import { type Arrangement, findNote, noteMidi, type ScoreNote } from './model';
import { chordAt } from './role';
import { settingsOf } from './settings';

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

/** Why a note is where it is: what the tune or the arranger wanted of it, and what a hand has changed. */
export function explainNote(arrangement: Arrangement, id: string): string {
  const found = findNote(arrangement, id);
  if (!found) return '';
  const { note, measure } = found;
  const settings = settingsOf(arrangement);
  const reasons = [reasonOf(arrangement, measure, note)];
  if (note.tied) reasons.push('It sounds on from the note before: a tie is not plucked.');
  if (note.into) reasons.push('It is slurred: only the first note of a slur is plucked.');
  if (note.graces)
    reasons.push(
      'Its grace notes stay on its own string; only the first is plucked unless they are a quick change.',
    );
  if (note.pinned) reasons.push('It was set by hand and is pinned.');
  if (note.pluckPinned)
    reasons.push(`Its plucking is an exception to the school (${settings.school.replaceAll('-', ' ')}).`);
  return reasons.join(' ');
}

function reasonOf(arrangement: Arrangement, measure: number, note: ScoreNote): string {
  const settings = settingsOf(arrangement);
  const written = arrangement.measures[measure]!;
  const chord = chordAt(arrangement, measure, note.start);
  if (note.dead) return 'A damped stroke of the strum: the strings only thump.';
  if (note.voice === 'melody') {
    if (note.pinned) return 'A note of the melody.';
    const { octaveShift } = arrangement;
    if (!octaveShift) return 'The melody, as the tune has it.';
    return `The melody, an octave ${octaveShift < 0 ? 'lower' : 'higher'} than the tune has it.`;
  }
  const pitchClass = mod12(noteMidi(arrangement.setup, note));
  const degree = chord && degreeWords(degreeOf(chord, pitchClass));
  const of = chord ? ` of ${chordLabel(chord.symbol)}` : '';
  if (arrangement.style === 'pattern') return `A stroke of the pattern: ${degree ?? 'a note'}${of}.`;
  if (arrangement.style === 'chord-melody') {
    const passing = written.chords.some(c => c.passing && c.start === note.start);
    if (passing) return `Part of the passing chord${of}: ${degree}.`;
    const doubling = settings.doubling ?? 'grips';
    if (doubling === 'thirds' || doubling === 'sixths') return `The melody doubled in ${doubling}.`;
    if (doubling === 'drone') return 'An open string that drones beside the melody.';
    if (doubling === 'thinner') return 'A double stop on the next thinner string.';
    return `Part of the grip${of} under the melody: ${degree}.`;
  }
  if (note.voice === 'inner')
    return settings.bass === 'pattern'
      ? `The picking pattern, which gives way to the melody: ${degree}${of}.`
      : `A fill from the shape${of}, where nothing else is struck: ${degree}.`;
  if (settings.bass === 'drone') return 'A drone of the key, the same under every chord.';
  const starts = written.chords.some(c => c.start === note.start && !c.passing);
  if (chord && starts && pitchClass === bassClass(chord))
    return `The bass lands on ${degree}${of} where the chord begins.`;
  if (chord && starts && chordClasses(chord).includes(pitchClass))
    return `${degree?.replace(/^t/, 'T')}${of} stands in for its bass, which is out of reach here.`;
  return `Part of ${BASS_REASONS[settings.bass] ?? 'the bass'}: ${degree ?? 'a note on its way'}${!degree || degree.startsWith('a note') ? '' : of}.`;
}
