/**
 * MusicXML 4.0 (W3C Music Notation Community Group) out: one part on two staves, notation above tablature.
 * Pitches are written as they sound; frets are counted from the capo.
 */
import { parseChord } from '../chord';
import { fingerLabel } from '../hand';
import { INSTRUMENTS, noteAt } from '../instrument';
import { keyFifths, type Pitch, parseNoteName, parsePitch, type Step, spellMidi } from '../pitch';
import {
  type Arrangement,
  type Into,
  noteMidi,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
} from '../score';
import { measureTicks, noteValues, TICKS_PER_QUARTER, type Tuplet } from '../time';
import { measureNumbers } from '../tune';
import { RIGHTS_TEXT } from './rights';
import { element, type Markup, tag } from './xml';

const HARMONY_KINDS: Record<string, string> = {
  '': 'major',
  maj: 'major',
  m: 'minor',
  min: 'minor',
  '7': 'dominant',
  maj7: 'major-seventh',
  M7: 'major-seventh',
  m7: 'minor-seventh',
  dim: 'diminished',
  dim7: 'diminished-seventh',
  m7b5: 'half-diminished',
  aug: 'augmented',
  '+': 'augmented',
  '6': 'major-sixth',
  m6: 'minor-sixth',
  '9': 'dominant-ninth',
  maj9: 'major-ninth',
  m9: 'minor-ninth',
  '11': 'dominant-11th',
  '13': 'dominant-13th',
  sus2: 'suspended-second',
  sus4: 'suspended-fourth',
  sus: 'suspended-fourth',
  '5': 'power',
  mmaj7: 'major-minor',
};

function pitchElement(pitch: Pitch): Markup {
  return tag(
    'pitch',
    tag('step', pitch.step),
    pitch.alter ? tag('alter', pitch.alter) : undefined,
    tag('octave', pitch.octave),
  );
}

function rootElements(name: string, prefix: 'root' | 'bass'): Markup {
  const note = parseNoteName(name) as { step: Step; alter: number };
  return tag(
    prefix,
    tag(`${prefix}-step`, note.step),
    note.alter ? tag(`${prefix}-alter`, note.alter) : undefined,
  );
}

function harmony(chord: ScoreChord, offset: number): Markup | undefined {
  const parsed = parseChord(chord.sounding);
  if (!parsed) return undefined;
  return tag(
    'harmony',
    rootElements(parsed.root, 'root'),
    element('kind', { text: parsed.quality || undefined }, HARMONY_KINDS[parsed.quality] ?? 'other'),
    parsed.bass ? rootElements(parsed.bass, 'bass') : undefined,
    offset ? tag('offset', offset) : undefined,
    tag('staff', 1),
  );
}

/** Notes of one voice that follow each other without overlap; each entry is struck together. */
type Lane = ScoreNote[][];

function lanesOf(measure: ScoreMeasure): Lane[] {
  const melody = measure.notes.filter(note => note.voice === 'melody');
  const rest = measure.notes.filter(note => note.voice !== 'melody');
  const lanes: Lane[] = [melody.sort((a, b) => a.start - b.start).map(note => [note])];
  const groups: Lane = [];
  for (const note of rest.sort((a, b) => a.start - b.start || b.string - a.string)) {
    const group = groups.find(g => g[0]!.start === note.start && g[0]!.ticks === note.ticks);
    if (group) group.push(note);
    else groups.push([note]);
  }
  for (const group of groups) {
    const start = group[0]!.start;
    const free = lanes.slice(1).find(lane => {
      const last = lane[lane.length - 1]![0]!;
      return last.start + last.ticks <= start;
    });
    if (free) free.push(group);
    else lanes.push([group]);
  }
  return lanes;
}

/** Hyphens at the end of a syllable and of the one before it tell where in the word it stands. */
function lyrics(measure: ScoreMeasure, note: ScoreNote, open: boolean[]): Markup[] {
  const words = measure.words.find(w => w.start === note.start);
  if (!words || note.tied) return [];
  return words.verses.flatMap((syllable, verse) => {
    if (!syllable) return [];
    const goesOn = syllable.endsWith('-');
    const syllabic = open[verse] ? (goesOn ? 'middle' : 'end') : goesOn ? 'begin' : 'single';
    open[verse] = goesOn;
    return [
      element(
        'lyric',
        { number: verse + 1 },
        tag('syllabic', syllabic),
        tag('text', syllable.replace(/-$/, '')),
      ),
    ];
  });
}

interface Context {
  arrangement: Arrangement;
  fifths: number;
  measure: ScoreMeasure;
  next: ScoreMeasure | undefined;
  openWords: boolean[];
}

/** Whether a note sounds on into a tied one. */
function tiesOn(context: Context, note: ScoreNote): boolean {
  const end = note.start + note.ticks;
  const follows = (other: ScoreNote) =>
    other.tied && other.string === note.string && other.fret === note.fret && other.voice === note.voice;
  if (end < context.measure.ticks)
    return context.measure.notes.some(other => other.start === end && follows(other));
  return context.next?.notes.some(other => other.start === 0 && follows(other)) ?? false;
}

/** How the fretting hand goes on from a note to the next one on its string, if it does. */
function goesInto(context: Context, note: ScoreNote): Into | undefined {
  const end = note.start + note.ticks;
  const follower =
    end < context.measure.ticks
      ? context.measure.notes.find(other => other.start === end && other.string === note.string)
      : context.next?.notes.find(other => other.start === 0 && other.string === note.string);
  return follower?.into;
}

/** The signs of a hammer-on, pull-off or slide at one of its ends. */
function intoSigns(into: Into | undefined, type: 'start' | 'stop'): { slide?: Markup; technical?: Markup } {
  if (!into) return {};
  if (into === 'slide') return { slide: element('slide', { type, number: 1, 'line-type': 'solid' }) };
  const [name, letter] = into === 'hammer' ? ['hammer-on', 'H'] : ['pull-off', 'P'];
  return { technical: element(name!, { type, number: 1 }, type === 'start' ? letter : undefined) };
}

/** One lane of a measure on one staff. */
function writeLane(context: Context, lane: Lane, voice: number, staff: 1 | 2): Markup[] {
  const { measure } = context;
  const out: Markup[] = [];
  const chords = staff === 1 && voice === 1 ? [...measure.chords].sort((a, b) => a.start - b.start) : [];
  let cursor = 0;
  const emitChords = (until: number) => {
    while (chords.length && chords[0]!.start < until) {
      const chord = chords.shift()!;
      const written = harmony(chord, chord.start - cursor);
      if (written) out.push(written);
    }
  };
  const gap = (ticks: number) => {
    if (ticks <= 0) return;
    emitChords(cursor + ticks);
    let values: ReturnType<typeof noteValues> | undefined;
    try {
      values = voice === 1 ? noteValues(ticks) : undefined;
    } catch {
      // A gap inside a tuplet has no plain value; it is passed over in time.
    }
    if (values) {
      for (const value of values) {
        out.push(
          tag(
            'note',
            element('rest', {}),
            tag('duration', value.ticks),
            tag('voice', voice),
            tag('type', value.type),
            ...dots(value.dots),
            tag('staff', staff),
          ),
        );
      }
    } else out.push(tag('forward', tag('duration', ticks), tag('voice', voice), tag('staff', staff)));
    cursor += ticks;
  };
  for (const [index, group] of lane.entries()) {
    const first = group[0]!;
    gap(first.start - cursor);
    emitChords(first.start + first.ticks);
    const tuplet = first.tuplet;
    const startsTuplet = tuplet !== undefined && lane[index - 1]?.[0]?.tuplet?.group !== tuplet.group;
    const endsTuplet = tuplet !== undefined && lane[index + 1]?.[0]?.tuplet?.group !== tuplet.group;
    for (const note of group)
      for (const fret of note.graces ?? []) out.push(graceNote(context, note, fret, voice, staff));
    const values = noteValues(first.ticks, tuplet);
    const scale = tuplet ? tuplet.normal / tuplet.actual : 1;
    for (const [i, value] of values.entries()) {
      for (const [inChord, note] of group.entries()) {
        out.push(
          writeNote(context, note, {
            duration: value.ticks * scale,
            type: value.type,
            dots: value.dots,
            inChord: inChord > 0,
            voice,
            staff,
            tuplet,
            startsTuplet: startsTuplet && i === 0,
            endsTuplet: endsTuplet && i === values.length - 1,
            tiedFrom: note.tied === true || i > 0,
            tiedOn: i < values.length - 1 || tiesOn(context, note),
            first: i === 0,
            last: i === values.length - 1,
          }),
        );
      }
    }
    cursor = first.start + first.ticks;
  }
  gap(measure.ticks - cursor);
  return out;
}

function dots(count: number): Markup[] {
  return Array.from({ length: count }, () => element('dot', {}));
}

function graceNote(context: Context, note: ScoreNote, fret: number, voice: number, staff: 1 | 2): Markup {
  const pitch = spellMidi(noteAt(context.arrangement.setup, note.string, fret), context.fifths);
  return tag(
    'note',
    element('grace', { slash: 'yes' }),
    pitchElement(pitch),
    tag('voice', voice),
    tag('type', 'eighth'),
    tag('staff', staff),
    staff === 2
      ? tag('notations', tag('technical', tag('string', note.string), tag('fret', fret)))
      : undefined,
  );
}

interface Written {
  duration: number;
  type: string;
  dots: number;
  inChord: boolean;
  voice: number;
  staff: 1 | 2;
  tuplet: Tuplet | undefined;
  startsTuplet: boolean;
  endsTuplet: boolean;
  tiedFrom: boolean;
  tiedOn: boolean;
  first: boolean;
  last: boolean;
}

function writeNote(context: Context, note: ScoreNote, w: Written): Markup {
  const pitch = spellMidi(noteMidi(context.arrangement.setup, note), context.fifths);
  const technical: Markup[] = [];
  if (w.first && !w.tiedFrom) {
    if (note.finger) technical.push(tag('fingering', fingerLabel(note.finger)));
    const stroke = note.pluck === 'down' ? 'down-bow' : note.pluck === 'up' ? 'up-bow' : undefined;
    if (note.pluck && !stroke) technical.push(tag('pluck', note.pluck));
    if (stroke && w.staff === 1 && !w.inChord) technical.push(element(stroke, {}));
  }
  if (w.staff === 2) technical.push(tag('string', note.string), tag('fret', note.fret));
  if (note.harmonic && w.first) technical.push(tag('harmonic', element('natural', {})));
  const out = w.staff === 2 && w.last ? intoSigns(goesInto(context, note), 'start') : {};
  const here = w.staff === 2 && w.first ? intoSigns(note.into, 'stop') : {};
  for (const sign of [here.technical, out.technical]) if (sign) technical.push(sign);
  const slurs: Markup[] = [];
  if (w.staff === 1 && w.first) {
    for (let i = 0; i < (note.slurEnds ?? 0); i++) slurs.push(element('slur', { type: 'stop', number: 1 }));
    for (let i = 0; i < (note.slurStarts ?? 0); i++)
      slurs.push(element('slur', { type: 'start', number: 1 }));
  }
  const notations = [
    w.tiedFrom ? element('tied', { type: 'stop' }) : undefined,
    w.tiedOn ? element('tied', { type: 'start' }) : undefined,
    ...slurs,
    here.slide,
    out.slide,
    w.startsTuplet && !w.inChord ? element('tuplet', { type: 'start', bracket: 'yes' }) : undefined,
    w.endsTuplet && !w.inChord ? element('tuplet', { type: 'stop' }) : undefined,
    technical.length ? tag('technical', ...technical) : undefined,
    note.accent && w.first && !w.tiedFrom ? tag('articulations', element('accent', {})) : undefined,
  ].filter(n => n !== undefined);
  return tag(
    'note',
    w.inChord ? element('chord', {}) : undefined,
    pitchElement(pitch),
    tag('duration', w.duration),
    w.tiedFrom ? element('tie', { type: 'stop' }) : undefined,
    w.tiedOn ? element('tie', { type: 'start' }) : undefined,
    tag('voice', w.voice),
    tag('type', w.type),
    ...dots(w.dots),
    w.tuplet
      ? tag('time-modification', tag('actual-notes', w.tuplet.actual), tag('normal-notes', w.tuplet.normal))
      : undefined,
    w.staff === 1 ? tag('stem', note.voice === 'melody' ? 'up' : 'down') : undefined,
    note.dead ? tag('notehead', 'x') : undefined,
    tag('staff', w.staff),
    notations.length ? tag('notations', ...notations) : undefined,
    ...(w.staff === 1 && w.first && note.voice === 'melody'
      ? lyrics(context.measure, note, context.openWords)
      : []),
  );
}

function attributes(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  before: ScoreMeasure | undefined,
): Markup | undefined {
  const first = before === undefined;
  const key =
    first || keyFifths(before.key) !== keyFifths(measure.key) || before.key.mode !== measure.key.mode;
  const time =
    first || before.meter.beats !== measure.meter.beats || before.meter.unit !== measure.meter.unit;
  if (!key && !time) return undefined;
  const { setup } = arrangement;
  const strings = setup.tuning.length;
  return tag(
    'attributes',
    first ? tag('divisions', TICKS_PER_QUARTER) : undefined,
    key ? tag('key', tag('fifths', keyFifths(measure.key)), tag('mode', measure.key.mode)) : undefined,
    time ? tag('time', tag('beats', measure.meter.beats), tag('beat-type', measure.meter.unit)) : undefined,
    ...(first
      ? [
          tag('staves', 2),
          element(
            'clef',
            { number: 1 },
            tag('sign', 'G'),
            tag('line', 2),
            setup.instrument === 'guitar' ? tag('clef-octave-change', -1) : undefined,
          ),
          element('clef', { number: 2 }, tag('sign', 'TAB'), tag('line', strings - 1)),
          element(
            'staff-details',
            { number: 2 },
            tag('staff-lines', strings),
            ...[...setup.tuning].reverse().map((name, index) => {
              const pitch = parsePitch(name)!;
              // Line 1 is the lowest line: the thickest string.
              return element(
                'staff-tuning',
                { line: index + 1 },
                tag('tuning-step', pitch.step),
                pitch.alter ? tag('tuning-alter', pitch.alter) : undefined,
                tag('tuning-octave', pitch.octave),
              );
            }),
            // A partial capo has no element of its own; the sounding pitches tell it.
            setup.capo && !setup.capoStrings ? tag('capo', setup.capo) : undefined,
          ),
        ]
      : []),
  );
}

/** An arrangement as a MusicXML 4.0 score-partwise document. Repeats and endings are kept as written. */
export function writeMusicXml(arrangement: Arrangement): string {
  const { measures } = arrangement;
  const numbers = measureNumbers(measures);
  const openWords: boolean[] = [];
  const written = measures.map((measure, index) => {
    const before = measures[index - 1];
    const next = measures[index + 1];
    const fifths = keyFifths(measure.key);
    const sameEnding = (other: ScoreMeasure | undefined) => other?.ending?.join() === measure.ending?.join();
    const left =
      measure.repeatStart || (measure.ending && !sameEnding(before))
        ? element(
            'barline',
            { location: 'left' },
            measure.repeatStart ? tag('bar-style', 'heavy-light') : undefined,
            measure.ending && !sameEnding(before)
              ? element('ending', { number: measure.ending.join(', '), type: 'start' })
              : undefined,
            measure.repeatStart ? element('repeat', { direction: 'forward' }) : undefined,
          )
        : undefined;
    const last = index === measures.length - 1;
    const style =
      measure.repeatEnd || measure.barline === 'final' || last
        ? 'light-heavy'
        : measure.barline === 'double'
          ? 'light-light'
          : undefined;
    const endingStops = measure.ending && (!sameEnding(next) || measure.repeatEnd);
    const right =
      style || endingStops
        ? element(
            'barline',
            { location: 'right' },
            style ? tag('bar-style', style) : undefined,
            endingStops
              ? element('ending', {
                  number: measure.ending!.join(', '),
                  type: measure.repeatEnd || last ? 'stop' : 'discontinue',
                })
              : undefined,
            measure.repeatEnd ? element('repeat', { direction: 'backward' }) : undefined,
          )
        : undefined;
    const directions: Markup[] = [];
    if (measure.section) {
      directions.push(
        element(
          'direction',
          { placement: 'above' },
          tag('direction-type', tag('rehearsal', measure.section)),
          tag('staff', 1),
        ),
      );
    }
    if (index === 0) {
      const perMinute = Math.round(arrangement.quartersPerMinute * 100) / 100;
      directions.push(
        element(
          'direction',
          { placement: 'above' },
          tag('direction-type', tag('metronome', tag('beat-unit', 'quarter'), tag('per-minute', perMinute))),
          tag('staff', 1),
          element('sound', { tempo: perMinute }),
        ),
      );
    }
    const context: Context = { arrangement, fifths, measure, next, openWords };
    const lanes = lanesOf(measure);
    const content: Markup[] = [];
    for (const staff of [1, 2] as const) {
      for (const [lane, notes] of lanes.entries()) {
        if (content.length) content.push(tag('backup', tag('duration', measure.ticks)));
        content.push(...writeLane(context, notes, lane + 1 + (staff - 1) * 4, staff));
      }
    }
    const implicit = measure.ticks < measureTicks(measure.meter) && measure.offset > 0;
    return element(
      'measure',
      { number: numbers[index], implicit: implicit ? 'yes' : undefined },
      left,
      attributes(arrangement, measure, before),
      ...directions,
      ...content,
      right,
    );
  });
  const instrument = INSTRUMENTS[arrangement.setup.instrument].name;
  const score = element(
    'score-partwise',
    { version: '4.0' },
    tag('work', tag('work-title', arrangement.title)),
    tag(
      'identification',
      arrangement.composer ? element('creator', { type: 'composer' }, arrangement.composer) : undefined,
      tag('rights', RIGHTS_TEXT[arrangement.rights]),
      tag('encoding', tag('software', 'Velvet Porch')),
    ),
    tag('part-list', element('score-part', { id: 'P1' }, tag('part-name', instrument))),
    element('part', { id: 'P1' }, ...written),
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">\n${score.text}\n`;
}
