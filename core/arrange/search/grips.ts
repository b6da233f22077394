/** Grips of a chord melody, and the chords that pass between two of them. */
import { bassClass, type Chord, chordClasses, classOfDegree, parseChord } from '../../chord';
import {
  fretsOfClass,
  highestFret,
  noteAt,
  type Place,
  type Setup,
  takesAnyBass,
  thinnestBass,
} from '../../instrument';
import {
  FIFTH,
  type Key,
  keyFifths,
  mod12,
  noteName,
  OCTAVE,
  pitchClassOf,
  scaleOf,
  spellClass,
} from '../../pitch';
import type { PluckSchool } from '../../score';
import { LOW_THIRD, OWN_BASS, STRICT } from './bass';
import { CLASH, type Companion, clashes } from './candidates';

/** What is missing in a grip of neighbouring strings costs so much: each note, the root, the third, all of it, the root as its lowest; judgement. */
const MISSING = { note: 0.7, root: 1.2, third: 0.8, all: 4.5, below: 0.4 };
/** The same where the ear wants to know the chord: at the beginning and at closes. */
const MISSED = { note: 1.2, root: 3, third: 3, all: 9, below: 2.2 };

/** Reluctance to hear an octave of the third or fifth for a chord, without its root; judgement. */
const BARE_OCTAVE = 1.2;

/** Reluctance to double the third where root or fifth could be: in a grip for fingers, and in a full one on few strings that which the melody sings beside the shape; judgement after common practice. */
const THIRD_TWICE = 0.8;

/** More of each note and of the third where the melody rests on a chord and the shape that is held has them under it. */
const LEFT_LYING = { note: 0.2, third: 1.1 };

/** Notes of a grip under the melody that are wanted on few strings; a further one only out of the shape, taken as it lies. */
const FULL = 2;

/** Over all strings: the place of a melody that is silent, under which a chord may have them all. */
export const OVER_ALL: Place = { string: 0, fret: 0 };

/** The pitch (MIDI) that a grip stays below. */
const topOf = (setup: Setup, melody: Place): number =>
  melody.string === OVER_ALL.string ? Number.POSITIVE_INFINITY : noteAt(setup, melody.string, melody.fret);

/**
 * Grips under a melody note: chord notes on the next thicker strings, so that one stroke takes them together.
 * Fewer notes and missing root or third cost; nothing under the note is the last choice.
 */
export function gripCompanions(setup: Setup, wish: GripWish, melody: Place, most: number): Companion[] {
  const { chord } = wish;
  const missing = wish.strict ? MISSED : MISSING;
  const strings = setup.tuning.length;
  const classes = chordClasses(chord);
  const root = takesAnyBass(setup) ? classes[0]! : bassClass(chord);
  const third = classOfDegree(chord, 3);
  const top = topOf(setup, melody);
  const highest = Math.min(14, highestFret(setup));
  const found: Companion[] = [];
  const places: Place[] = [];

  const note = (place: Place) => noteAt(setup, place.string, place.fret);
  /** What of the shape that is held lies under the melody, from the next string on: a stroke takes it along. */
  const lying: number[] = [];
  for (let string = melody.string + 1; wish.rests && lying.length < most && string <= strings; string++) {
    const fret = wish.frets?.[string - 1];
    if (fret === null || fret === undefined || spread([melody], fret) > WIDEST_PICKED) break;
    const midi = noteAt(setup, string, fret);
    if (midi >= top || clashes(top, midi)) break;
    lying.push(mod12(midi));
  }
  // Beside the melody, and the finger that must stay free.
  const room = (wish.melodyNeeds ?? Number.POSITIVE_INFINITY) - 2;
  const full = takesAnyBass(setup) ? Math.min(most, FULL) : most;
  const heard = wish.silent ? [] : [mod12(top)];
  const lies = ({ string, fret }: Place) => wish.frets?.[string - 1] === fret;
  /** It stands beside the melody for a note of the shape that would double it: D for B under b, in G. */
  const stands = ({ string }: Place) => {
    const fret = string === melody.string + 1 ? wish.frets?.[string - 1] : undefined;
    return fret !== null && fret !== undefined && mod12(noteAt(setup, string, fret)) === mod12(top);
  };
  const rate = () => {
    const isWhole = places.length > full && places.every(place => lies(place) || stands(place));
    if (places.length > full && !isWhole) return;
    const present = new Set([...heard, ...places.map(place => mod12(note(place)))]);
    const lowest = places[places.length - 1]!;
    let cost = Math.max(0, full - places.length) * missing.note;
    if (!present.has(root)) cost += missing.root;
    if (third !== undefined && !present.has(third) && !clashes(top, third)) cost += missing.third;
    if (third !== undefined && !present.has(third) && lying.includes(third)) cost += LEFT_LYING.third;
    cost += LEFT_LYING.note * Math.max(0, lying.length - places.length);
    if (places.some(place => clashes(top, note(place)))) cost += CLASH;
    if (mod12(note(lowest)) !== root && !isWhole) cost += missing.below;
    if (places.length > room) cost += HASTE;
    // A doubled note in unison adds nothing.
    const notes = [top, ...places.map(note)];
    cost += (notes.length - new Set(notes).size) * 1.5;
    cost += (notes.length - new Set(notes.map(mod12)).size) * 0.3;
    const singsThird = isWhole && third !== undefined && mod12(top) === third && !lies(melody);
    if (singsThird && places.some(place => mod12(note(place)) === third)) cost += THIRD_TWICE;
    if (present.size === 1 && !present.has(root)) cost += BARE_OCTAVE;
    found.push({ places: [...places], cost });
  };
  const walk = (string: number) => {
    if (places.length) rate();
    if (places.length === most || string > strings) return;
    for (const pitchClass of classes) {
      for (const fret of fretsOfClass(setup, string, pitchClass, Math.min(highest, melody.fret + 5))) {
        if (fret > 0 && melody.fret > 0 && fret < melody.fret - 5) continue;
        if (fret > 5 && melody.fret === 0) continue;
        if (spread([melody, ...places], fret) > WIDEST_PICKED) continue;
        if (noteAt(setup, string, fret) >= top) continue;
        places.push({ string, fret });
        walk(string + 1);
        places.pop();
      }
    }
  };
  walk(melody.string + 1);
  found.sort((a, b) => a.cost - b.cost || a.places.length - b.places.length);
  return [...found, { places: [], cost: missing.all }];
}

/** Frets between the fingers of a grip when one more is put down; open strings need none. */
function spread(places: readonly Place[], fret: number): number {
  if (!fret) return 0;
  const held = places.flatMap(own => (own.fret ? [own.fret] : []));
  return Math.max(fret, ...held) - Math.min(fret, ...held);
}

/** Reluctance of a bass under a grip that is not the root, and of what makes it muddy; judgement after common practice. */
const BASS = {
  /** A slash chord has what it asks for; else the third is a good second, the fifth last. */
  third: 2.8,
  fifth: 4.2,
  other: 5,
  /** More of each where the ear wants the root: first chord, cadences, last chord. */
  strict: STRICT,
  /** A third below D3, as the bass or within a grip, and a fifth below A2 (MIDI). */
  lowThird: { below: LOW_THIRD, cost: 2, within: 3 },
  lowFifth: { below: 45, cost: 1.5 },
  /** A note less than a fifth over a bass below C3, but D3 and higher in the shape that is held: B7 is x21202. */
  close: { below: 48, cost: 2.5 },
  /** A root of string 4 and thinner, where a deeper one would carry more. */
  high: 0.35,
};
/**
 * Reluctance to leave a place of a grip empty: by itself, where the melody rests on it, in the last chord, which players take
 * as it lies, and where the shape that is held has nothing more there.
 */
const EMPTY = { passing: 1.2, resting: 2.0, last: 1.2, asItLies: 0.5 };
/**
 * Reluctance to leave the third out, which tells major from minor: where the shape that is held has it within reach between
 * the bass and the melody, not too low to be clear, and else; and where a piece in voices closes.
 */
const NO_THIRD = { lies: 1.6, away: 0.8, voiced: 3.5 };
/** The same of a seventh that the shape has there; one that it has not is not missed. */
const NO_SEVENTH = 0.8;
/** Reluctance to strike with every finger there is where the melody needs one of them again at once; judgement. */
const HASTE = 2;
/** Inner notes of a grip for fingers at most: with bass and melody four strings, for thumb and three fingers. */
const MOST_INNER = 2;

/** Strings that can be struck together, by who plucks them (common practice): a thumb and as many fingers as there are, or a pick. */
export const TOGETHER: Readonly<Record<PluckSchool, number>> = {
  'by-string': 4,
  'thumb-two': 3,
  'pick-fingers': 3,
  pick: 4,
  'thumb-index': 2,
};

/** What a grip is chosen for. */
export interface GripWish {
  chord: Chord;
  /** The melody rests here: a full grip carries it. */
  rests?: boolean;
  /** It is silent, and comes over the grip later: what it sings is not heard yet. */
  silent?: boolean;
  /** The ear wants the root below: first chord, cadences, last chord. */
  strict?: boolean;
  /** The tune ends with it. */
  last?: boolean;
  /** It moves in voices, as a hymn does: one of them has the third at the end. */
  voiced?: boolean;
  /** The melody needs a finger at once, just before or after: strings struck together that leave it none. */
  melodyNeeds?: number;
  /** Frets of the shape that is held, string 1 first: what lies in it may be struck twice. */
  frets?: readonly (number | null)[] | undefined;
}

/**
 * Grips under a melody note for a thumb and fingers, which may skip strings: a bass on one of the three thickest strings,
 * its root first, and up to two further chord notes between it and the melody, none of them twice but those of the shape
 * that is held (common practice of chord melody). Without a bass, or alone, is the last choice.
 *
 * @param most notes under the melody at most
 */
export function fingerGrips(setup: Setup, wish: GripWish, melody: Place, most: number): Companion[] {
  const { chord, rests = false, silent = false, strict = false, last = false, melodyNeeds, frets } = wish;
  const noThird = last && wish.voiced ? NO_THIRD.voiced : NO_THIRD.away;
  const strings = setup.tuning.length;
  const thinnest = thinnestBass(setup.tuning.length);
  const classes = chordClasses(chord);
  const root = bassClass(chord);
  const midiAt = ({ string, fret }: Place) => noteAt(setup, string, fret);
  const top = topOf(setup, melody);
  const highest = Math.min(12, highestFret(setup));
  const third = classOfDegree(chord, 3);
  const fifth = classOfDegree(chord, 5);
  const seventh = classOfDegree(chord, 7);
  const inner = Math.min(MOST_INNER, most - 1);
  // Beside bass and melody, and the finger that must stay free: no place is left empty for that, over the root.
  const room = Math.min(inner, (melodyNeeds ?? Number.POSITIVE_INFINITY) - 3);
  const empty = last ? EMPTY.last : rests ? EMPTY.resting : EMPTY.passing;
  /** Frets that a hand reaches together with those that are held. */
  const reach = (fret: number, held: readonly number[]) =>
    fret === 0 || held.every(other => other === 0 || Math.abs(other - fret) <= WIDEST);
  const lies = ({ string, fret }: Place) => frets?.[string - 1] === fret;
  const bassCost = (midi: number, string: number) => {
    const own = mod12(midi);
    if (own === root) return string === thinnest ? BASS.high : 0;
    let cost = own === third ? BASS.third : own === fifth ? BASS.fifth : BASS.other;
    if (strict) cost += BASS.strict;
    if (own === third && midi < BASS.lowThird.below) cost += BASS.lowThird.cost;
    if (own === fifth && midi < BASS.lowFifth.below) cost += BASS.lowFifth.cost;
    return cost;
  };
  // The last chord is taken as players know it, 320003.
  const lowest = last ? 0 : BASS.lowThird.below;
  /** What the shape that is held has between the melody and a bass: how many strings, and the classes that are within reach and not muddy. */
  const shapeOver = (bass: Place) => {
    let strings = 0;
    let free = 0;
    for (let string = melody.string + 1; string < bass.string; string++) {
      const fret = frets?.[string - 1] ?? undefined;
      const midi = fret === undefined ? top : noteAt(setup, string, fret);
      if (fret === undefined || midi >= top) continue;
      strings += 1;
      if (midi >= lowest && reach(fret, [melody.fret, bass.fret])) free |= classBit(midi);
    }
    return { strings, free };
  };
  const chordNotes = notesUnder(setup, classes, melody);
  // A seventh or an added note is no bass unless it is asked for.
  const basses = new Set([root, ...[third, fifth].filter(own => own !== undefined)]);
  const found: Companion[] = [];
  for (let string = strings; string >= Math.max(melody.string + 1, thinnest); string--)
    for (const pitchClass of basses)
      for (const fret of fretsOfClass(
        setup,
        string,
        pitchClass,
        Math.min(highest, Math.max(7, melody.fret + 3)),
      )) {
        const midi = noteAt(setup, string, fret);
        if (midi >= top || !reach(fret, [melody.fret])) continue;
        const cost = bassCost(midi, string);
        const bass = { string, fret };
        const over = shapeOver(bass);
        const sounds = (silent ? 0 : classBit(top)) | classBit(midi);
        /** What it costs that a grip does not tell which chord it is. */
        const untold = (all: number) => {
          const lacks = (own: number | undefined): own is number =>
            own !== undefined && !(all & classBit(own)) && !clashes(top, own);
          let cost = 0;
          if (lacks(third)) cost += over.free & classBit(third) ? NO_THIRD.lies : noThird;
          if (lacks(seventh) && over.free & classBit(seventh)) cost += NO_SEVENTH;
          return cost;
        };
        const rate = (inners: readonly ChordNote[]) => {
          let all = sounds;
          let [mud, twice, harsh, asItLies] = [false, false, false, lies(bass)];
          let above = top;
          for (const { place, midi: own } of inners) {
            const isHeld = lies(place);
            // An open shape that every pupil knows is taken as it is, but for a third that sounds above already, or lies an octave and more below all else.
            if (mod12(own) === third) {
              if (all & classBit(own)) twice = true;
              if (own < BASS.lowThird.below && (!isHeld || twice || above - own > OCTAVE)) mud = true;
            }
            above = own;
            all |= classBit(own);
            if (clashes(top, own)) harsh = true;
            if (!isHeld) asItLies = false;
          }
          // All that the shape which is held has there leaves nothing out.
          if (inners.length + 1 <= Math.min(inner, over.strings)) asItLies = false;
          const next = inners.at(-1);
          const isClear = next && lies(next.place) && next.midi >= BASS.lowThird.below;
          const close = next && !isClear && midi < BASS.close.below && next.midi - midi < FIFTH;
          const noRoot = all & classBit(classes[0]!) ? 0 : 0.8;
          found.push({
            places: [...inners.map(({ place }) => place), bass],
            bass: true,
            cost:
              cost +
              untold(all) +
              noRoot +
              (mud ? BASS.lowThird.within + noThird : 0) +
              (twice ? THIRD_TWICE : 0) +
              (harsh ? CLASH : 0) +
              (close ? BASS.close.cost : 0) +
              (inners.length > room ? HASTE : 0) +
              Math.max(0, (pitchClass === root ? room : inner) - inners.length) *
                (asItLies ? EMPTY.asItLies : empty),
          });
        };
        rate([]);
        if (inner < 1) continue;
        // Only what lies on the root of the shape and in it altogether is known to the hand; the melody may be put on top.
        const isKnown = pitchClass === root && lies(bass);
        /** Notes below one and over the bass, each of a class that is not there yet or in the shape. */
        const between = (above: Place, high: number, there: number, known: boolean) =>
          chordNotes.filter(
            ({ place, midi: own }) =>
              place.string > above.string &&
              place.string < string &&
              place.fret <= Math.max(above.fret, fret) + WIDEST &&
              own > midi &&
              own < high &&
              (!(there & classBit(own)) || (known && lies(place))),
          );
        for (const first of between(melody, top, sounds, isKnown)) {
          if (!reach(first.place.fret, [melody.fret, fret])) continue;
          rate([first]);
          if (inner < 2) continue;
          const both = sounds | classBit(first.midi);
          for (const second of between(first.place, first.midi, both, isKnown && lies(first.place)))
            if (reach(second.place.fret, [melody.fret, fret, first.place.fret])) rate([first, second]);
        }
      }
  found.sort((a, b) => a.cost - b.cost || a.places.length - b.places.length);
  const upper = gripCompanions(setup, { chord }, melody, Math.min(most, 2))
    .filter(grip => grip.places.length && grip.places.every(place => place.string < thinnest))
    .map(grip => ({ ...grip, cost: grip.cost + NO_BASS + (strict ? BASS.strict : 0) }));
  // Too low for a root under it the root itself is its bass.
  const ownBass =
    !silent && mod12(top) === root && found.every(({ places }) => mod12(midiAt(places.at(-1)!)) !== root);
  const alone = ownBass ? OWN_BASS : ALONE + (rests || strict ? BASS.strict : 0);
  return [...found, ...upper, { places: [], cost: alone }];
}

/** Frets between the fingers of a grip at most; under a pick also on short necks, where a finger covers two (common practice). */
const WIDEST = 4;
const WIDEST_PICKED = 6;
/** Reluctance to leave the bass out, and to leave the melody alone. */
const NO_BASS = 4.5;
const ALONE = 6;

/** One bit for a pitch class: sets of them are asked for thousands of times. */
const classBit = (midi: number): number => 1 << mod12(midi);

/** A note of a chord on the neck. */
interface ChordNote {
  place: Place;
  midi: number;
}

/** The notes of a chord on the strings under a melody, as far up as a hand reaches from any bass: thinnest string first. */
function notesUnder(setup: Setup, classes: readonly number[], melody: Place): ChordNote[] {
  const notes: ChordNote[] = [];
  const last = Math.max(melody.fret + WIDEST, 7) + WIDEST;
  for (let string = melody.string + 1; string <= setup.tuning.length; string++)
    for (const pitchClass of classes)
      for (const fret of fretsOfClass(setup, string, pitchClass, last))
        notes.push({ place: { string, fret }, midi: noteAt(setup, string, fret) });
  return notes;
}

/** The note a semitone from a root, spelled by the next letter: A♯ leads up to B, E♭ down to D. */
function besideRoot(root: string, semitone: 1 | -1): string {
  const letters = 'CDEFGAB';
  const letter = letters[(letters.indexOf(root[0]!) + semitone + 7) % 7]!;
  const away = mod12(pitchClassOf(root) + semitone - pitchClassOf(letter) + 6) - 6;
  return letter + (away > 0 ? '#'.repeat(away) : 'b'.repeat(-away));
}

/**
 * Chords that may pass from one chord into the next (common practice): the diminished seventh a semitone under its
 * root, its dominant seventh, the diminished seventh between two roots a whole tone apart, and the scale's own chord
 * between two roots a third apart.
 */
export function passingChords(from: Chord, to: Chord, key: Key): Chord[] {
  const fifths = keyFifths(key);
  const start = chordClasses(from)[0]!;
  const goal = chordClasses(to)[0]!;
  const named = (pitchClass: number, quality: string) =>
    noteName(spellClass(mod12(pitchClass), fifths)) + quality;
  const symbols = [`${besideRoot(to.root, -1)}dim7`, named(goal + 7, '7')];
  if (mod12(start - goal) === 2) symbols.push(`${besideRoot(to.root, 1)}dim7`);
  const scale = scaleOf(key);
  const [a, b] = [scale.indexOf(start), scale.indexOf(goal)];
  if (a >= 0 && b >= 0 && (Math.abs(a - b) === 2 || Math.abs(a - b) === 5)) {
    const between = Math.abs(a - b) === 2 ? (a + b) / 2 : (Math.max(a, b) + 1) % 7;
    const third = mod12(scale[(between + 2) % 7]! - scale[between]!);
    const fifth = mod12(scale[(between + 4) % 7]! - scale[between]!);
    symbols.push(named(scale[between]!, fifth === 6 ? 'dim' : third === 3 ? 'm' : ''));
  }
  const own = new Set([from.symbol, to.symbol]);
  return [...new Set(symbols)].filter(symbol => !own.has(symbol)).flatMap(symbol => parseChord(symbol) ?? []);
}

/** Grips for a chord that passes; the melody must belong to it. */
export function passingCompanions(
  setup: Setup,
  chords: readonly Chord[],
  melody: Place,
  gripsOf: (chord: Chord) => readonly Companion[],
): Companion[] {
  const top = mod12(noteAt(setup, melody.string, melody.fret));
  return chords
    .filter(chord => chordClasses(chord).includes(top))
    .flatMap(chord =>
      gripsOf(chord)
        .filter(grip => grip.places.length > 1)
        .map(grip => ({ ...grip, passing: chord })),
    );
}
