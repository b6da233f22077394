/** In what two measures differ, beat by beat, in words. */
import { fingerName } from '../hand';
import type { Setup } from '../instrument';
import {
  intoOf,
  isDead,
  noteMidi,
  PLUCK_NAMES,
  type ScoreMeasure,
  type ScoreNote,
  strokeAt,
  strokeWords,
  TECHNIQUES,
  type Technique,
} from '../score';
import { beatName, lengthName, meterName, sameMeter } from '../time';
import { numbered } from '../words';

/** Something in which a measure differs from another one. */
export interface Difference {
  /** Ticks from the barline before; undefined for what is about the whole measure. */
  place?: number;
  /** "beat 4: fret 5 on string 2 instead of fret 3". */
  text: string;
}

/**
 * In what a measure differs from another one: in notes, fingers, techniques, chords, length. In the order of time.
 *
 * @param setup of the strings that both are played on
 * @param before what it is compared with
 * @example differencesOf(setup, arrangement.measures[0], arrangement.measures[0]) // []
 */
export function differencesOf(setup: Setup, before: ScoreMeasure, now: ScoreMeasure): Difference[] {
  const found: Difference[] = [];
  const { meter } = now;
  if (!sameMeter(before.meter, meter))
    found.push({
      text: `${meterName(meter)} instead of ${meterName(before.meter)}`,
    });
  else if (before.ticks !== now.ticks)
    found.push({ text: `it is ${now.ticks > before.ticks ? 'longer' : 'shorter'}` });
  const [was, is] = [momentsByPlace(before), momentsByPlace(now)];
  for (const place of [...new Set([...was.keys(), ...is.keys()])].sort((a, b) => a - b)) {
    const texts = momentDifferences(setup, was.get(place) ?? [], is.get(place) ?? []);
    const stroke = strokeDifference(before, now, place);
    if (stroke) texts.push(stroke);
    if (texts.length) found.push({ place, text: `${beatName(meter, place)}: ${texts.join(', ')}` });
  }
  found.push(...chordDifferences(before, now));
  return found.sort((a, b) => (a.place ?? -1) - (b.place ?? -1));
}

function momentsByPlace({ notes, offset }: ScoreMeasure): Map<number, ScoreNote[]> {
  const moments = new Map<number, ScoreNote[]>();
  for (const note of notes) {
    const place = note.start + offset;
    moments.set(place, [...(moments.get(place) ?? []), note]);
  }
  return moments;
}

/** "fret 3 on string 2", "string 2 open". */
function lies(note: ScoreNote): string {
  if (isDead(note)) return `a damped stroke on string ${note.string}`;
  return note.fret ? `fret ${note.fret} on string ${note.string}` : `string ${note.string} open`;
}

function momentDifferences(setup: Setup, before: readonly ScoreNote[], now: readonly ScoreNote[]): string[] {
  const texts: string[] = [];
  const gone = before.filter(old => !now.some(note => note.string === old.string));
  for (const note of [...now].sort((a, b) => a.string - b.string)) {
    const same = before.find(old => old.string === note.string);
    if (same) {
      texts.push(...noteDifferences(same, note));
      continue;
    }
    const moved = gone.findIndex(old => noteMidi(setup, old) === noteMidi(setup, note));
    const [old] = moved < 0 ? [] : gone.splice(moved, 1);
    texts.push(old ? `${lies(note)} instead of ${lies(old)}, the same note` : `${lies(note)} comes in`);
  }
  if (gone.length)
    texts.push(
      `nothing on ${numbered(
        'string',
        gone.map(({ string }) => string),
      )}`,
    );
  return texts;
}

/** A technique without the note that it comes from. */
const bare = (technique: Technique) =>
  JSON.stringify('from' in technique ? { ...technique, from: '' } : technique);

/** In what two notes of a string differ. */
function noteDifferences(before: ScoreNote, now: ScoreNote): string[] {
  const texts: string[] = [];
  if (before.fret !== now.fret && !isDead(now))
    texts.push(`${lies(now)} instead of ${before.fret ? `fret ${before.fret}` : 'open'}`);
  else if (before.finger !== now.finger && now.fret)
    texts.push(
      `${now.finger ? fingerName(now.finger) : 'another finger'}${before.finger ? ` instead of ${before.finger}` : ''} on string ${now.string}`,
    );
  if (before.ticks !== now.ticks)
    texts.push(`string ${now.string} lasts ${lengthOf(now)} instead of ${lengthOf(before)}`);
  if ((before.tie === undefined) !== (now.tie === undefined))
    texts.push(`string ${now.string} ${now.tie ? 'sounds on' : 'is struck again'}`);
  if (before.pluck !== now.pluck && now.pluck && !now.tie && !intoOf(now))
    texts.push(`string ${now.string} by ${PLUCK_NAMES[now.pluck]}`);
  const [was, is] = [before.techniques ?? [], now.techniques ?? []];
  for (const technique of is)
    if (!was.some(old => bare(old) === bare(technique)))
      texts.push(`${TECHNIQUES[technique.kind].name} on string ${now.string}`);
  for (const technique of was)
    if (!is.some(own => own.kind === technique.kind))
      texts.push(`no ${TECHNIQUES[technique.kind].name} on string ${now.string}`);
  if (graces(before) !== graces(now))
    texts.push(
      now.graces?.length
        ? `${now.graces.length === 1 ? 'a grace note' : `${now.graces.length} grace notes`} on string ${now.string}`
        : `no grace note on string ${now.string}`,
    );
  return texts;
}

const lengthOf = ({ ticks, tuplets }: ScoreNote) => {
  const words = lengthName(ticks, tuplets);
  return `${/^[aeio]/.test(words) ? 'an' : 'a'} ${words}`;
};

const graces = (note: ScoreNote) =>
  JSON.stringify([note.graces?.map(grace => [grace.string, grace.fret]) ?? [], note.graceBy]);

function strokeDifference(before: ScoreMeasure, now: ScoreMeasure, place: number): string | undefined {
  const [was, is] = [strokeAt(before, place - before.offset), strokeAt(now, place - now.offset)];
  if (was?.kind === is?.kind && was?.way === is?.way) return undefined;
  return is ? strokeWords(is) : 'struck at once';
}

/** Chords that change elsewhere, or to another one. */
function chordDifferences(before: ScoreMeasure, now: ScoreMeasure): Difference[] {
  const at = ({ chords, offset }: ScoreMeasure) =>
    new Map(chords.map(chord => [chord.start + offset, chord.shape]));
  const [was, is] = [at(before), at(now)];
  return [...new Set([...was.keys(), ...is.keys()])].flatMap(place => {
    const [old, own] = [was.get(place), is.get(place)];
    if (old === own) return [];
    const where = beatName(now.meter, place);
    return [
      {
        place,
        text: own ? `${where}: the chord ${own}${old ? ` instead of ${old}` : ''}` : `${where}: no ${old}`,
      },
    ];
  });
}
