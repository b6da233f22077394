import { chordClasses, parseChord } from '../chord';
import { IdGiver } from '../identity';
import { bestPath, throughEach } from '../path';
import { type Key, keyFifths, midiOf, mod12, noteName, pitchClassOf, scaleOf, spellClass } from '../pitch';
import { measureTicks, pulseCount, pulseTicks, strongBeats, TICKS_PER_WHOLE, ticksToSeconds } from '../time';
import { sectionsOf } from './form';
import { heardChords } from './heard';
import { measureStarts } from './melody';
import type { ChordPlace, Tune, TuneChord, TuneMeasure } from './model';
import { type ChordRole, USUAL_CHORDS } from './usualChords';

/** Weight of a melody note by where it stands: struck on an accent or a beat, only held over, or sung ahead of the next chord. */
const STANDS = { accent: 1.5, beat: 1.5, between: 1, held: 0.8, ahead: 0.3 };
/** Power of its length by which a note counts: it is heard when it is struck, so that one twice as long is not twice as much. */
const LENGTH_POWER = 0.7;
/**
 * How foreign a note is to a chord: its seventh, a note that passes by step, one that goes on by step to a note of the
 * chord, as a suspension does; below 0 the root on an accent.
 */
const FOREIGN = { seventh: 0.3, passing: 0.5, resolved: 0.7, rootOnAccent: -0.1 };
/** Weight of the foreign part of a melody over half a whole note; less where a chord lasts less. */
const MISFIT = 4.4;
/** Reluctance to take a chord for a note from beside the scale that nobody sings: C sharp under a dorian tune in D; judgement. */
const UNSUNG = 1;

/**
 * Costs of a way through, found by random search on the fitted tunes of the tests and rounded: a chord changes at a bar
 * line rather than inside a measure, least inside a fast one; phrases begin and end at home, but not on the step onto the
 * tonic that a section closes with (judgement: any value from 0.7 to 3 agrees more with all tunes); a dominant goes home.
 */
const CHANGE = { atBar: 0.25, atWeakBar: 0.3, inside: 0.8, insideFast: 0.35 };
const HOME = { sectionBegins: 0.4, phraseRests: 1.5, last: 2.2, stepped: 1 };
/** A phrase that does not rest on the tonic ends on tonic or dominant, on the second degree on the dominant. */
const HALF_CLOSE = { other: 0.3, secondDegree: 0.3 };
/** What is saved where a dominant goes home: anywhere, at a phrase's end, in a section's last two measures. */
const CLOSE = { anywhere: 0.3, phrase: 0.45, section: 0.55 };
/** A section's end that comes home from elsewhere; a dominant that goes back; another chord's dominant that goes elsewhere. */
const NO_CLOSE = 0.5;
const GOES_BACK = 0.5;
const GOES_ASTRAY = 1.5;
/** One chord holds so many measures before each further one costs. */
const LONGEST = 4;
const TOO_LONG = 0.8;
/** Melody notes a second from which a tune counts as fast. */
const FAST = 2.4;

interface Candidate {
  symbol: string;
  /** Semitones of its root over the tonic. */
  degree: number;
  classes: number[];
  /** Those of its classes that lie beside the scale; a minor key's leading note is its own. */
  beside: number[];
  reluctance: number;
  role: ChordRole;
  /** Measures that it has held already, as far as `LONGEST`. */
  held: number;
}

/** A note of a stretch of melody. */
interface MelodyNote {
  pitchClass: number;
  weight: number;
  accent: boolean;
  /** It comes and goes by step. */
  passing: boolean;
  /** The class of the note to which it goes on by step inside its stretch. */
  resolvesTo?: number;
}

/** A stretch of melody that takes one chord. */
interface Part {
  measure: number;
  /** Ticks from the start of what is written in its measure. */
  start: number;
  ticks: number;
  notes: MelodyNote[];
  atBar: boolean;
  /** Measures since the phrase began. */
  inPhrase: number;
  endsPhrase: boolean;
  /** It lies in the last measure of its phrase, or the last two of its section. */
  closes: { phrase: boolean; section: boolean };
  sectionBegins: boolean;
  last: boolean;
  tonic: number;
  /** Where a phrase ends: the class of its last note. */
  restsOn?: number;
  /** Its last note steps to the tonic on which the section comes to rest. */
  stepsHome: boolean;
}

/** A short pickup stays bare. */
const isPickup = (measure: TuneMeasure) =>
  measure.offset > 0 && measure.ticks * 2 <= measureTicks(measure.meter);

/**
 * Places in a measure at which a chord may change, where something begins.
 *
 * @param closes it is one of the last phrase of its section
 */
function places(measure: TuneMeasure, closes: boolean): number[] {
  const accents = strongBeats(measure.meter);
  const pulse = pulseTicks(measure.meter);
  const pulses = pulseCount(measure.meter);
  const last = (pulses - 1) * pulse;
  // A measure of two has a middle; one of three turns on its last beat, where a section comes home.
  const all = accents.length === 1 && (pulses === 2 || (pulses === 3 && closes)) ? [0, last] : accents;
  const begins = new Set(measure.events.map(event => event.start));
  const within = all.map(tick => tick - measure.offset).filter(tick => tick > 0 && begins.has(tick));
  return [0, ...within];
}

function partsOf(tune: Tune): Part[] {
  const parts: Part[] = [];
  const events = tune.measures.flatMap((measure, index) => measure.events.map(event => ({ event, index })));
  const at = new Map(events.map(({ event }, i) => [event, i]));
  const midi = (i: number) => {
    const pitch = events[i]?.event.pitch;
    return pitch && midiOf(pitch);
  };
  const isStep = (own: number, other: number | undefined): other is number =>
    other !== undefined && other !== own && Math.abs(other - own) <= 2;
  const begins = measureStarts(tune.measures);
  /** Where a note begins and ends with all that is tied to it, in ticks of the tune. */
  const reachOf = (i: number) => {
    let [first, last] = [i, i];
    while (events[first - 1]?.event.tie && midi(first - 1) === midi(i)) first -= 1;
    while (events[last]?.event.tie && midi(last + 1) === midi(i)) last += 1;
    const at = ({ event, index }: (typeof events)[number]) => begins[index]! + event.start;
    return { from: at(events[first]!), to: at(events[last]!) + events[last]!.event.ticks };
  };
  /** Whether a note is struck less than a beat before a place and held for a beat over it: sung ahead of its chord (common practice of syncopation). */
  const anticipates = (i: number, place: number) => {
    const { from, to } = reachOf(i);
    const pulse = pulseTicks(tune.measures[events[i]!.index]!.meter);
    return from < place && place - from < pulse && to - place >= pulse;
  };
  const heardIn = (index: number, start: number, end: number): MelodyNote[] => {
    const { meter, offset } = tune.measures[index]!;
    return tune.measures[index]!.events.flatMap(event => {
      const ticks = Math.min(end, event.start + event.ticks) - Math.max(start, event.start);
      if (!event.pitch || ticks <= 0) return [];
      const i = at.get(event)!;
      const begun = event.start < start || events[i - 1]?.event.tie === true;
      const isHeld = begun && !anticipates(i, begins[index]! + start);
      const accent = !isHeld && (begun || event.start === start);
      const onBeat = (event.start + offset) % pulseTicks(meter) === 0;
      const stands = isHeld ? 'held' : accent ? 'accent' : onBeat ? 'beat' : 'between';
      const own = midiOf(event.pitch);
      const [before, after] = [midi(i - 1), midi(i + 1)];
      const goesByStep = isStep(own, after);
      return [
        {
          pitchClass: mod12(own),
          weight:
            ticks ** LENGTH_POWER * (anticipates(i, begins[index]! + end) ? STANDS.ahead : STANDS[stands]),
          accent,
          passing: !accent && goesByStep && isStep(own, before),
          ...(goesByStep && event.start + event.ticks < end && { resolvesTo: mod12(after) }),
        },
      ];
    });
  };
  /**
   * Whether a stretch of a measure has the note that steps to the tonic on which the section comes to rest; the tonic may be
   * sung ahead there.
   */
  const stepsHome = (index: number, start: number, end: number, to: number): boolean => {
    const tonic = pitchClassOf(tune.measures[index]!.key.tonic);
    const isTonic = (i: number) => mod12(midi(i) ?? Number.NaN) === tonic;
    const step = events.findLastIndex(
      ({ event, index: i }, at) => i === index && event.pitch && event.start < end && !isTonic(at),
    );
    if (step < 0 || events[step]!.event.start < start) return false;
    const rest = [...events.entries()].slice(step + 1).filter(([i, own]) => own.index < to && midi(i));
    return rest.length > 0 && rest.every(([i]) => isTonic(i)) && isStep(midi(step)!, midi(rest[0]![0]));
  };
  for (const { from, to } of sectionsOf(tune.measures)) {
    const full = tune.measures
      .map((measure, index) => ({ measure, index }))
      .slice(from, to)
      .filter(({ measure }) => !isPickup(measure));
    // Phrases are of four measures, but in sections that are shorter or do not divide so.
    const phrase = full.length % 4 === 0 || full.length > 8 ? 4 : full.length;
    for (const [nth, { measure, index }] of full.entries()) {
      const closesSection = nth >= full.length - 2;
      const starts = places(measure, nth >= full.length - phrase);
      const lastOfSection = nth === full.length - 1;
      const lastOfPhrase = nth % phrase === phrase - 1 || lastOfSection;
      const sung = measure.events.flatMap(event => (event.pitch ? [event.pitch] : []));
      const tonic = pitchClassOf(measure.key.tonic);
      for (const [i, start] of starts.entries()) {
        const end = starts[i + 1] ?? measure.ticks;
        const endsPhrase = lastOfPhrase && i === starts.length - 1;
        const rests = endsPhrase && sung.at(-1);
        parts.push({
          measure: index,
          start,
          ticks: end - start,
          notes: heardIn(index, start, end),
          atBar: i === 0,
          inPhrase: nth % phrase,
          endsPhrase,
          closes: { phrase: lastOfPhrase, section: closesSection },
          sectionBegins: nth === 0 && i === 0,
          last: false,
          tonic,
          stepsHome: closesSection && stepsHome(index, start, end, to),
          ...(rests && { restsOn: mod12(midiOf(rests)) }),
        });
      }
    }
  }
  const ending = parts.at(-1)?.measure;
  return parts.map(part => ({ ...part, last: part.measure === ending }));
}

function candidates(key: Key): Candidate[] {
  const tonic = pitchClassOf(key.tonic);
  const scale = [...scaleOf(key), ...(key.mode === 'minor' ? [mod12(tonic + 11)] : [])];
  return USUAL_CHORDS[key.mode].flatMap(([degree, quality, reluctance, role]) => {
    const symbol = noteName(spellClass(mod12(tonic + degree), keyFifths(key))) + quality;
    const classes = chordClasses(parseChord(symbol)!);
    const beside = classes.filter(own => !scale.includes(own));
    const chord = { symbol, degree, classes, beside, reluctance, role };
    return Array.from({ length: LONGEST + 1 }, (_, held) => ({ ...chord, held }));
  });
}

/** How ill a chord fits the melody over it: the weighted part of notes that are foreign to it, about 0–1. */
function misfit(part: Part, chord: Candidate): number {
  let foreign = 0;
  let all = 0;
  for (const { pitchClass, weight, accent, passing, resolvesTo } of part.notes) {
    all += weight;
    const place = chord.classes.indexOf(pitchClass);
    const isResolved = resolvesTo !== undefined && chord.classes.includes(resolvesTo);
    if (place < 0) foreign += weight * (passing ? FOREIGN.passing : isResolved ? FOREIGN.resolved : 1);
    else if (place === 3) foreign += weight * FOREIGN.seventh;
    else if (place === 0 && accent) foreign += weight * FOREIGN.rootOnAccent;
  }
  return all ? foreign / all : 0;
}

function partCost(part: Part, chord: Candidate): number {
  const home = chord.role === 'tonic';
  let cost =
    MISFIT * misfit(part, chord) * Math.min(1, Math.sqrt((2 * part.ticks) / TICKS_PER_WHOLE)) +
    chord.reluctance;
  if (chord.beside.length && !part.notes.some(note => chord.beside.includes(note.pitchClass))) cost += UNSUNG;
  if (part.sectionBegins && !home) cost += HOME.sectionBegins;
  if (part.last && !home) cost += HOME.last;
  if (part.stepsHome && home) cost += HOME.stepped;
  if (!part.endsPhrase) return cost;
  if (part.restsOn === part.tonic) return cost + (home ? 0 : HOME.phraseRests);
  if (!home && chord.role !== 'dominant') cost += HALF_CLOSE.other;
  if (home && part.restsOn === mod12(part.tonic + 2)) cost += HALF_CLOSE.secondDegree;
  return cost;
}

/** The measures that take a chord, in stretches that take one each, and the costs of a way through them. */
class Harmony {
  readonly options: Candidate[][];
  private readonly fast: boolean;

  constructor(
    tune: Tune,
    /** Neighbouring parts that take one chord together. */
    readonly stretches: readonly (readonly Part[])[],
  ) {
    const parts = stretches.flat();
    const byKey = new Map<string, Candidate[]>();
    this.options = stretches.map(([part]) => {
      const { key } = tune.measures[part!.measure]!;
      const name = `${key.tonic} ${key.mode}`;
      const known = byKey.get(name) ?? candidates(key);
      byKey.set(name, known);
      return known;
    });
    const notes = parts.reduce((sum, part) => sum + part.notes.length, 0);
    const ticks = parts.reduce((sum, part) => sum + part.ticks, 0);
    this.fast = notes > FAST * ticksToSeconds(ticks, tune.quartersPerMinute);
  }

  readonly fit = (chord: Candidate, layer: number): number => {
    // What nothing leads to has held for no time.
    if (layer === 0 && chord.held > 0) return Number.POSITIVE_INFINITY;
    return this.stretches[layer]!.reduce((sum, part) => sum + partCost(part, chord), 0);
  };

  readonly change = (from: Candidate, to: Candidate, layer: number): number => {
    const part = this.stretches[layer]![0]!;
    const stays = from.symbol === to.symbol;
    const held = !stays ? 0 : Math.min(LONGEST, from.held + (part.atBar ? 1 : 0));
    if (to.held !== held) return Number.POSITIVE_INFINITY;
    // What is saved at a close is charged everywhere else, for no cost may be below 0.
    let cost = CLOSE.anywhere + CLOSE.phrase + CLOSE.section;
    if (stays) {
      if (part.atBar && from.held === LONGEST) cost += TOO_LONG;
      return cost;
    }
    if (part.atBar) cost += part.inPhrase % 2 ? CHANGE.atWeakBar : CHANGE.atBar;
    else cost += CHANGE.inside + (this.fast ? CHANGE.insideFast : 0);
    if (to.role === 'tonic') {
      if (from.role === 'dominant') {
        cost -= CLOSE.anywhere;
        if (part.closes.phrase) cost -= CLOSE.phrase;
        if (part.closes.section) cost -= CLOSE.section;
      } else if (part.closes.section) cost += NO_CLOSE;
    }
    if (from.role === 'dominant' && to.role === 'subdominant') cost += GOES_BACK;
    if (typeof from.role === 'object' && !from.role.dominantOf.includes(to.degree)) cost += GOES_ASTRAY;
    return cost;
  };

  best(): Candidate[] {
    const found = bestPath(this.options, this.fit, this.change);
    return (found?.path ?? []).map((choice, layer) => this.options[layer]![choice]!);
  }
}

/** Neighbouring stretches of a measure that take the same chord on a way become one. */
function together(stretches: readonly (readonly Part[])[], chosen: readonly Candidate[]): Part[][] {
  const joined: Part[][] = [];
  for (const [i, stretch] of stretches.entries()) {
    if (stretch[0]!.atBar || chosen[i]!.symbol !== chosen[i - 1]!.symbol) joined.push([...stretch]);
    else joined.at(-1)!.push(...stretch);
  }
  return joined;
}

/** A dominant has its seventh where it goes home, or the melody sings it; else the plain chord is what players write. */
function named(chord: Candidate, goesHome: boolean, sung: readonly Part[]): string {
  if (chord.role !== 'dominant' || !chord.symbol.endsWith('7') || goesHome) return chord.symbol;
  const seventh = chord.classes[3];
  return sung.some(part => part.notes.some(note => note.pitchClass === seventh))
    ? chord.symbol
    : chord.symbol.slice(0, -1);
}

/** Chords by the melody alone, from the usual chords of its key. Pickups stay bare. */
function melodyOptions(tune: Tune): ChordPlace[] {
  const parts = partsOf(tune);
  if (!parts.length) return [];
  // What takes one chord is weighed as a whole, which may join it with its neighbour.
  let stretches: readonly (readonly Part[])[] = parts.map(part => [part]);
  let harmony: Harmony;
  let chosen: Candidate[];
  let joined: number;
  do {
    harmony = new Harmony(tune, stretches);
    chosen = harmony.best();
    joined = stretches.length;
    stretches = together(stretches, chosen);
  } while (stretches.length < joined);
  return throughEach(harmony.options, harmony.fit, harmony.change).map((costs, layer) => {
    const least = Math.min(...costs);
    const next = chosen.slice(layer + 1).find(chord => chord.symbol !== chosen[layer]!.symbol);
    const losses = new Map<string, number>();
    for (const [i, cost] of costs.entries()) {
      const chord = harmony.options[layer]![i]!;
      const symbol = named(chord, next?.role === 'tonic', stretches[layer]!);
      losses.set(symbol, Math.min(losses.get(symbol) ?? Number.POSITIVE_INFINITY, cost - least));
    }
    // The chosen way first among equals, so that one place's first choice is what the others count on.
    const own = named(chosen[layer]!, next?.role === 'tonic', stretches[layer]!);
    const options = [...losses]
      .map(([symbol, loss]) => ({ symbol, loss }))
      .filter(option => Number.isFinite(option.loss))
      .sort((a, b) => a.loss - b.loss || Number(b.symbol === own) - Number(a.symbol === own));
    const [first] = stretches[layer]!;
    return { measure: first!.measure, start: first!.start, options };
  });
}

/**
 * Chords for a tune, best first. Where other voices tell them, those that sound. Else from the usual chords of its key
 * the way that fits its melody best, changes at bar lines rather than inside measures, rests at phrase ends, and closes
 * from the dominant (common practice); pickups stay bare then.
 *
 * @returns places in order: the start of each full measure, and others in it where the best way changes there
 * @example chordOptions(tune)[0].options[0].symbol // 'C'
 */
export function chordOptions(tune: Tune): ChordPlace[] {
  const heard = heardChords(tune);
  if (!heard) return melodyOptions(tune);
  const told = new Set(heard.map(({ measure }) => measure));
  const silent = tune.measures.some((_, index) => !told.has(index));
  return [...heard, ...(silent ? melodyOptions(tune).filter(({ measure }) => !told.has(measure)) : [])].sort(
    (a, b) => a.measure - b.measure || a.start - b.start,
  );
}

/** A chord to be written at a place. */
export interface PlacedChord {
  measure: number;
  start: number;
  symbol: string;
}

/**
 * The tune with chords at places; those of before in the measures that get some are taken out.
 *
 * @example withChords(tune, [{ measure: 1, start: 0, symbol: 'Dm' }]).measures.map(measure => measure.chords[0].symbol) // ['C', 'Dm', 'C']
 */
export function withChords(tune: Tune, chords: readonly PlacedChord[]): Tune {
  const ids = new IdGiver(tune.nextId);
  const measures = tune.measures.map((measure, index) => {
    const own = chords
      .filter(chord => chord.measure === index)
      .sort((a, b) => a.start - b.start)
      .map(({ start, symbol }): TuneChord => ({ id: ids.give('chord'), start, symbol }));
    return own.length ? { ...measure, chords: own } : measure;
  });
  return { ...tune, measures, nextId: ids.nextId };
}

/**
 * Suggests chords for a tune that has none: the first choice at every place.
 *
 * @example suggestChords(tune).measures[0].chords[0].symbol // 'C'
 */
export function suggestChords(tune: Tune): Tune {
  return withChords(
    tune,
    chordOptions(tune).map(({ measure, start, options }) => ({ measure, start, symbol: options[0]!.symbol })),
  );
}
