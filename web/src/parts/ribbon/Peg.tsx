import clsx from 'clsx';
import {
  bendSign,
  type GraceNote,
  has,
  type Into,
  intoOf,
  isDead,
  type ScoreNote,
  TECHNIQUES,
  techniqueOf,
} from '#core/score';
import { STRING_GAP } from './measureLayout';
import styles from './Ribbon.module.css';

/** What is printed for a note: its fret, x for a damped stroke, in brackets when tied, in angles as a harmonic. */
function fretText(note: ScoreNote): string {
  if (isDead(note)) return 'x';
  if (note.tie !== undefined) return `(${note.fret})`;
  return has(note, 'harmonic') ? `‹${note.fret}›` : String(note.fret);
}

/** Arrows of a slide into a note, or off it. */
function slideArrow(way: 'below' | 'above', off: boolean): string {
  return (way === 'below') === off ? '↘' : '↗';
}

/** Signs beside a number that have no drawing of their own. */
function signsOf(note: ScoreNote): string {
  const bend = techniqueOf(note, 'bend');
  const touch = techniqueOf(note, 'harmonic')?.touch;
  return [
    bend && bendSign(bend.semitones),
    touch !== undefined && `‹+${touch}›`,
    ...(['vibrato', 'palm-mute', 'let-ring', 'damp', 'tremolo'] as const).map(
      kind => has(note, kind) && TECHNIQUES[kind].sign,
    ),
  ]
    .filter(Boolean)
    .join(' ');
}

/** A note on its string: the melody filled and round, the bass open and square, inner notes bare. */
export function Peg({
  note,
  x,
  y,
  before,
  accented,
  faulty,
}: {
  note: ScoreNote;
  x: number;
  y: number;
  /** Where the note stands out of which this one is hammered, pulled or slid. */
  before: number | undefined;
  accented: boolean;
  faulty: boolean;
}) {
  const tied = note.tie !== undefined;
  const wide = note.fret > 9 || tied || has(note, 'harmonic') ? 13 : 10.5;
  const into = intoOf(note)?.kind;
  const slideIn = techniqueOf(note, 'slide-in');
  const slideOff = techniqueOf(note, 'slide-off');
  const signs = signsOf(note);
  return (
    <g className={clsx(note.role === 'melody' && styles.melody, faulty && styles.faulty)}>
      {into && <IntoMark into={into} from={before ?? x - 24} to={x} y={y} />}
      {tied ? (
        <rect className={styles.pegInner} x={x - wide} y={y - 10} width={wide * 2} height={20} />
      ) : note.role === 'melody' ? (
        <rect className={styles.pegMelody} x={x - wide} y={y - 10.5} width={wide * 2} height={21} rx={10.5} />
      ) : note.role === 'bass' ? (
        <rect className={styles.pegBass} x={x - wide} y={y - 9.5} width={wide * 2} height={19} rx={3} />
      ) : (
        <rect className={styles.pegInner} x={x - wide + 2} y={y - 9} width={wide * 2 - 4} height={18} />
      )}
      <text className={styles.fret} x={x} y={y} style={tied ? { fill: 'var(--ink)' } : undefined}>
        {fretText(note)}
      </text>
      {note.graces && <Graces note={note} graces={note.graces} x={x} y={y} />}
      {slideIn && (
        <text className={styles.small} x={x - wide - 6} y={y}>
          {slideArrow(slideIn.way, false)}
        </text>
      )}
      {slideOff && (
        <text className={styles.small} x={x + wide + 6} y={y}>
          {slideArrow(slideOff.way, true)}
        </text>
      )}
      {signs && (
        <text className={`${styles.small} ${styles.sign}`} x={x + wide + 4} y={y - 12}>
          {signs}
        </text>
      )}
      {accented && <path className={styles.accent} d={`M${x - 5} ${y - 17}l10 3l-10 3`} />}
      {faulty && <path className={styles.wave} d={`M${x - 10} ${y + 14}q3 -5 5 0t5 0t5 0t5 0`} />}
    </g>
  );
}

/**
 * Grace notes: one small before the note, several in a row above it, so that they cover no other note; those of another
 * string stand on it.
 */
function Graces({
  note,
  graces,
  x,
  y,
}: {
  note: ScoreNote;
  graces: readonly GraceNote[];
  x: number;
  y: number;
}) {
  const own = graces.filter(grace => grace.string === note.string);
  const beside = graces.filter(grace => grace.string !== note.string);
  return (
    <>
      {own.length > 1 ? (
        <text className={styles.grace} x={x} y={y - 14}>
          {own.map(grace => grace.fret).join(' ')}
        </text>
      ) : (
        own.length > 0 && (
          <text className={styles.grace} x={x - 16} y={y - 7}>
            {own[0]!.fret}
          </text>
        )
      )}
      {own.length === 1 && note.graceBy === 'slide' && (
        <path className={styles.slide} d={`M${x - 12} ${y - 3}L${x - 8} ${y - 9}`} />
      )}
      {beside.map((grace, i) => (
        <text
          key={grace.id}
          className={styles.grace}
          x={x - 15 - 11 * (beside.length - 1 - i)}
          y={y + (grace.string - note.string) * STRING_GAP}
        >
          {grace.fret}
        </text>
      ))}
    </>
  );
}

/** A slur with its letter, or the line of a slide, out of the note before on the string. */
function IntoMark({ into, from, to, y }: { into: Into; from: number; to: number; y: number }) {
  const middle = (from + to) / 2;
  if (into === 'slide')
    return (
      <path className={styles.slide} d={`M${from + 12} ${y + 5}L${Math.max(from + 16, to - 12)} ${y - 5}`} />
    );
  return (
    <g>
      <path className={styles.slur} d={`M${from} ${y - 11}Q${middle} ${y - 21} ${to} ${y - 11}`} />
      <text className={styles.small} x={middle} y={y - 18}>
        {TECHNIQUES[into].sign}
      </text>
    </g>
  );
}
