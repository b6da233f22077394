/** A melody that was found on the strings, put into the source of its song. */
import { keyFifths, spellMidi, transposeKey } from '../../pitch';
import { type Arrangement, noteMidi, type ScoreMeasure, type ScoreNote } from '../../score';
import { sectionsOf, type Tune, type TuneMeasure } from '../../tune';
import { inLines, type MelodyMeasure, writeMelody } from './melody';
import { readSong } from './read';

/** The melody of a measure from its beginning to its end: where several are struck together the highest. */
function eventsOf(
  measure: ScoreMeasure,
  pitchOf: (note: ScoreNote) => MelodyMeasure['events'][number]['pitch'],
  midi: (note: ScoreNote) => number,
): MelodyMeasure['events'] {
  const melody = measure.notes.filter(
    ({ role, techniques }) => role === 'melody' && !techniques?.some(t => t.kind === 'dead'),
  );
  const starts = [...new Set(melody.map(({ start }) => start))].sort((a, b) => a - b);
  const events: MelodyMeasure['events'][number][] = [];
  let at = 0;
  for (const [i, start] of starts.entries()) {
    const [top] = melody.filter(note => note.start === start).sort((a, b) => midi(b) - midi(a));
    if (start > at) events.push({ ticks: start - at });
    const ticks = Math.min(top!.ticks, (starts[i + 1] ?? measure.ticks) - start);
    const goesOn = melody.some(note => note.tie === top!.id);
    events.push({
      ticks,
      pitch: pitchOf(top!),
      ...(goesOn && { tie: true }),
      ...(top!.tuplets && { tuplets: top!.tuplets }),
    });
    at = start + ticks;
  }
  if (at < measure.ticks) events.push({ ticks: measure.ticks - at });
  return events;
}

/**
 * The text of a song with the melody that an arrangement of it plays: under the chords of each part, in the place of what
 * stood there. Parts in which the arrangement has no melody are left as they are.
 *
 * @throws RangeError where the arrangement plays no melody, or the text is no song any more
 * @example withPlayedMelody(readSong('C G C').tune, arrangement).includes('melody: ') // true
 */
export function withPlayedMelody(tune: Tune, arrangement: Arrangement): string {
  const { song = '' } = tune;
  const { tune: asRead, capo, places } = readSong(song);
  if (!asRead) throw new RangeError('the source of the song has to be mended first');
  const key = transposeKey(tune.key, -capo);
  const fifths = keyFifths(key);
  const moved = (arrangement.transposition ?? 0) + arrangement.octaveShift + capo;
  const midi = (note: ScoreNote) => noteMidi(arrangement.setup, note) - moved;
  const played = new Map<string, ScoreMeasure>();
  for (const measure of arrangement.measures)
    if (measure.from && !played.has(measure.from.id)) played.set(measure.from.id, measure);
  const melodyIn = (measures: readonly TuneMeasure[]): MelodyMeasure[] =>
    measures.map(({ id, ticks }) => {
      const own = played.get(id);
      return { key, events: own ? eventsOf(own, note => spellMidi(midi(note), fifths), midi) : [{ ticks }] };
    });
  const rows = song.split(/\r?\n/);
  // The text's parts, in the order of the tune's sections; a part that begins with an upbeat has it in its melody.
  const sections = sectionsOf(tune.measures);
  const inText = sectionsOf(asRead.measures).map(({ id }) => places[id]);
  let found = false;
  // From the end, so that what was found keeps its place.
  for (let i = sections.length - 1; i >= 0; i--) {
    const place = inText[i];
    if (!place) continue;
    const { from, to } = sections[i]!;
    const upbeat = i === 1 && !inText[0] ? sections[0]!.from : from;
    const measures = melodyIn(tune.measures.slice(upbeat, to));
    if (!measures.some(({ events }) => events.some(({ pitch }) => pitch))) continue;
    found = true;
    const lines = inLines(measures).map(line => `melody: ${writeMelody(line)}`);
    for (const row of [...place.melody].sort((a, b) => b - a)) rows.splice(row - 1, 1);
    rows.splice(place.end - place.melody.filter(row => row <= place.end).length, 0, ...lines);
  }
  if (!found) throw new RangeError('this arrangement plays no melody yet: its notes are bass or inner notes');
  return rows.join('\n');
}
