/** What stands at a note of MusicXML beside its pitch and length. */
import type { Finger } from '../../hand';
import { THUMB } from '../../hand';
import { type BendShape, type Pluck, putTechnique, type Technique, UNLINKED } from '../../score';
import type { PartNote } from './scorePart';
import { all, first, type Node, numberIn, textIn } from './tree';

type Signs = Pick<PartNote, 'slurStarts' | 'slurEnds' | 'techniques' | 'fermata'> &
  Partial<Pick<PartNote, 'string' | 'fret' | 'finger' | 'pluck' | 'stroke'>>;

const PLUCKS: Record<string, Pluck> = { p: 'p', i: 'i', m: 'm', a: 'a', t: 'p' };

/** Signs that make a technique by themselves. */
const TECHNIQUE_OF: Record<string, Technique> = {
  scoop: { kind: 'slide-in', way: 'below' },
  plop: { kind: 'slide-in', way: 'above' },
  doit: { kind: 'slide-off', way: 'above' },
  falloff: { kind: 'slide-off', way: 'below' },
  accent: { kind: 'accent' },
  'strong-accent': { kind: 'accent' },
  staccato: { kind: 'damp' },
  staccatissimo: { kind: 'damp' },
};

/** Words for what has no sign of its own. */
const TECHNIQUE_WORDS: [RegExp, Technique][] = [
  [/^(palm mute|p\.?\s?m\.?)/i, { kind: 'palm-mute' }],
  [/^let ring/i, { kind: 'let-ring' }],
];

/** Signs that say nothing beside what is read elsewhere. */
const NOTHING_NEW = new Set([
  'tied',
  'tuplet',
  'slur',
  'slide',
  'glissando',
  'technical',
  'articulations',
  'ornaments',
]);

/** Reads the signs of a note; those that can't be kept are told. */
export function readSigns(node: Node, leftOut: (sign: string) => void): Signs {
  const signs: Signs = { slurStarts: [], slurEnds: [], techniques: [], fermata: false };
  const put = (technique: Technique) => putTechnique(signs, technique);
  if (textIn(node, 'notehead') === 'x') put({ kind: 'dead' });
  const bends: Node[] = [];
  let again = false;
  for (const notations of all(node, 'notations'))
    for (const own of notations.children) {
      if (own.name === 'slur') {
        const { type, number = '1' } = own.attributes;
        if (type === 'start') signs.slurStarts.push(number);
        if (type === 'stop') signs.slurEnds.push(number);
      } else if (own.name === 'slide' || own.name === 'glissando') {
        if (own.attributes.type === 'stop') put({ kind: 'slide', from: UNLINKED });
      } else if (own.name === 'fermata') signs.fermata = true;
      else if (own.name === 'arpeggiate')
        // The sign points the way the notes go: upwards in pitch is down over the strings.
        signs.stroke = {
          kind: signs.stroke?.kind ?? 'roll',
          way: own.attributes.direction === 'down' ? 'up' : 'down',
        };
      else if (own.name === 'technical')
        for (const sign of own.children) {
          if (sign.name === 'bend') bends.push(sign);
          else if (sign.name === 'other-technical' && /^picked again$/i.test(sign.text.trim())) again = true;
          else technical(sign, signs, put, leftOut);
        }
      else if (own.name === 'articulations')
        for (const sign of own.children) {
          const technique = TECHNIQUE_OF[sign.name];
          if (technique) put(technique);
          else leftOut(`the sign “${sign.name.replace(/-/g, ' ')}”`);
        }
      else if (own.name === 'ornaments')
        for (const sign of own.children) {
          if (sign.name === 'wavy-line') put({ kind: 'vibrato' });
          else if (sign.name === 'tremolo') put({ kind: 'tremolo' });
          else leftOut(`the ornament “${sign.name.replace(/-/g, ' ')}”`);
        }
      else if (!NOTHING_NEW.has(own.name)) leftOut(`the sign “${own.name.replace(/-/g, ' ')}”`);
    }
  const bend = bendOf(bends);
  if (bend) put(bend);
  if (again) signs.techniques = signs.techniques.map(t => (t.kind === 'slide' ? { ...t, again } : t));
  return signs;
}

function technical(
  sign: Node,
  signs: Signs,
  put: (technique: Technique) => void,
  leftOut: (sign: string) => void,
): void {
  const text = sign.text.trim();
  switch (sign.name) {
    case 'string': {
      const string = Number(text);
      if (Number.isInteger(string) && string > 0) signs.string = string;
      return;
    }
    case 'fret': {
      const fret = Number(text);
      if (Number.isInteger(fret) && fret >= 0) signs.fret = fret;
      return;
    }
    case 'fingering':
      if (/^[1-4]$/.test(text)) signs.finger = Number(text) as Finger;
      else if (/^t$/i.test(text)) signs.finger = THUMB;
      return;
    case 'pluck': {
      const pluck = PLUCKS[text.toLowerCase()];
      if (pluck) signs.pluck = pluck;
      return;
    }
    case 'down-bow':
    case 'up-bow':
      signs.pluck = sign.name === 'down-bow' ? 'down' : 'up';
      return;
    case 'hammer-on':
    case 'pull-off':
      if (sign.attributes.type === 'stop')
        put({ kind: sign.name === 'hammer-on' ? 'hammer' : 'pull', from: UNLINKED });
      return;
    case 'harmonic':
      put(first(sign, 'artificial') ? { kind: 'harmonic', touch: 12 } : { kind: 'harmonic' });
      return;
    case 'other-technical': {
      const touch = /^touched (\d+) frets above$/.exec(text);
      const technique = TECHNIQUE_WORDS.find(([pattern]) => pattern.test(text));
      if (touch) put({ kind: 'harmonic', touch: Number(touch[1]) });
      else if (technique) put(technique[1]);
      else if (/^brush$/i.test(text)) signs.stroke = { kind: 'brush', way: signs.stroke?.way ?? 'down' };
      else leftOut(`the words “${text}” at a note`);
      return;
    }
    case 'open-string':
      signs.fret ??= 0;
      return;
    default:
      leftOut(`the sign “${sign.name.replace(/-/g, ' ')}”`);
  }
}

/** Bends and ways back in their order, as one technique. */
function bendOf(bends: readonly Node[]): Technique | undefined {
  const [up] = bends;
  if (!up) return undefined;
  const semitones = Math.abs(numberIn(up, 'bend-alter') ?? 2);
  const back = bends.some(bend => first(bend, 'release'));
  const shape: BendShape = first(up, 'pre-bend')
    ? 'pre'
    : bends.length > 2
      ? 'repeat'
      : back
        ? 'release'
        : 'up';
  return { kind: 'bend', semitones, shape };
}
