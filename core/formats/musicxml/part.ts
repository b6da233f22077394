/** A part of a MusicXML document, measure by measure, in the units of the app. */
import { NO_CHORD, parseChord, transposeChord } from '../../chord';
import {
  type Key,
  keyFifths,
  MODES,
  midiOf,
  type Pitch,
  type Step,
  spellMidi,
  transposeKey,
} from '../../pitch';
import { MOST_NAME } from '../../score';
import {
  type Feel,
  type Meter,
  measureTicks,
  meterOfParts,
  type NoteTuplet,
  signCount,
  TICKS_PER_QUARTER,
} from '../../time';
import type { RoadMark } from '../../tune';
import { keyOfFifths } from '../keys';
import { MOST_IN_MEASURE, playableTempo } from '../measures';
import { chordSymbol, gripIn } from './harmony';
import type { PartMeasure, PartNote, PartPhrase, ScorePart } from './scorePart';
import { readSigns } from './signs';
import { all, first, type Node, numberIn, textIn } from './tree';

/** Where remarks about a part go: what was taken to be meant, and what is left out. The measure counts from 1. */
export interface Tell {
  guess: (message: string, measure?: number) => void;
  leftOut: (message: string, measure?: number) => void;
}

const BEAT_UNITS: Record<string, number> = {
  whole: 4,
  half: 2,
  quarter: 1,
  eighth: 0.5,
  '16th': 0.25,
};

/** Signs of the road that are written as words. */
const ROAD_WORDS: [RegExp, RoadMark][] = [
  [/^to coda/i, 'to-coda'],
  [/^fine\b/i, 'fine'],
  [/^(d\.? ?c\.?|da capo)\b/i, 'da-capo'],
  [/^(d\.? ?s\.?|dal segno)\b/i, 'dal-segno'],
  [/^last time: end here/i, 'last-time-end'],
];
const SOUND_MARKS: Record<string, RoadMark> = {
  segno: 'segno',
  coda: 'coda',
  tocoda: 'to-coda',
  fine: 'fine',
  dacapo: 'da-capo',
  dalsegno: 'dal-segno',
};
const FEEL_WORDS: [RegExp, Feel][] = [
  [/swing|shuffle/i, 'swing'],
  [/lilt/i, 'lilt'],
];

/** Reads the measures of one part. */
export class PartReader {
  private divisions = 1;
  private meter: Meter = { beats: 4, unit: 4 };
  private key: Key = { tonic: 'C', mode: 'major' };
  /** Semitones from what is written to what sounds. */
  private shift = 0;
  private ending: number[] | undefined;
  private tuning: string[] | undefined;
  private capo: number | undefined;
  private feel: Feel | undefined;
  private lines: number | undefined;
  private modeUnsaid = false;
  /** Measures that the one before, or the ones before, are played again in, as many as that is. */
  private again = 0;
  private readonly tabStaves = new Set<number>();
  private readonly tuplets = new Map<string, NoteTuplet[]>();
  private groups = 0;
  private readonly phrases: PartPhrase[] = [];
  /** Brackets that go on, by number. */
  private readonly brackets = new Map<string, Pick<PartPhrase, 'name' | 'first' | 'begins'>>();
  /** Ticks from the start of the piece at which the tempo began to change slowly. */
  private slowing: number | undefined;
  private passed = 0;
  private number = 0;

  constructor(
    private readonly part: { id: string; name: string },
    private readonly tell: Tell,
  ) {}

  read(measures: readonly Node[]): ScorePart {
    const read: PartMeasure[] = [];
    for (const node of measures) {
      const measure = this.measure(node);
      const model = this.again ? read.at(-this.again) : undefined;
      read.push(model ? this.likeBefore(measure, model) : measure);
    }
    for (const open of this.brackets.values()) this.endless(open);
    return {
      ...this.part,
      measures: read,
      phrases: this.phrases,
      tabStaves: this.tabStaves,
      modeUnsaid: this.modeUnsaid,
      ...(this.lines && { lines: this.lines }),
      ...(this.tuning && { tuning: this.tuning }),
      ...(this.capo && { capo: this.capo }),
      ...(this.feel && { feel: this.feel }),
    };
  }

  /** A measure in which only the sign stands that the one before is played again. */
  private likeBefore(measure: PartMeasure, model: PartMeasure): PartMeasure {
    if (measure.ticks !== model.ticks || measure.notes.some(note => note.pitch)) return measure;
    this.tell.guess('a measure that is written as a sign of repetition is written out', this.number);
    // What is tied into the model's first note comes from another measure.
    const groups = new Map<number, number>();
    const groupOf = (group: number) => {
      if (!groups.has(group)) groups.set(group, ++this.groups);
      return groups.get(group)!;
    };
    const notes = model.notes.map(note => ({
      ...note,
      tieFrom: note.tieFrom && note.start > 0,
      ...(note.tuplets && { tuplets: note.tuplets.map(own => ({ ...own, group: groupOf(own.group) })) }),
    }));
    return { ...measure, notes, chords: measure.chords.length ? measure.chords : model.chords };
  }

  private ticks(divisions: number): number {
    const exact = (divisions * TICKS_PER_QUARTER) / this.divisions;
    const ticks = Math.round(exact);
    if (Math.abs(exact - ticks) > 1e-6)
      this.tell.guess('lengths that can not be counted exactly are rounded', this.number);
    return ticks;
  }

  private measure(node: Node): PartMeasure {
    this.number += 1;
    const measure: PartMeasure = {
      meter: this.meter,
      key: this.key,
      ticks: 0,
      offset: 0,
      chords: [],
      notes: [],
    };
    if (this.ending) measure.ending = this.ending;
    let cursor = 0;
    let end = 0;
    let graces: PartNote[] = [];
    for (const child of node.children) {
      switch (child.name) {
        case 'attributes':
          this.attributes(child);
          if (cursor === 0) Object.assign(measure, { meter: this.meter, key: this.key });
          break;
        case 'note': {
          const note = this.note(child, measure, cursor);
          if (!note) break;
          if (first(child, 'grace')) {
            graces.push(note);
            break;
          }
          if (!note.together) cursor = note.start + note.ticks;
          note.graces = graces;
          graces = [];
          if (measure.notes.length === MOST_IN_MEASURE)
            this.tell.leftOut(`more than ${MOST_IN_MEASURE} notes of a measure`, this.number);
          if (measure.notes.length < MOST_IN_MEASURE) measure.notes.push(note);
          break;
        }
        case 'backup':
          cursor = Math.max(0, cursor - this.ticks(numberIn(child, 'duration') ?? 0));
          break;
        case 'forward':
          cursor += this.ticks(numberIn(child, 'duration') ?? 0);
          break;
        case 'harmony':
          this.chord(child, measure, cursor);
          break;
        case 'direction':
          this.direction(child, measure, cursor);
          break;
        case 'sound':
          this.sound(child, measure, cursor);
          break;
        case 'barline':
          this.barline(child, measure);
          break;
        case 'figured-bass':
          this.tell.leftOut('figured bass', this.number);
          break;
        default:
          break;
      }
      end = Math.max(end, cursor);
    }
    const full = measureTicks(measure.meter);
    // A measure without anything lasts as long as its meter says.
    measure.ticks = end || full;
    if (measure.ticks > full)
      this.tell.guess(`it is longer than ${measure.meter.beats}/${measure.meter.unit}`, this.number);
    this.passed += measure.ticks;
    return measure;
  }

  private attributes(node: Node): void {
    this.divisions = numberIn(node, 'divisions') ?? this.divisions;
    for (const transpose of all(node, 'transpose'))
      this.shift = (numberIn(transpose, 'chromatic') ?? 0) + 12 * (numberIn(transpose, 'octave-change') ?? 0);
    const key = first(node, 'key');
    const fifths = numberIn(key, 'fifths');
    if (key && fifths === undefined)
      this.tell.leftOut('a key signature that is not of the circle of fifths', this.number);
    if (fifths !== undefined) {
      const said = textIn(key, 'mode')?.toLowerCase();
      const mode = MODES.find(
        own =>
          own === said || (own === 'major' && said === 'ionian') || (own === 'minor' && said === 'aeolian'),
      );
      if (!mode) this.modeUnsaid = true;
      this.key = keyOfFifths(fifths, mode ?? 'major');
      if (this.shift % 12) this.key = transposeKey(this.key, this.shift);
    }
    const time = first(node, 'time');
    if (time) {
      const parts = all(time, 'beats').flatMap(own => own.text.split('+').map(Number));
      const unit = numberIn(time, 'beat-type') ?? 0;
      const meter = meterOfParts(parts, unit);
      if (meter && meter.beats <= 64 && [1, 2, 4, 8, 16, 32].includes(unit)) this.meter = meter;
      else this.tell.leftOut('a meter that can not be counted', this.number);
    }
    for (const clef of all(node, 'clef'))
      if (textIn(clef, 'sign') === 'TAB') this.tabStaves.add(Number(clef.attributes.number ?? 1));
    for (const style of all(node, 'measure-style')) {
      const sign = first(style, 'measure-repeat');
      const measures = Math.max(1, Math.trunc(numberIn(style, 'measure-repeat') ?? 1));
      if (sign) this.again = sign.attributes.type === 'stop' ? 0 : measures;
      if (first(style, 'beat-repeat'))
        this.tell.leftOut('signs that a part of a measure is played again', this.number);
    }
    for (const details of all(node, 'staff-details')) {
      const tunings = all(details, 'staff-tuning');
      if (tunings.length > 2) {
        // Line 1 is the lowest: the thickest string.
        this.tuning = tunings
          .toSorted((a, b) => Number(b.attributes.line) - Number(a.attributes.line))
          .map(own => {
            const alter = numberIn(own, 'tuning-alter') ?? 0;
            const sign = alter < 0 ? 'b'.repeat(-alter) : '#'.repeat(alter);
            return `${textIn(own, 'tuning-step') ?? 'E'}${sign}${numberIn(own, 'tuning-octave') ?? 4}`;
          });
      }
      this.capo = numberIn(details, 'capo') ?? this.capo;
      if (this.tabStaves.has(Number(details.attributes.number ?? 1)))
        this.lines = numberIn(details, 'staff-lines') ?? this.lines;
    }
  }

  private note(node: Node, measure: PartMeasure, cursor: number): PartNote | undefined {
    const grace = first(node, 'grace') !== undefined;
    if (first(node, 'cue')) {
      this.tell.leftOut('cue notes', this.number);
      return undefined;
    }
    const before = measure.notes.at(-1);
    const together = first(node, 'chord') !== undefined && before !== undefined;
    const duration = numberIn(node, 'duration') ?? 0;
    if (!grace && duration <= 0) {
      this.tell.leftOut('notes of no length', this.number);
      return undefined;
    }
    const voice = textIn(node, 'voice') ?? '1';
    const staff = numberIn(node, 'staff') ?? 1;
    // A slash says when chords are struck, at whatever pitch it is drawn.
    const slash = textIn(node, 'notehead') === 'slash';
    const pitch = slash ? undefined : this.pitch(node);
    if (!pitch && !first(node, 'rest')) {
      this.tell.leftOut(slash ? 'slashes: strokes without a pitch' : 'notes without a pitch', this.number);
      if (!grace && !together) return this.silent(cursor, this.ticks(duration), voice, staff);
      return undefined;
    }
    const ties = all(node, 'tie').map(tie => tie.attributes.type);
    const stem = textIn(node, 'stem');
    const signs = readSigns(node, sign => this.tell.leftOut(sign, this.number));
    const own: PartNote = {
      start: together ? before.start : cursor,
      ticks: grace ? 0 : this.ticks(duration),
      voice,
      staff,
      together,
      tieFrom: ties.includes('stop'),
      tieOn: ties.includes('start'),
      graces: [],
      words: wordsOf(node),
      ...signs,
    };
    if (pitch) own.pitch = pitch;
    if (stem === 'up' || stem === 'down') own.stem = stem;
    const tuplets = grace ? undefined : together ? before.tuplets : this.tupletsAt(node, own);
    if (tuplets) own.tuplets = tuplets;
    if (own.fermata && !measure.fermatas?.includes(own.start))
      measure.fermatas = [...(measure.fermatas ?? []), own.start];
    return own;
  }

  private silent(start: number, ticks: number, voice: string, staff: number): PartNote {
    return {
      start,
      ticks,
      voice,
      staff,
      together: false,
      tieFrom: false,
      tieOn: false,
      graces: [],
      words: [],
      slurStarts: [],
      slurEnds: [],
      techniques: [],
      fermata: false,
    };
  }

  private pitch(node: Node): Pitch | undefined {
    const written = first(node, 'pitch');
    const step = textIn(written, 'step') as Step | undefined;
    const octave = numberIn(written, 'octave');
    if (!step || octave === undefined || !/^[A-G]$/.test(step)) return undefined;
    const alter = numberIn(written, 'alter') ?? 0;
    if (!Number.isInteger(alter)) this.tell.guess('quarter tones are read as the note below', this.number);
    const pitch = { step, alter: Math.floor(alter), octave };
    if (!this.shift) return pitch;
    if (this.shift % 12 === 0) return { ...pitch, octave: octave + this.shift / 12 };
    return spellMidi(midiOf(pitch) + this.shift, keyFifths(this.key));
  }

  /** Tuplets that a note stands in: by their brackets, or by the note's own ratio where none is drawn. */
  private tupletsAt(node: Node, { voice, staff, ticks }: PartNote): NoteTuplet[] | undefined {
    const ratio = first(node, 'time-modification');
    const key = `${staff} ${voice}`;
    const open = this.tuplets.get(key) ?? [];
    if (!ratio) {
      this.tuplets.delete(key);
      return undefined;
    }
    const actual = numberIn(ratio, 'actual-notes') ?? 1;
    const normal = numberIn(ratio, 'normal-notes') ?? 1;
    const brackets = all(node, 'notations').flatMap(own => all(own, 'tuplet'));
    for (const bracket of brackets.filter(own => own.attributes.type === 'start'))
      open.push({
        actual: numberIn(bracket, 'tuplet-actual', 'tuplet-number') ?? actual,
        normal: numberIn(bracket, 'tuplet-normal', 'tuplet-number') ?? normal,
        group: ++this.groups,
      });
    if (!open.length) open.push({ actual, normal, group: ++this.groups });
    const own = [...open];
    for (const _ of brackets.filter(bracket => bracket.attributes.type === 'stop')) open.pop();
    this.tuplets.set(key, open);
    return signCount(ticks, own) ? own : undefined;
  }

  private chord(node: Node, measure: PartMeasure, cursor: number): void {
    const symbol = chordSymbol(node);
    const start = Math.max(0, cursor + this.ticks(numberIn(node, 'offset') ?? 0));
    const parsed = symbol === undefined ? undefined : parseChord(symbol);
    if (!parsed && symbol !== NO_CHORD) {
      this.tell.leftOut(`chord names that are not known (${symbol ?? 'without a root'})`, this.number);
      return;
    }
    const sounding = !parsed
      ? NO_CHORD
      : this.shift % 12
        ? transposeChord(parsed, this.shift, keyFifths(this.key)).symbol
        : parsed.symbol;
    // Some files name a chord once for each staff.
    if (measure.chords.some(chord => chord.start === start)) return;
    const grip = gripIn(node);
    if (grip) measure.grips = [...(measure.grips ?? []), { start, ...grip }];
    measure.chords = [...measure.chords, { start, symbol: sounding }].sort((a, b) => a.start - b.start);
  }

  private direction(node: Node, measure: PartMeasure, cursor: number): void {
    const at = Math.max(0, cursor + this.ticks(numberIn(node, 'offset') ?? 0));
    const sound = first(node, 'sound');
    const marks = sound ? this.sound(sound, measure, at) : [];
    const types = all(node, 'direction-type').flatMap(own => own.children);
    const brackets = types.filter(type => type.name === 'bracket' && this.bracket(type, types, at));
    // The words beside a bracket that begins are its name.
    const named = brackets.some(({ attributes }) => attributes.type === 'start');
    for (const type of types) {
      const text = type.text.trim();
      if (brackets.includes(type) || (named && type.name === 'words')) continue;
      switch (type.name) {
        case 'rehearsal':
          if (text) measure.section = text;
          break;
        case 'segno':
        case 'coda':
          if (!marks.length) this.mark(measure, type.name);
          break;
        case 'metronome':
          if (sound?.attributes.tempo === undefined) this.metronome(type, measure, at);
          break;
        case 'words':
          if (!marks.length) this.words(text, measure, at);
          break;
        case 'dynamics':
        case 'wedge':
          this.tell.leftOut('how loud it is played', this.number);
          break;
        case 'octave-shift':
          break;
        default:
          this.tell.leftOut(type.name.replace(/-/g, ' '), this.number);
      }
    }
  }

  /** A bracket with a name begins, or ends. @returns whether it is one */
  private bracket({ attributes }: Node, beside: readonly Node[], at: number): boolean {
    const { type, number = '1' } = attributes;
    const name = beside.find(own => own.name === 'words')?.text.trim();
    const index = this.number - 1;
    if (type === 'start' && name && name.length <= MOST_NAME) {
      const before = this.brackets.get(number);
      if (before) this.endless(before);
      this.brackets.set(number, { name, first: index, begins: at });
      return true;
    }
    const open = type === 'stop' ? this.brackets.get(number) : undefined;
    if (!open) return false;
    const phrase = { ...open, last: index, ends: at };
    const empty = open.first === index && open.begins >= at;
    if (!empty && this.phrases.length < MOST_IN_MEASURE) this.phrases.push(phrase);
    else this.tell.leftOut(`the bracket “${open.name}”`, open.first + 1);
    this.brackets.delete(number);
    return true;
  }

  private endless({ name, first: index }: Pick<PartPhrase, 'name' | 'first'>): void {
    this.tell.leftOut(`the bracket “${name}”, which never ends`, index + 1);
  }

  private words(text: string, measure: PartMeasure, at: number): void {
    const road = ROAD_WORDS.find(([pattern]) => pattern.test(text));
    const feel = FEEL_WORDS.find(([pattern]) => pattern.test(text));
    const as = /^as (.+), but its end:$/.exec(text);
    if (road) this.mark(measure, road[1]);
    else if (/^(rit|rall|accel|string)/i.test(text)) this.slowing = this.passed + at;
    else if (feel) this.feel = feel[1];
    else if (/^freely$/i.test(text)) measure.free = true;
    else if (as) measure.as = as[1]!;
    else if (text) this.tell.leftOut(`the words “${text.slice(0, 40)}”`, this.number);
  }

  private mark(measure: PartMeasure, mark: RoadMark): void {
    if (!measure.marks?.includes(mark)) measure.marks = [...(measure.marks ?? []), mark];
  }

  private metronome(node: Node, measure: PartMeasure, at: number): void {
    const unit = BEAT_UNITS[textIn(node, 'beat-unit') ?? ''];
    const said = textIn(node, 'per-minute') ?? '';
    // "c. 92", "88–96".
    const numbers = (said.match(/\d+(?:\.\d+)?/g) ?? []).slice(0, 2).map(Number);
    const perMinute = numbers.reduce((sum, own) => sum + own, 0) / numbers.length;
    if (unit && perMinute > 0 && said !== `${numbers[0]}`)
      this.tell.guess(`“${said.slice(0, 20)}” beats a minute are taken as ${perMinute}`, this.number);
    if (!unit || !(perMinute > 0)) {
      this.tell.leftOut('a tempo that names no beats a minute', this.number);
      return;
    }
    this.tempo(measure, at, perMinute * unit * (first(node, 'beat-unit-dot') ? 1.5 : 1));
  }

  private tempo(measure: PartMeasure, start: number, asked: number): void {
    const quartersPerMinute = playableTempo(asked, message => this.tell.guess(message, this.number));
    const over = this.slowing === undefined ? 0 : this.passed + start - this.slowing;
    this.slowing = undefined;
    const others = (measure.tempos ?? []).filter(tempo => tempo.start !== start);
    measure.tempos = [...others, { start, quartersPerMinute, ...(over > 0 && { over }) }].sort(
      (a, b) => a.start - b.start,
    );
  }

  /** What a sound says of tempo and road. @returns the marks */
  private sound({ attributes }: Node, measure: PartMeasure, at: number): RoadMark[] {
    const tempo = Number(attributes.tempo);
    if (tempo > 0) this.tempo(measure, at, tempo);
    const marks = Object.entries(SOUND_MARKS).flatMap(([name, mark]) =>
      attributes[name] === undefined || attributes[name] === 'no' ? [] : mark,
    );
    for (const mark of marks) this.mark(measure, mark);
    return marks;
  }

  private barline(node: Node, measure: PartMeasure): void {
    const repeat = first(node, 'repeat');
    const ending = first(node, 'ending');
    const style = textIn(node, 'bar-style');
    if (repeat?.attributes.direction === 'forward') measure.repeatStart = true;
    if (repeat?.attributes.direction === 'backward') {
      measure.repeatEnd = true;
      const times = Number(repeat.attributes.times);
      if (Number.isInteger(times) && times > 1 && times !== 2) measure.passes = times;
    }
    if (ending?.attributes.type === 'start') {
      const passes = (ending.attributes.number ?? '')
        .split(/[,\s]+/)
        .map(Number)
        .filter(n => Number.isInteger(n) && n > 0);
      if (passes.length) {
        this.ending = passes;
        measure.ending = passes;
      }
    } else if (ending) this.ending = undefined;
    if (repeat || node.attributes.location === 'left') return;
    if (style === 'light-light') measure.barline = 'double';
    if (style === 'light-heavy') measure.barline = 'final';
  }
}

function wordsOf(node: Node): string[] {
  const words: string[] = [];
  for (const lyric of all(node, 'lyric')) {
    const text = all(lyric, 'text')
      .map(own => own.text.trim())
      .join(' ');
    if (!text) continue;
    const goesOn = ['begin', 'middle'].includes(textIn(lyric, 'syllabic') ?? 'single');
    const verse = Math.max(1, Number.parseInt(lyric.attributes.number ?? '1', 10) || 1);
    while (words.length < verse - 1) words.push('');
    words[verse - 1] = `${text}${goesOn ? '-' : ''}`;
  }
  return words;
}
