import type { Into, ScoreNote } from '#core/score';

const INTO_LETTERS: Record<Into, string> = { hammer: 'H', pull: 'P', slide: 'sl' };

/** What is printed for a note: its fret, x for a damped stroke, in brackets when tied, in angles as a harmonic. */
function fretText(note: ScoreNote): string {
  if (note.dead) return 'x';
  if (note.tied) return `(${note.fret})`;
  return note.harmonic ? `‹${note.fret}›` : String(note.fret);
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
  const wide = note.fret > 9 || note.tied || note.harmonic ? 13 : 10.5;
  return (
    <g className={`${note.voice}${faulty ? ' faulty' : ''}`}>
      {note.into && <IntoMark into={note.into} from={before ?? x - 24} to={x} y={y} />}
      {note.tied ? (
        <rect className="peg-inner" x={x - wide} y={y - 10} width={wide * 2} height={20} />
      ) : note.voice === 'melody' ? (
        <rect className="peg-melody" x={x - wide} y={y - 10.5} width={wide * 2} height={21} rx={10.5} />
      ) : note.voice === 'bass' ? (
        <rect className="peg-bass" x={x - wide} y={y - 9.5} width={wide * 2} height={19} rx={3} />
      ) : (
        <rect className="peg-inner" x={x - wide + 2} y={y - 9} width={wide * 2 - 4} height={18} />
      )}
      <text className="fret" x={x} y={y} style={note.tied ? { fill: 'var(--ink)' } : undefined}>
        {fretText(note)}
      </text>
      {note.graces && <Graces frets={note.graces} slid={note.graceBy === 'slide'} x={x} y={y} />}
      {accented && <path className="accent" d={`M${x - 5} ${y - 17}l10 3l-10 3`} />}
      {faulty && <path className="wave" d={`M${x - 10} ${y + 14}q3 -5 5 0t5 0t5 0t5 0`} />}
    </g>
  );
}

/** Grace notes: one small before the note, several in a row above it, so that they cover no other note. */
function Graces({ frets, slid, x, y }: { frets: readonly number[]; slid: boolean; x: number; y: number }) {
  if (frets.length > 1)
    return (
      <text className="grace" x={x} y={y - 14}>
        {frets.join(' ')}
      </text>
    );
  return (
    <>
      <text className="grace" x={x - 16} y={y - 7}>
        {frets[0]}
      </text>
      {slid && <path className="slide" d={`M${x - 12} ${y - 3}L${x - 8} ${y - 9}`} />}
    </>
  );
}

/** A slur with its letter, or the line of a slide, out of the note before on the string. */
function IntoMark({ into, from, to, y }: { into: Into; from: number; to: number; y: number }) {
  const middle = (from + to) / 2;
  if (into === 'slide')
    return <path className="slide" d={`M${from + 12} ${y + 5}L${Math.max(from + 16, to - 12)} ${y - 5}`} />;
  return (
    <g>
      <path className="slur" d={`M${from} ${y - 11}Q${middle} ${y - 21} ${to} ${y - 11}`} />
      <text className="small" x={middle} y={y - 18}>
        {INTO_LETTERS[into]}
      </text>
    </g>
  );
}
