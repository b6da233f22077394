import { mod12, noteName, spellClass } from '../pitch';
import { type Chord, parseChord } from './symbol';

/** A name for a set of notes, with what it leaves unsaid. */
export interface NamedChord {
  chord: Chord;
  /** "no third", "no fifth", "third below the root": what a player should know about the name. */
  remarks: string[];
  /** Reluctance; the lowest comes first. */
  cost: number;
}

/** Qualities a name is looked for in, the plainest first, each with its reluctance; judgement. */
const QUALITIES: [string, number][] = [
  ['', 0],
  ['m', 0.1],
  ['7', 0.5],
  ['m7', 0.6],
  ['maj7', 0.7],
  ['6', 0.9],
  ['m6', 1],
  ['5', 0.9],
  ['sus4', 1],
  ['sus2', 1.1],
  ['dim', 1],
  ['aug', 1.1],
  ['dim7', 0.9],
  ['m7b5', 1.1],
  ['add9', 1.2],
  ['madd9', 1.4],
  ['7sus4', 1.3],
  ['9', 1.4],
  ['m9', 1.5],
  ['maj9', 1.6],
  ['69', 1.7],
  ['m69', 1.9],
  ['mmaj7', 1.6],
  ['7b9', 1.8],
  ['7#9', 1.9],
  ['7b5', 1.9],
  ['7#5', 1.9],
  ['maj7#5', 2.2],
  ['maj7b5', 2.2],
  ['9sus4', 2],
  ['11', 2.1],
  ['m11', 2.1],
  ['13', 2.2],
  ['m13', 2.4],
  ['maj13', 2.4],
  ['7#11', 2.2],
  ['9#11', 2.4],
];
const KNOWN = QUALITIES.map(([quality, cost]) => ({ quality, cost, chord: parseChord(`C${quality}`)! }));

/** Reluctance to name a chord whose root lies above another bass, or that lacks a degree; judgement. */
const INVERTED = 1.6;
/** The same where any note of a chord may lie lowest: of two names that fit, the one whose root does. */
const INVERTED_ANYWAY = 0.1;
const LACKING = { third: 1.4, fifth: 0.35, other: 1.5, root: 4 };

/**
 * Names for the chord that notes make, likeliest first. A name covers every note; what it leaves out is remarked.
 *
 * @param notes MIDI notes; the lowest is the bass. Fewer than two pitch classes have no chord name.
 * @param fifths key signature that the names are spelled in
 * @param anyBass whether any note of a chord may lie lowest, as on four strings a fifth apart, so that no bass is named
 * @example nameNotes([45, 52, 57, 60, 64])[0].chord.symbol // 'Am'
 */
export function nameNotes(notes: readonly number[], fifths = 0, anyBass = false): NamedChord[] {
  if (!notes.length) return [];
  const classes = [...new Set(notes.map(mod12))];
  if (classes.length < 2) return [];
  const bass = mod12(Math.min(...notes));
  const spell = (pitchClass: number) => noteName(spellClass(pitchClass, fifths));
  const named: NamedChord[] = [];
  for (let root = 0; root < 12; root++) {
    const rootSounds = classes.includes(root);
    for (const { quality, cost, chord: model } of KNOWN) {
      const degrees = model.degrees.map(d => mod12(root + d.semitones));
      const foreign = classes.filter(pc => !degrees.includes(pc));
      // One note more may stand in the bass: a slash chord.
      const slashBass = !anyBass && foreign.length === 1 && foreign[0] === bass;
      if (foreign.length && !slashBass) continue;
      const missing = model.degrees.filter(d => !classes.includes(mod12(root + d.semitones)));
      if (!rootSounds || missing.length > Math.max(1, model.degrees.length - 2)) continue;
      let total = cost;
      const remarks: string[] = [];
      for (const d of missing) {
        const kind =
          d.name.endsWith('3') && d.name !== '13' ? 'third' : d.name.endsWith('5') ? 'fifth' : undefined;
        total += kind ? LACKING[kind] : LACKING.other;
        remarks.push(kind ? `no ${kind}` : `no ${d.name}`);
      }
      if (quality === '5') remarks.unshift('no third: neither major nor minor');
      if (bass !== root) total += anyBass ? INVERTED_ANYWAY : slashBass ? INVERTED + 0.8 : INVERTED;
      const symbol = spell(root) + quality + (anyBass || bass === root ? '' : `/${spell(bass)}`);
      const chord = parseChord(symbol);
      if (chord) named.push({ chord, remarks, cost: total });
    }
  }
  named.sort((a, b) => a.cost - b.cost || a.chord.symbol.localeCompare(b.chord.symbol));
  return named.slice(0, 8);
}
