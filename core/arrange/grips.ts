/** Grips of a chord melody, and the chords that pass between two of them. */
import { bassClass, type Chord, chordClasses, parseChord } from '../chord';
import { fretsOfClass, highestFret, noteAt, type Place, type Setup } from '../instrument';
import { type Key, keyFifths, mod12, noteName, pitchClassOf, scaleOf, spellClass } from '../pitch';
import type { Companion } from './candidates';

/**
 * Grips under a melody note: chord notes on the next thicker strings, so that one stroke takes them together.
 * Fewer notes and missing root or third cost; nothing under the note is the last choice.
 */
export function gripCompanions(setup: Setup, chord: Chord, melody: Place, most: number): Companion[] {
  const strings = setup.tuning.length;
  const classes = chordClasses(chord);
  const root = bassClass(chord);
  const thirdDegree = chord.degrees.find(d => d.name.endsWith('3') && d.name !== '13');
  const third = thirdDegree && mod12(classes[0]! + thirdDegree.semitones);
  const top = noteAt(setup, melody.string, melody.fret);
  const highest = Math.min(14, highestFret(setup));
  const found: Companion[] = [];
  const places: Place[] = [];

  const note = (place: Place) => noteAt(setup, place.string, place.fret);
  const rate = () => {
    const present = new Set([mod12(top), ...places.map(place => mod12(note(place)))]);
    const lowest = places[places.length - 1]!;
    let cost = (most - places.length) * 0.7;
    if (!present.has(root)) cost += 1.6;
    if (third !== undefined && !present.has(third)) cost += 1.2;
    if (mod12(note(lowest)) !== root) cost += 0.4;
    // A doubled note in unison adds nothing.
    const notes = [top, ...places.map(note)];
    cost += (notes.length - new Set(notes).size) * 1.5;
    cost += (notes.length - new Set(notes.map(mod12)).size) * 0.3;
    found.push({ places: [...places], cost });
  };
  const walk = (string: number) => {
    if (places.length) rate();
    if (places.length === most || string > strings) return;
    for (const pitchClass of classes) {
      for (const fret of fretsOfClass(setup, string, pitchClass, Math.min(highest, melody.fret + 5))) {
        if (fret > 0 && melody.fret > 0 && fret < melody.fret - 5) continue;
        if (fret > 5 && melody.fret === 0) continue;
        if (noteAt(setup, string, fret) >= top) continue;
        places.push({ string, fret });
        walk(string + 1);
        places.pop();
      }
    }
  };
  walk(melody.string + 1);
  found.sort((a, b) => a.cost - b.cost || a.places.length - b.places.length);
  return [...found, { places: [], cost: 4.5 }];
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
  most: number,
): Companion[] {
  const top = mod12(noteAt(setup, melody.string, melody.fret));
  return chords
    .filter(chord => chordClasses(chord).includes(top))
    .flatMap(chord =>
      gripCompanions(setup, chord, melody, most)
        .filter(grip => grip.places.length > 1)
        .map(grip => ({ ...grip, passing: chord })),
    );
}
