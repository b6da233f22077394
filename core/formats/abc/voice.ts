/** One voice of a parsed tune, cut into measures. */
import { NO_CHORD, parseChord, saysNoChord } from '../../chord';
import { type Key, midiOf, type Pitch, type Step } from '../../pitch';
import { type Meter, measureTicks, meterName, type NoteTuplet, signCount, TICKS_PER_WHOLE } from '../../time';
import type { RoadMark, UnnamedMeasure } from '../../tune';
import { checkTies, MOST_IN_MEASURE, MOST_MEASURES, playableTempo, setOffsets } from '../measures';
import type { AbcElement, AbcPitch, AbcStaff } from './parsed';
import { ALTER, ROAD_SIGNS, readEnding, readKey, readMeter, roadWord, STEPS } from './signs';

export type Report = (severity: 'error' | 'warning', offset: number, message: string) => void;
type UnnamedEvent = UnnamedMeasure['events'][number];

/** The chord of a symbol: "(Am)" may be left out and is one; of "G(Em)" the second may stand in its place (ABC 2.1, 4.18). */
function chordIn(text: string): { symbol: string; instead?: string } {
  if (parseChord(text)) return { symbol: text };
  const [, alone] = /^\(([^()]+)\)$/.exec(text) ?? [];
  if (alone && parseChord(alone)) return { symbol: alone };
  const [, first, instead] = /^(\S+?)\s*\(([^()\s]+)\)$/.exec(text) ?? [];
  return first && instead && parseChord(first) && parseChord(instead)
    ? { symbol: first, instead }
    : { symbol: text };
}

/** A staff of one line of music, with those of its elements that belong to the voice. */
export interface VoiceLine {
  staff: AbcStaff;
  elements: readonly AbcElement[];
}

/** Reads one voice. */
export class VoiceReader {
  readonly measures: UnnamedMeasure[] = [];
  /** Where the notes and rests of each measure stand in the text, by the tick at which they begin. */
  readonly offsets: Map<number, number>[] = [];
  /** Where beams begin, ticks from the start of each measure. */
  readonly beams: number[][] = [];
  private meter: Meter = { beats: 4, unit: 4 };
  private free = true;
  private key: Key = { tonic: 'C', mode: 'major' };
  private signature = new Map<Step, number>();
  private octaveShift = 0;
  private accidentals = new Map<Step, number>();
  private ending: number[] | undefined;
  private section: string | undefined;
  private repeatStart = false;
  private marks: RoadMark[] = [];
  private tempo: number | undefined;
  private tuplet: NoteTuplet | undefined;
  private tuplets = 0;
  private current: UnnamedMeasure | undefined;
  private dropped = 0;
  private tiedFrom: Pitch | undefined;
  private lastBar: AbcElement | undefined;

  /**
   * @param source the text that was parsed
   * @param leads whether the form of the tune is read from this voice
   * @param meaning what signs of the parser stand for (see `withStandIns`)
   */
  constructor(
    private readonly source: string,
    private readonly report: Report,
    private readonly leads: boolean,
    private readonly meaning: ReadonlyMap<string, string> = new Map(),
  ) {}

  /** The measures of the voice. */
  read(lines: readonly VoiceLine[]): UnnamedMeasure[] {
    for (const { staff, elements } of lines) {
      const lineMeter = readMeter(staff.meter);
      if (lineMeter) this.setMeter(lineMeter);
      if (staff.key) ({ key: this.key, signature: this.signature } = readKey(staff.key));
      const clef = staff.clef?.type ?? '';
      this.octaveShift = clef.endsWith('-8') ? -1 : clef.endsWith('+8') ? 1 : 0;
      for (const element of elements) {
        if (this.measures.length > MOST_MEASURES) {
          this.report('error', element.startChar, `a tune has at most ${MOST_MEASURES} measures`);
          return this.measures;
        }
        this.element(element);
      }
      this.lineEnds(elements.at(-1));
    }
    this.close();
    if (this.leads && this.marks.length) {
      const last = this.measures[this.measures.length - 1];
      if (last) last.marks = [...(last.marks ?? []), ...this.marks];
    }
    if (this.dropped === 0) checkTies(this.measures);
    codasInOrder(this.measures);
    setOffsets(this.measures);
    return this.measures;
  }

  private element(element: AbcElement): void {
    switch (element.el_type) {
      case 'key':
        ({ key: this.key, signature: this.signature } = readKey(element));
        if (this.current && !this.current.events.length) this.current.key = this.key;
        return;
      case 'meter': {
        const changed = readMeter(element);
        if (changed) this.setMeter(changed);
        else if (element.value?.length)
          this.report('warning', element.startChar, 'this meter can not be counted: the one before goes on');
        return;
      }
      case 'tempo':
        this.changeTempo(element);
        return;
      case 'part': {
        const name = element.title?.trim() || undefined;
        if (this.current && !this.current.events.length && name) this.current.section = name;
        else this.section = name;
        return;
      }
      case 'bar':
        this.bar(element);
        return;
      case 'note':
        this.note(element);
        return;
      default:
        return;
    }
  }

  private setMeter(meter: Meter): void {
    this.meter = meter;
    this.free = false;
    if (this.current && !this.current.events.length) this.current.meter = meter;
  }

  private changeTempo(element: AbcElement): void {
    const beat = [element.duration ?? []].flat().reduce((sum, part) => sum + part, 0);
    if (!element.bpm || !beat) {
      this.report('warning', element.startChar, 'this tempo names no beats a minute: it is left out');
      return;
    }
    if (!this.leads) return;
    const quartersPerMinute = playableTempo(element.bpm * beat * 4, message =>
      this.report('warning', element.startChar, message),
    );
    if (this.current)
      this.current.tempos = [
        ...(this.current.tempos ?? []),
        { start: this.current.ticks, quartersPerMinute },
      ];
    else this.tempo = quartersPerMinute;
  }

  private open(offset: number): UnnamedMeasure {
    if (this.current) return this.current;
    const measure: UnnamedMeasure = {
      meter: this.meter,
      key: this.key,
      ticks: 0,
      offset: 0,
      events: [],
      chords: [],
    };
    if (this.repeatStart) measure.repeatStart = true;
    if (this.ending) measure.ending = this.ending;
    if (this.section) measure.section = this.section;
    if (this.marks.length) measure.marks = this.marks;
    if (this.tempo !== undefined) measure.tempos = [{ start: 0, quartersPerMinute: this.tempo }];
    this.repeatStart = false;
    this.section = undefined;
    this.marks = [];
    this.tempo = undefined;
    this.offsets.push(new Map([[0, offset]]));
    this.beams.push([]);
    this.current = measure;
    return measure;
  }

  private close(): void {
    const measure = this.current;
    if (!measure) return;
    this.measures.push(measure);
    const offset = this.offsets.at(-1)!.get(0)!;
    if (!this.free && measure.ticks > measureTicks(measure.meter))
      this.report(
        'warning',
        offset,
        `measure ${this.measures.length} holds ${fraction(measure.ticks)} of a whole note, its meter asks for ${meterName(measure.meter)}`,
      );
    this.current = undefined;
    this.accidentals = new Map();
  }

  /**
   * Many a tune has no bar line where a line of text ends: where the measure is full there, it ends. A bar line at the
   * beginning of the next line closes nothing then.
   */
  private lineEnds(last: AbcElement | undefined): void {
    const { current } = this;
    if (!current || this.free || last?.el_type === 'bar' || this.tuplet) return;
    if (current.ticks === measureTicks(current.meter)) this.close();
  }

  private bar(element: AbcElement): void {
    this.close();
    const type = element.type ?? '';
    const last = this.measures[this.measures.length - 1];
    // "::|" comes as "::" and "|": three times in all (ABC 2.1, section 4.8).
    const { lastBar } = this;
    this.lastBar = element;
    if (
      last &&
      type === 'bar_thin' &&
      lastBar?.type === 'bar_dbl_repeat' &&
      lastBar.endChar === element.startChar
    ) {
      last.passes = 3;
      this.repeatStart = false;
      return;
    }
    if (last && (type === 'bar_right_repeat' || type === 'bar_dbl_repeat')) {
      last.repeatEnd = true;
      const colons = /^:*/.exec(this.source.slice(element.startChar, element.endChar).trim())![0].length;
      if (type === 'bar_right_repeat' && colons > 1) last.passes = colons + 1;
    }
    if (last && type === 'bar_thin_thin') last.barline = 'double';
    if (last && (type === 'bar_thin_thick' || type === 'bar_thick_thin')) last.barline = 'final';
    if (type === 'bar_left_repeat' || type === 'bar_dbl_repeat') this.repeatStart = true;
    if (element.endEnding || last?.repeatEnd || last?.barline) this.ending = undefined;
    if (element.startEnding) {
      const passes = readEnding(element.startEnding);
      if (passes.length) this.ending = passes;
      else
        this.report(
          'warning',
          element.startChar,
          `the ending "${element.startEnding}" has no number; it is played every time`,
        );
    }
    for (const parsed of element.decoration ?? []) {
      const sign = this.meaning.get(parsed) ?? parsed;
      const mark = ROAD_SIGNS[sign];
      if (!mark)
        this.report('warning', element.startChar, `the sign "${sign}" stands at a barline: it is left out`);
      else if (mark === 'segno' || mark === 'coda') this.marks.push(mark);
      else if (last) last.marks = [...(last.marks ?? []), mark];
    }
  }

  private note(element: AbcElement): void {
    if (element.rest?.type === 'spacer') return;
    if (element.rest?.type === 'multimeasure' || element.rest?.type === 'invisible-multimeasure') {
      const count = Math.min(99, Math.max(1, Number(element.rest.text ?? 1) || 1));
      for (let i = 0; i < count; i++) {
        const measure = this.open(element.startChar);
        measure.ticks = measureTicks(this.meter);
        measure.events.push({ start: 0, ticks: measure.ticks });
        if (i < count - 1) this.close();
      }
      return;
    }
    if (element.startTriplet) {
      this.tuplets += 1;
      this.tuplet = {
        actual: element.startTriplet,
        normal: Math.max(1, Math.round(element.startTriplet * (element.tripletMultiplier ?? 1))),
        group: this.tuplets,
      };
    }
    if (this.tuplet && !this.current && !element.startTriplet)
      this.report(
        'warning',
        element.startChar,
        'a tuplet goes on over the barline: it is written in two parts',
      );
    const measure = this.open(element.startChar);
    const { tuplet } = this;
    const duration = typeof element.duration === 'number' ? element.duration : 0;
    // A whole rest fills a measure that is no longer than it; the parser takes the meter of the heading for that.
    const fills = element.rest?.type === 'whole' || (element.rest?.type === 'rest' && duration === 1);
    const length = fills ? Math.min(1, measureTicks(this.meter) / TICKS_PER_WHOLE) : duration;
    const written = length * TICKS_PER_WHOLE;
    const exact = tuplet ? (written * tuplet.normal) / tuplet.actual : written;
    const ticks = Math.round(exact);
    if (element.endTriplet) this.tuplet = undefined;
    if (ticks <= 0) {
      this.report('error', element.startChar, 'a note of no length is left out');
      return;
    }
    if (measure.events.length >= MOST_IN_MEASURE) {
      if (measure.events.length === MOST_IN_MEASURE)
        this.report('error', element.startChar, `a measure has at most ${MOST_IN_MEASURE} notes`);
      this.dropped += 1;
      return;
    }
    if (Math.abs(exact - ticks) > 1e-6 || !signCount(ticks, tuplet && [tuplet])) {
      this.report('error', element.startChar, 'this length is no note value down to a 128th');
      this.dropped += 1;
    }
    const event: UnnamedEvent = { start: measure.ticks, ticks };
    if (event.start > 0) this.offsets.at(-1)!.set(event.start, element.startChar);
    if (element.startBeam) this.beams.at(-1)!.push(event.start);
    this.readPitches(element, event);
    this.tiedFrom = event.tie ? event.pitch : undefined;
    if (tuplet) event.tuplets = [tuplet];
    this.readTexts(element, event, measure);
    this.readSigns(element, event, measure);
    measure.events.push(event);
    measure.ticks += ticks;
  }

  private pitchOf(p: AbcPitch, remember: boolean): Pitch {
    const step = STEPS[((p.pitch % 7) + 7) % 7]!;
    const octave = 4 + Math.floor(p.pitch / 7) + this.octaveShift;
    if (p.accidental !== undefined) {
      const alter = ALTER[p.accidental] ?? 0;
      // An accidental holds for its letter in every octave to the end of the measure (ABC 2.1, section 4.2).
      if (remember) this.accidentals.set(step, alter);
      return { step, alter, octave };
    }
    // A tie carries its accidental over the barline.
    if (this.tiedFrom?.step === step && this.tiedFrom.octave === octave) return this.tiedFrom;
    return { step, alter: this.accidentals.get(step) ?? this.signature.get(step) ?? 0, octave };
  }

  private readPitches(element: AbcElement, event: UnnamedEvent): void {
    if (element.pitches?.length) {
      const read = element.pitches.map(p => ({ source: p, pitch: this.pitchOf(p, true) }));
      read.sort((a, b) => midiOf(a.pitch) - midiOf(b.pitch));
      const top = read[read.length - 1]!;
      event.pitch = top.pitch;
      if (read.length > 1) event.lower = read.slice(0, -1).map(r => r.pitch);
      if (top.source.startTie) event.tie = true;
      const count = (name: 'startSlur' | 'endSlur') =>
        (element[name]?.length ?? 0) + element.pitches!.reduce((sum, p) => sum + (p[name]?.length ?? 0), 0);
      if (count('startSlur')) event.slurStarts = count('startSlur');
      if (count('endSlur')) event.slurEnds = count('endSlur');
    }
    if (element.gracenotes?.length) event.graces = element.gracenotes.map(p => this.pitchOf(p, false));
    if (element.lyric?.some(l => l.syllable))
      event.words = element.lyric.map(l => l.syllable + (l.divider === '-' && l.syllable ? '-' : ''));
  }

  /** Chord symbols stand in the default place; remarks ("^slowly") have one of their own. */
  private readTexts(element: AbcElement, event: UnnamedEvent, measure: UnnamedMeasure): void {
    for (const { name, position } of element.chord ?? []) {
      const text = name.trim();
      if (!text) continue;
      const mark = roadWord(text);
      if (mark) {
        if (this.leads) measure.marks = [...new Set([...(measure.marks ?? []), mark])];
        continue;
      }
      if (position !== 'default') {
        event.remarks = [...(event.remarks ?? []), text];
        continue;
      }
      const { symbol, instead } = chordIn(text.replace(/♯/g, '#').replace(/♭/g, 'b'));
      if (instead)
        this.report('warning', element.startChar, `of "${text}" ${symbol} is taken; ${instead} is left out`);
      if (!parseChord(symbol)) {
        if (saysNoChord(symbol)) {
          measure.chords.push({ start: event.start, symbol: NO_CHORD });
          continue;
        }
        // A finger of another instrument says nothing here; other words are somebody's remark.
        const finger = /^\d{1,2}$/.test(symbol);
        if (!finger) event.remarks = [...(event.remarks ?? []), text];
        this.report(
          'warning',
          element.startChar,
          `"${symbol}" is not a chord symbol; it is ${finger ? 'left out' : 'kept as a remark'}`,
        );
      } else measure.chords.push({ start: event.start, symbol });
    }
  }

  private readSigns(element: AbcElement, event: UnnamedEvent, measure: UnnamedMeasure): void {
    for (const parsed of element.decoration ?? []) {
      const sign = this.meaning.get(parsed) ?? parsed;
      const mark = ROAD_SIGNS[sign];
      if (sign === 'fermata' || sign === 'invertedfermata') {
        if (this.leads && !measure.fermatas?.includes(event.start))
          measure.fermatas = [...(measure.fermatas ?? []), event.start];
      } else if (mark && this.leads) measure.marks = [...new Set([...(measure.marks ?? []), mark])];
      else event.signs = [...(event.signs ?? []), sign];
    }
  }
}

/**
 * A coda sign twice and no "to coda": the first one is where the leap begins, as it is printed. It stands at the end of
 * its measure.
 */
function codasInOrder(measures: readonly UnnamedMeasure[]): void {
  const codas = measures.filter(m => m.marks?.includes('coda'));
  if (codas.length < 2 || measures.some(m => m.marks?.includes('to-coda'))) return;
  codas[0]!.marks = codas[0]!.marks!.map(mark => (mark === 'coda' ? 'to-coda' : mark));
}

function fraction(ticks: number): string {
  let a = ticks;
  let b = TICKS_PER_WHOLE;
  while (b) [a, b] = [b, a % b];
  return `${ticks / a}/${TICKS_PER_WHOLE / a}`;
}
