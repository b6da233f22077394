/** Notes and rests of MusicXML. */
import { BAR, fingerLabel } from '../../hand';
import { noteAt } from '../../instrument';
import { type Pitch, spellMidi } from '../../pitch';
import {
  type Arrangement,
  type BendShape,
  type GraceNote,
  type IntoTechnique,
  intoOf,
  isDead,
  type Lane,
  type LaneEntry,
  noteMidi,
  type ScoreMeasure,
  type ScoreNote,
  strokeAt,
  strokeOrder,
  type Technique,
  type TechniqueKind,
} from '../../score';
import { type NoteTuplet, type NoteValue, noteValues, type Tuplet } from '../../time';
import { element, joined, type Markup, tag } from '../xml';
import { harmony, lyrics } from './harmony';

/** What is known of the whole piece: where links lead to, from every note. */
export interface Links {
  /** Ids of notes that sound on into a tied one. */
  tiedOn: ReadonlySet<string>;
  /** How the fretting hand goes on from a note, by its id. */
  goesInto: ReadonlyMap<string, IntoTechnique>;
  /** Numbers of the slurs that begin and end at a note, by its id. */
  slurs: ReadonlyMap<string, { starts: number[]; ends: number[] }>;
}

/** Slurs that can be open at once in the file. */
const MOST_SLURS = 6;

export function linksIn({ measures }: Pick<Arrangement, 'measures'>): Links {
  const notes = measures.flatMap(m => [...m.notes].sort((a, b) => a.start - b.start || a.string - b.string));
  const tiedOn = new Set<string>();
  const goesInto = new Map<string, IntoTechnique>();
  const slurs = new Map<string, { starts: number[]; ends: number[] }>();
  const at = (id: string) => {
    const own = slurs.get(id) ?? { starts: [], ends: [] };
    slurs.set(id, own);
    return own;
  };
  const open = new Map<number, string>();
  for (const note of notes) {
    if (note.tie !== undefined) tiedOn.add(note.tie);
    const into = intoOf(note);
    if (into) goesInto.set(into.from, into);
    for (const [number, end] of open)
      if (end === note.id) {
        at(note.id).ends.push(number);
        open.delete(number);
      }
    for (const end of note.slurs ?? []) {
      const number = Array.from({ length: MOST_SLURS }, (_, i) => i + 1).find(n => !open.has(n));
      // A slur too many at once is left out: the file has no number for it.
      if (!number) continue;
      open.set(number, end);
      at(note.id).starts.push(number);
    }
  }
  // What was opened and never closed would be no slur.
  for (const [number] of open)
    for (const own of slurs.values())
      own.starts = own.starts.filter(n => n !== number || own.ends.includes(n));
  return { tiedOn, goesInto, slurs };
}

export interface NoteContext {
  arrangement: Arrangement;
  fifths: number;
  measure: ScoreMeasure;
  links: Links;
  openWords: boolean[];
  /** Told what could only be written in part. */
  tell: (reason: string) => void;
}

/** Tuplets in which a length that stands in none may still be written: a note between triplet and beat. */
const SPARE: readonly Tuplet[] = [
  { actual: 3, normal: 2 },
  { actual: 5, normal: 4 },
  { actual: 7, normal: 4 },
  { actual: 9, normal: 8 },
  { actual: 15, normal: 8 },
  { actual: 21, normal: 16 },
];

/** A length as values to be tied, with the ratio that shortens them; undefined where none can tell it. */
function spelled(
  ticks: number,
  tuplets: readonly Tuplet[],
): { values: NoteValue[]; ratio: Tuplet | undefined } | undefined {
  const whole = tuplets.length
    ? tuplets.reduce((a, b) => ({ actual: a.actual * b.actual, normal: a.normal * b.normal }))
    : undefined;
  for (const ratio of [whole, ...(whole ? [] : SPARE)]) {
    try {
      const values = noteValues(ticks, ratio ? [ratio] : []);
      if (values.every(value => Number.isInteger(lengthOf(value, ratio)))) return { values, ratio };
    } catch {
      // Not in this ratio.
    }
  }
  return undefined;
}

const lengthOf = (value: NoteValue, ratio: Tuplet | undefined) =>
  ratio ? (value.ticks * ratio.normal) / ratio.actual : value.ticks;

const dots = (count: number) => Array.from({ length: count }, () => element('dot', {}));

const modification = (ratio: Tuplet | undefined) =>
  ratio && tag('time-modification', tag('actual-notes', ratio.actual), tag('normal-notes', ratio.normal));

function pitchElement(pitch: Pitch): Markup {
  return tag(
    'pitch',
    tag('step', pitch.step),
    pitch.alter ? tag('alter', pitch.alter) : undefined,
    tag('octave', pitch.octave),
  );
}

/** Brackets of the tuplets that begin or end with an entry of a lane. */
function tupletSigns(lane: Lane, index: number): { starts: [number, NoteTuplet][]; ends: number[] } {
  const own = lane.entries[index]!.tuplets;
  const group = (at: number, depth: number) => lane.entries[at]?.tuplets[depth]?.group;
  return {
    starts: own.flatMap((t, depth): [number, NoteTuplet][] =>
      group(index - 1, depth) === t.group ? [] : [[depth + 1, t]],
    ),
    ends: own.flatMap((t, depth) => (group(index + 1, depth) === t.group ? [] : [depth + 1])),
  };
}

/** One lane of a measure on one staff. */
export function writeLane(
  context: NoteContext,
  lane: Lane,
  { voice, staff, leads }: { voice: number; staff: 1 | 2; leads: boolean },
): Markup[] {
  const { measure } = context;
  const out: Markup[] = [];
  const chords = staff === 1 && leads ? [...measure.chords].sort((a, b) => a.start - b.start) : [];
  let cursor = 0;
  const emitChords = (until: number) => {
    while (chords.length && chords[0]!.start < until) {
      const chord = chords.shift()!;
      const written = harmony(chord, chord.start - cursor);
      if (written) out.push(written);
    }
  };
  const rest = (entry: Pick<LaneEntry, 'ticks' | 'tuplets'>, signs?: ReturnType<typeof tupletSigns>) => {
    const found = spelled(entry.ticks, entry.tuplets);
    if (!found) {
      out.push(tag('forward', tag('duration', entry.ticks), tag('voice', voice), tag('staff', staff)));
      return;
    }
    for (const [i, value] of found.values.entries()) {
      const notations = [
        ...(i === 0 ? (signs?.starts ?? []).map(tupletStart) : []),
        ...(i === found.values.length - 1 ? (signs?.ends ?? []).map(tupletStop) : []),
      ];
      out.push(
        tag(
          'note',
          element('rest', {}),
          tag('duration', lengthOf(value, found.ratio)),
          tag('voice', voice),
          tag('type', value.type),
          ...dots(value.dots),
          modification(found.ratio),
          tag('staff', staff),
          notations.length ? tag('notations', ...notations) : undefined,
        ),
      );
    }
  };
  const gap = (ticks: number) => {
    if (ticks <= 0) return;
    emitChords(cursor + ticks);
    if (leads && spelled(ticks, [])?.ratio === undefined) rest({ ticks, tuplets: [] });
    // What is not written as a rest is passed over in time.
    else out.push(tag('forward', tag('duration', ticks), tag('voice', voice), tag('staff', staff)));
    cursor += ticks;
  };
  for (const [index, entry] of lane.entries.entries()) {
    gap(entry.start - cursor);
    emitChords(entry.start + entry.ticks);
    const signs = tupletSigns(lane, index);
    if (!entry.notes.length) rest(entry, signs);
    else {
      for (const note of entry.notes)
        for (const grace of note.graces ?? []) out.push(graceNote(context, grace, voice, staff));
      out.push(...writeEntry(context, entry, signs, voice, staff));
    }
    cursor = entry.start + entry.ticks;
  }
  gap(measure.ticks - cursor);
  return out;
}

const tupletStart = ([number, { actual, normal }]: [number, NoteTuplet]) =>
  element(
    'tuplet',
    { type: 'start', number, bracket: 'yes' },
    tag('tuplet-actual', tag('tuplet-number', actual)),
    tag('tuplet-normal', tag('tuplet-number', normal)),
  );
const tupletStop = (number: number) => element('tuplet', { type: 'stop', number });

function writeEntry(
  context: NoteContext,
  entry: LaneEntry,
  signs: ReturnType<typeof tupletSigns>,
  voice: number,
  staff: 1 | 2,
): Markup[] {
  const found = spelled(entry.ticks, entry.tuplets);
  if (!found && staff === 1)
    context.tell(
      `a length of ${entry.ticks} ticks is no note value: it is written by its duration alone, without a sign`,
    );
  const values = found?.values ?? [undefined];
  return values.flatMap((value, i) =>
    entry.notes.map((note, inChord) =>
      writeNote(context, note, {
        duration: value ? lengthOf(value, found!.ratio) : entry.ticks,
        value,
        ratio: found?.ratio,
        inChord: inChord > 0,
        voice,
        staff,
        starts: i === 0 ? signs.starts : [],
        ends: i === values.length - 1 ? signs.ends : [],
        tiedFrom: note.tie !== undefined || i > 0,
        tiedOn: i < values.length - 1 || context.links.tiedOn.has(note.id),
        first: i === 0,
        last: i === values.length - 1,
      }),
    ),
  );
}

function graceNote(context: NoteContext, grace: GraceNote, voice: number, staff: 1 | 2): Markup {
  const pitch = spellMidi(noteAt(context.arrangement.setup, grace.string, grace.fret), context.fifths);
  return tag(
    'note',
    element('grace', { slash: 'yes' }),
    pitchElement(pitch),
    tag('voice', voice),
    tag('type', 'eighth'),
    tag('staff', staff),
    staff === 2
      ? tag(
          'notations',
          tag(
            'technical',
            grace.finger ? tag('fingering', fingerLabel(grace.finger)) : undefined,
            tag('string', grace.string),
            tag('fret', grace.fret),
          ),
        )
      : undefined,
  );
}

interface Written {
  duration: number;
  value: NoteValue | undefined;
  ratio: Tuplet | undefined;
  inChord: boolean;
  voice: number;
  staff: 1 | 2;
  starts: [number, NoteTuplet][];
  ends: number[];
  tiedFrom: boolean;
  tiedOn: boolean;
  first: boolean;
  last: boolean;
}

/** The signs of a technique, sorted by the element that holds them. */
interface Signs {
  technical?: Markup;
  articulation?: Markup;
  ornament?: Markup;
}

const other = (text: string): Signs => ({ technical: tag('other-technical', text) });

/** A bend and each way back as an element of its own; what leads back counts downwards (MusicXML 3.0, "bend"). */
function bends(semitones: number, shape: BendShape): Markup {
  const up = (before: boolean) =>
    tag('bend', tag('bend-alter', semitones), before ? element('pre-bend', {}) : undefined);
  const back = tag('bend', tag('bend-alter', -semitones), element('release', {}));
  const ways: Record<BendShape, Markup[]> = {
    up: [up(false)],
    release: [up(false), back],
    pre: [up(true), back],
    repeat: [up(false), back, up(false)],
  };
  return joined(...ways[shape]);
}

/** How each technique is written at its own note; those that lead from note to note are written by `intoSigns`. */
const TECHNIQUE_SIGNS: { [K in TechniqueKind]: (technique: Technique) => Signs } = {
  hammer: () => ({}),
  pull: () => ({}),
  slide: t => (t.kind === 'slide' && t.again ? other('picked again') : {}),
  'slide-in': t => ({
    articulation: element(t.kind === 'slide-in' && t.way === 'above' ? 'plop' : 'scoop', {}),
  }),
  'slide-off': t => ({
    articulation: element(t.kind === 'slide-off' && t.way === 'above' ? 'doit' : 'falloff', {}),
  }),
  bend: t => (t.kind === 'bend' ? { technical: bends(t.semitones, t.shape) } : {}),
  harmonic: t => {
    const touch = t.kind === 'harmonic' ? t.touch : undefined;
    const sign = tag('harmonic', element(touch === undefined ? 'natural' : 'artificial', {}));
    return {
      technical:
        touch === undefined ? sign : joined(sign, tag('other-technical', `touched ${touch} frets above`)),
    };
  },
  vibrato: () => ({
    ornament: joined(
      element('wavy-line', { type: 'start', number: 1 }),
      element('wavy-line', { type: 'stop', number: 1 }),
    ),
  }),
  'palm-mute': () => other('palm mute'),
  dead: () => ({}),
  accent: () => ({ articulation: element('accent', {}) }),
  'let-ring': () => other('let ring'),
  damp: () => ({ articulation: element('staccato', {}) }),
  tremolo: () => ({ ornament: element('tremolo', { type: 'single' }, '3') }),
};

/** The signs of a hammer-on, pull-off or slide at one of its ends; a number a string, so that those of a grip stay apart. */
function intoSigns(
  into: IntoTechnique | undefined,
  string: number,
  type: 'start' | 'stop',
): { slide?: Markup; technical?: Markup } {
  if (!into) return {};
  const number = ((string - 1) % 6) + 1;
  if (into.kind === 'slide') return { slide: element('slide', { type, number, 'line-type': 'solid' }) };
  const [name, letter] = into.kind === 'hammer' ? ['hammer-on', 'H'] : ['pull-off', 'P'];
  return { technical: element(name!, { type, number }, type === 'start' ? letter : undefined) };
}

function writeNote(context: NoteContext, note: ScoreNote, w: Written): Markup {
  const { setup } = context.arrangement;
  const pitch = spellMidi(noteMidi(setup, note), context.fifths);
  const technical: Markup[] = [];
  const articulations: Markup[] = [];
  const ornaments: Markup[] = [];
  const sounded = w.first && !w.tiedFrom;
  if (sounded) {
    // A bar is no finger: the paper says once that it is played with one.
    if (note.finger && note.finger !== BAR) technical.push(tag('fingering', fingerLabel(note.finger)));
    const stroke = note.pluck === 'down' ? 'down-bow' : note.pluck === 'up' ? 'up-bow' : undefined;
    if (note.pluck && !stroke) technical.push(tag('pluck', note.pluck));
    if (stroke && w.staff === 1 && !w.inChord) technical.push(element(stroke, {}));
  }
  // MusicXML has one sign for both; which one it is stands beside it.
  if (sounded && !w.inChord && w.staff === 1 && strokeAt(context.measure, note.start)?.kind === 'brush')
    technical.push(tag('other-technical', 'brush'));
  if (w.staff === 2) technical.push(tag('string', note.string), tag('fret', note.fret));
  if (sounded)
    for (const technique of note.techniques ?? []) {
      const signs = TECHNIQUE_SIGNS[technique.kind](technique);
      if (signs.technical) technical.push(signs.technical);
      if (signs.articulation) articulations.push(signs.articulation);
      if (signs.ornament) ornaments.push(signs.ornament);
    }
  const out =
    w.staff === 2 && w.last ? intoSigns(context.links.goesInto.get(note.id), note.string, 'start') : {};
  const here = w.staff === 2 && w.first ? intoSigns(intoOf(note), note.string, 'stop') : {};
  for (const sign of [here.technical, out.technical]) if (sign) technical.push(sign);
  const slurs = w.staff === 1 && w.first ? context.links.slurs.get(note.id) : undefined;
  const held = context.measure.fermatas?.includes(note.start) && w.first && !w.inChord && w.staff === 1;
  const notations = [
    w.tiedFrom ? element('tied', { type: 'stop' }) : undefined,
    w.tiedOn ? element('tied', { type: 'start' }) : undefined,
    ...(slurs?.ends ?? []).map(number => element('slur', { type: 'stop', number })),
    ...(slurs?.starts ?? []).map(number => element('slur', { type: 'start', number })),
    here.slide,
    out.slide,
    ...(w.inChord ? [] : w.starts.map(tupletStart)),
    ...(w.inChord ? [] : w.ends.map(tupletStop)),
    sounded && strokeOrder(context.measure, note.start).includes(note)
      ? element('arpeggiate', {
          direction: strokeAt(context.measure, note.start)!.way === 'down' ? 'up' : 'down',
        })
      : undefined,
    ornaments.length ? tag('ornaments', ...ornaments) : undefined,
    technical.length ? tag('technical', ...technical) : undefined,
    articulations.length ? tag('articulations', ...articulations) : undefined,
    held ? element('fermata', { type: 'upright' }) : undefined,
  ].filter(n => n !== undefined);
  return tag(
    'note',
    w.inChord ? element('chord', {}) : undefined,
    pitchElement(pitch),
    tag('duration', w.duration),
    w.tiedFrom ? element('tie', { type: 'stop' }) : undefined,
    w.tiedOn ? element('tie', { type: 'start' }) : undefined,
    tag('voice', w.voice),
    w.value ? tag('type', w.value.type) : undefined,
    ...dots(w.value?.dots ?? 0),
    w.value ? modification(w.ratio) : undefined,
    w.staff === 1 ? tag('stem', note.role === 'melody' ? 'up' : 'down') : undefined,
    isDead(note) ? tag('notehead', 'x') : undefined,
    tag('staff', w.staff),
    notations.length ? tag('notations', ...notations) : undefined,
    ...(w.staff === 1 && w.first && note.role === 'melody'
      ? lyrics(context.measure, note, context.openWords)
      : []),
  );
}
