/** What stands on one string between two bars. */
import { GRACES_TEXT, type GraceSpot, readGraces, type Technique, UNLINKED } from '../../score';

/** A number of a row, where it stands, and what its signs say. */
export interface TabNote {
  /** Columns of the whole line, from 0; the end is the first behind it. */
  from: number;
  to: number;
  fret: number;
  techniques: Technique[];
  tie?: boolean;
  graces?: GraceSpot[];
  graceBy?: 'slide';
}

export interface RowFault {
  column: number;
  message: string;
}

const ELEMENT = new RegExp(
  String.raw`(?<into>\{(?<way>[/\\])\})|(?<grace>\{(?<graces>${GRACES_TEXT})(?<slid>\/?)\})|(?<touch>[<[]\s*(?<harmonic>\d{1,2})\s*[>\]])|(?<tie>\(\s*(?<tied>\d{1,2})\s*\))|(?<bend>(?:pb|b|\^)(?<reach>\(?\d{1,2}\)?|½|1\/2)?(?<back>r\(?\d{0,2}\)?)?(?<more>b\(?\d{0,2}\)?)?)|(?<fret>\d{1,2})|(?<dead>[xX])|(?<link>\/\/|\\\\|[hHpPsS/\\])|(?<sign>[~v>.=!mM'Vz])|(?<filler>[-|:*\s_o)(])|(?<other>.)`,
  'yu',
);

/** Signs behind a number. */
type OwnSign = 'vibrato' | 'accent' | 'palm-mute' | 'damp' | 'let-ring' | 'tremolo';
const SIGNS: Readonly<Record<string, OwnSign>> = {
  '~': 'vibrato',
  v: 'vibrato',
  V: 'vibrato',
  '>': 'accent',
  '!': 'accent',
  m: 'palm-mute',
  M: 'palm-mute',
  '.': 'damp',
  "'": 'damp',
  '=': 'let-ring',
  z: 'tremolo',
};

/** A slide that waits for its number. */
interface Waiting {
  sign: string;
  column: number;
  /** Whether a number stood right before it. */
  after: boolean;
  /** Said to lead from no number. */
  into?: boolean;
}

/**
 * Reads a row between two columns.
 *
 * @param before the last number of the measure before on this string, from which a link may lead
 * @param single columns at which a number has one digit, although another one follows
 */
export function readRow(
  text: string,
  from: number,
  to: number,
  before: TabNote | undefined,
  single: ReadonlyMap<number, unknown> = new Map(),
): { notes: TabNote[]; guesses: RowFault[]; leftOut: RowFault[] } {
  const notes: TabNote[] = [];
  const guesses: RowFault[] = [];
  const leftOut: RowFault[] = [];
  let waiting: Waiting | undefined;
  let graces: { spots: GraceSpot[]; slid: boolean; column: number } | undefined;
  /** Whether only the signs of the last number stood since it. */
  let touching = false;
  let last = before;

  const put = (column: number, end: number, fret: number, techniques: Technique[], tie = false) => {
    const note: TabNote = { from: graces?.column ?? column, to: end, fret, techniques, ...(tie && { tie }) };
    if (graces) {
      note.graces = graces.spots;
      if (graces.slid) note.graceBy = 'slide';
      graces = undefined;
    }
    if (waiting) link(note, waiting);
    waiting = undefined;
    notes.push(note);
    last = note;
    touching = true;
  };
  const link = (note: TabNote, { sign, column, after, into = false }: Waiting) => {
    const source = last;
    // A slash that stands apart leads on from a number of its measure; where there is none, into the note.
    if (into || (sign.length === 1 && /[/\\]/.test(sign) && !after && !notes.length)) {
      note.techniques.push({ kind: 'slide-in', way: sign === '/' ? 'below' : 'above' });
      return;
    }
    if (!source) {
      leftOut.push({ column, message: `“${sign}” leads out of no number` });
      return;
    }
    const up = note.fret > source.fret;
    if (note.fret === source.fret) {
      leftOut.push({ column, message: `“${sign}” leads to the fret that it comes from` });
      return;
    }
    const kind = /[hp]/i.test(sign) ? (up ? 'hammer' : 'pull') : 'slide';
    if (/[hH]/.test(sign) && !up)
      guesses.push({ column, message: 'a hammer-on to a lower fret is taken as a pull-off' });
    if (/[pP]/.test(sign) && up)
      guesses.push({ column, message: 'a pull-off to a higher fret is taken as a hammer-on' });
    if (kind === 'slide' && (!note.fret || !source.fret)) {
      leftOut.push({ column, message: 'a slide to or from an open string' });
      return;
    }
    note.techniques.push(
      kind === 'slide'
        ? { kind, from: UNLINKED, ...(sign.length === 2 && { again: true }) }
        : { kind, from: UNLINKED },
    );
  };
  /** A slide sign with nothing behind it slides off. */
  const offLast = () => {
    if (!waiting) return;
    const { sign, column, after } = waiting;
    waiting = undefined;
    if (after && last && /^[/\\]$/.test(sign))
      last.techniques.push({ kind: 'slide-off', way: sign === '/' ? 'above' : 'below' });
    else leftOut.push({ column, message: `“${sign}” leads to no number` });
  };

  const music = text.slice(0, to);
  for (let column = from, end = from; column < music.length; column = end) {
    ELEMENT.lastIndex = column;
    // Every character is one of its elements.
    const match = ELEMENT.exec(music)!;
    const own = match.groups as Record<string, string | undefined>;
    if (own.fret !== undefined && single.has(column)) own.fret = own.fret[0]!;
    end = column + (own.fret ?? match[0]).length;
    if (own.into) waiting = { sign: own.way!, column, after: false, into: true };
    else if (own.grace) graces = { spots: readGraces(own.graces!), slid: Boolean(own.slid), column };
    else if (own.touch) {
      // Behind a number it is the fret above which the string is touched.
      const fret = Number(own.harmonic);
      if (touching && last && fret > last.fret && own.touch[0] === '<') {
        last.techniques.push({ kind: 'harmonic', touch: fret - last.fret });
        last.to = end;
      } else put(column, end, fret, [{ kind: 'harmonic' }]);
    } else if (own.tie) put(column, end, Number(own.tied), [], true);
    else if (own.bend !== undefined && touching && last) {
      const { reach, back, more } = own;
      const half = reach === '½' || reach === '1/2';
      const goal = reach && !half ? Number(reach.replace(/[()]/g, '')) - last.fret : undefined;
      if (goal === undefined && !half)
        guesses.push({ column, message: 'a bend without a goal is taken as a whole tone' });
      const semitones = half ? 1 : (goal ?? 2);
      const shape = own.bend.startsWith('b') ? (more ? 'repeat' : back ? 'release' : 'up') : 'pre';
      if (semitones < 1 || semitones > 4)
        leftOut.push({ column, message: `a bend from ${last.fret} to ${reach}` });
      else last.techniques.push({ kind: 'bend', semitones, shape });
      last.to = end;
    } else if (own.fret !== undefined) {
      const fret = Number(own.fret);
      put(column, end, fret, []);
    } else if (own.dead) put(column, end, 0, [{ kind: 'dead' }]);
    else if (own.link) {
      offLast();
      waiting = { sign: own.link, column, after: touching || !/[/\\]/.test(own.link) };
    } else if (own.sign && touching && last) {
      const kind = SIGNS[own.sign]!;
      if (!last.techniques.some(t => t.kind === kind)) last.techniques.push({ kind });
      last.to = end;
    } else if (own.filler !== undefined) {
      touching = false;
      // Between a number and a slide off the next number there may be dashes; two of them end it.
      if (waiting && /[/\\]/.test(waiting.sign) && column > waiting.column + 2) offLast();
    } else leftOut.push({ column, message: `“${match[0]}” is no sign that is known here` });
  }
  offLast();
  return { notes, guesses, leftOut };
}
