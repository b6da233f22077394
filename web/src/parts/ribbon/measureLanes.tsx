/** What stands over, on and under the strings of a measure, lane by lane. */
import clsx from 'clsx';
import {
  has,
  intoOf,
  isDead,
  remarksOf,
  type ScoreMeasure,
  type ScoreNote,
  shapePlacements,
  strokeOrder,
} from '#core/score';
import { countSyllable, isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE } from '#core/time';
import { OVER_STRINGS, ShapePicture } from '../shape/ShapePicture';
import { Engraved } from './Engraved';
import type { BodyProps } from './MeasureView';
import {
  type BarreLine,
  type FingerRow,
  namedBarres,
  PHRASE_ROOM,
  RHYTHM_ROOM,
  textWidth,
  xAt,
} from './measureLayout';
import styles from './Ribbon.module.css';

/** Pictures of the chords' shapes; a shape that is held on is not drawn again. */
export function Pictures({
  measure,
  setup,
  tops,
  heldBefore,
  x,
}: BodyProps & { x: (tick: number) => number }) {
  let held = heldBefore;
  return measure.chords.map(chord => {
    const grip = chord.frets?.join() ?? '';
    const again = grip === held;
    held = grip;
    return chord.frets && !again ? (
      <g key={chord.id} transform={`translate(${x(chord.start) - 24} ${tops.pictures - 8})`}>
        <ShapePicture
          setup={setup}
          frets={chord.frets}
          grip={shapePlacements({ frets: chord.frets, fingers: chord.fingers ?? [] })}
          scale={OVER_STRINGS}
        />
      </g>
    ) : null;
  });
}

/** The remarks of a measure in one line, as far as there is room. */
export function Remarks({ measure, index, width, tops }: BodyProps) {
  const text = remarksOf(measure, index)
    .map(remark => remark.text)
    .join(' · ');
  const room = Math.floor((width - 8) / textWidth('n', 13));
  return (
    text && (
      <text className={styles.remarkText} x={4} y={tops.remarks - 4}>
        <title>{text}</title>
        {text.length > room ? `${text.slice(0, room - 1)}…` : text}
      </text>
    )
  );
}

/** The measure on the staff, its notes over their places on the strings. */
export function MeasureStaff({
  staff,
  measure,
  setup,
  width,
  tops,
  tiedOn,
  lanes,
  x,
}: BodyProps & { x: (tick: number) => number }) {
  return (
    <Engraved
      by={staff}
      draw={(host, engraver) =>
        engraver.drawStaffMeasure(
          host,
          {
            measure,
            setup,
            width,
            x,
            tiedOn: tiedOn.split(' ').filter(Boolean),
            long: lanes.rests ? 'rests' : 'ties',
          },
          tops.staff,
        )
      }
    />
  );
}

/** What is struck string by string: an arrow for a brush, a wavy one for a roll, before the numbers. */
export function Strokes({
  measure,
  x,
  y,
}: {
  measure: ScoreMeasure;
  x: (tick: number) => number;
  y: (string: number) => number;
}) {
  return (measure.strokes ?? []).map(({ start, kind, way }) => {
    const order = strokeOrder(measure, start);
    if (!order.length) return null;
    const strings = order.map(note => note.string);
    const [top, bottom] = [y(Math.min(...strings)) - 9, y(Math.max(...strings)) + 9];
    const at = x(start) - 15;
    // Down goes from the thickest string, which stands lowest, to the thinnest.
    const [tail, head] = way === 'down' ? [bottom, top] : [top, bottom];
    const back = Math.sign(tail - head) * 6;
    const waves = Math.max(2, Math.round(Math.abs(tail - head) / 8));
    const line =
      kind === 'brush'
        ? `V${head}`
        : Array.from(
            { length: waves },
            (_, i) => `q${i % 2 ? 3 : -3} ${(head - tail) / waves / 2} 0 ${(head - tail) / waves}`,
          ).join('');
    return (
      <path
        key={start}
        className={styles.bar}
        fill="none"
        d={`M${at} ${tail}${line}M${at - 3.5} ${head + back}L${at} ${head}L${at + 3.5} ${head + back}`}
      />
    );
  });
}

/** One accent for all that is struck together, over its thinnest string. */
export function isAccented(measure: ScoreMeasure, note: ScoreNote): boolean {
  return (
    has(note, 'accent') &&
    !measure.notes.some(n => has(n, 'accent') && n.start === note.start && n.string < note.string)
  );
}

/** Where the note stands out of which this one is hammered, pulled or slid; at the left edge for an earlier measure. */
export function beforeOn(
  measure: ScoreMeasure,
  note: ScoreNote,
  x: (tick: number) => number,
): number | undefined {
  const into = intoOf(note);
  if (!into) return undefined;
  const before = measure.notes.find(n => n.id === into.from);
  return before ? x(before.start) : 0;
}

export function Head({ measure, number, tops, width, sectionName, endingStarts }: BodyProps) {
  const numberAt = sectionName ? 12 + textWidth(sectionName, 15) : 2;
  return (
    <>
      {number > 0 && (
        <text className={`${styles.small} ${styles.number}`} x={numberAt} y={tops.head}>
          {number}
        </text>
      )}
      {sectionName && (
        <text className={styles.section} x={2} y={tops.head}>
          {sectionName}
        </text>
      )}
      {measure.ending && (
        <g>
          <path
            d={`M${endingStarts ? `2 ${tops.ending + 10}V` : `0 `}${tops.ending - 8}H${width - 4}`}
            fill="none"
            className={styles.bar}
          />
          {endingStarts && (
            <text className={`${styles.small} ${styles.number}`} x={8} y={tops.ending + 7}>
              {measure.ending.join(', ')}.
            </text>
          )}
        </g>
      )}
    </>
  );
}

/** Size of a passage's name. */
const PHRASE_SIZE = 13;
/** Half the room of a note, by which a bracket reaches beyond where it begins. */
const BESIDE_NOTE = 12;

/** Brackets of the passages that the teacher has named. */
export function PhraseBrackets({ measure, width, tops, phrases, roomAfter }: BodyProps) {
  return phrases.map(({ name, row, begins, ends }) => {
    const y = tops.phrases + row * PHRASE_ROOM - 10;
    const left = begins === undefined ? 0 : xAt(measure, width, begins) - BESIDE_NOTE;
    const right = ends === undefined || ends === measure.ticks ? width : xAt(measure, width, ends) - 20;
    const end = ends === undefined ? right : right - 4;
    return (
      <g key={`${row} ${name}`} className={styles.phrase}>
        <path
          d={`M${left} ${begins === undefined ? y : y + 6}V${y}H${end}${ends === undefined ? '' : `V${y + 6}`}`}
        />
        {begins !== undefined && (
          <text className={styles.phraseName} x={left + 5} y={y + 15}>
            {shortened(name, width + roomAfter - left - 10)}
          </text>
        )}
      </g>
    );
  });
}

/** A name as far as there is room for it. */
function shortened(name: string, room: number): string {
  if (textWidth(name, PHRASE_SIZE) <= room) return name;
  return `${name.slice(0, Math.max(1, Math.floor(room / textWidth('n', PHRASE_SIZE)) - 1)).trimEnd()}…`;
}

const MARK_WORDS = {
  segno: '𝄋',
  coda: '𝄌',
  'to-coda': 'To 𝄌',
  fine: 'Fine',
  'da-capo': 'D.C.',
  'dal-segno': 'D.S.',
  'last-time-end': 'last time: end',
} as const;
const AT_START: readonly string[] = ['segno', 'coda'];

/** Signs of the road, tempo changes and fermatas, over the measure. */
export function Signs({ measure, width, tops, lanes, endingStarts }: BodyProps) {
  const { marks = [], tempos = [], fermatas = [], passes } = measure;
  const words = (start: boolean) =>
    marks
      .filter(mark => AT_START.includes(mark) === start)
      .map(mark => MARK_WORDS[mark])
      .join(' ');
  const atEnd = [words(false), measure.repeatEnd && passes && passes !== 2 ? `${passes} times` : '']
    .filter(Boolean)
    .join(' · ');
  const left = endingStarts ? 28 : 2;
  return (
    <>
      {measure.free && (
        <text
          className={`${styles.small} ${styles.number}`}
          x={left + (words(true) ? 22 : 0)}
          y={tops.ending + 7}
        >
          freely
        </text>
      )}
      {words(true) && (
        <text className={`${styles.small} ${styles.number}`} x={left} y={tops.ending + 7}>
          {words(true)}
        </text>
      )}
      {atEnd && (
        <text
          className={`${styles.small} ${styles.number}`}
          x={width - 6}
          y={tops.ending + 7}
          style={{ textAnchor: 'end' }}
        >
          {atEnd}
        </text>
      )}
      {tempos.map(({ start, quartersPerMinute, over }) => (
        <text
          key={start}
          className={`${styles.small} ${styles.number}`}
          x={Math.max(
            left + (words(true) ? 22 : 0),
            // What changes slowly is told where it begins to.
            xAt(measure, width, Math.max(0, start - (over ?? 0))) - 6,
          )}
          y={tops.ending + 7}
        >
          {over ? 'gradually ' : ''}♩ = {Math.round(quartersPerMinute)}
        </text>
      ))}
      {fermatas.map(start => (
        <text
          key={start}
          x={xAt(measure, width, start)}
          y={tops.strings - 22 - (lanes.rhythm ? RHYTHM_ROOM - 6 : 0)}
        >
          𝄐
        </text>
      ))}
    </>
  );
}

export function Barlines({
  measure,
  width,
  top,
  bottom,
  middle,
}: {
  measure: ScoreMeasure;
  width: number;
  /** From the staff, where there is one, to the lowest string. */
  top: number;
  bottom: number;
  /** Of the strings. */
  middle: number;
}) {
  const dots = (x: number) =>
    [-11, 11].map(d => <circle key={d} className={styles.dot} cx={x} cy={middle + d} r={3} />);
  return (
    <>
      {measure.repeatStart && (
        <g>
          <line className={styles.bar} x1={2} x2={2} y1={top} y2={bottom} strokeWidth={4} />
          <line className={styles.bar} x1={6.5} x2={6.5} y1={top} y2={bottom} strokeWidth={1.2} />
          {dots(11)}
        </g>
      )}
      {measure.repeatEnd && dots(width - 11)}
      {measure.repeatEnd || measure.barline === 'final' ? (
        <g>
          <line
            className={styles.bar}
            x1={width - 6.5}
            x2={width - 6.5}
            y1={top}
            y2={bottom}
            strokeWidth={1.2}
          />
          <line className={styles.bar} x1={width - 2} x2={width - 2} y1={top} y2={bottom} strokeWidth={4} />
        </g>
      ) : (
        <g>
          {measure.barline === 'double' && (
            <line
              className={styles.bar}
              x1={width - 4.5}
              x2={width - 4.5}
              y1={top}
              y2={bottom}
              strokeWidth={1.2}
            />
          )}
          <line
            className={styles.bar}
            x1={width - 0.6}
            x2={width - 0.6}
            y1={top}
            y2={bottom}
            strokeWidth={1.2}
          />
        </g>
      )}
    </>
  );
}

export function Tuplets({
  measure,
  x,
  y,
}: {
  measure: ScoreMeasure;
  x: (tick: number) => number;
  y: number;
}) {
  const groups = new Map<number, { start: number }[]>();
  const numbers = new Map<number, number>();
  for (const part of [...measure.notes, ...(measure.rests ?? [])])
    for (const { group, actual } of part.tuplets ?? []) {
      groups.set(group, [...(groups.get(group) ?? []), part]);
      numbers.set(group, actual);
    }
  return [...groups.entries()].map(([group, notes]) => {
    const from = x(Math.min(...notes.map(n => n.start))) - 8;
    const to = x(Math.max(...notes.map(n => n.start))) + 8;
    return (
      <g key={group}>
        <path
          d={`M${from} ${y + 5}V${y}H${(from + to) / 2 - 8}M${(from + to) / 2 + 8} ${y}H${to}V${y + 5}`}
          fill="none"
          className={styles.bar}
        />
        <text className={styles.small} x={(from + to) / 2} y={y + 4}>
          {numbers.get(group)}
        </text>
      </g>
    );
  });
}

/** Under the strings, how long a finger lies across several of them: "B2" and a line to where it lifts. */
export function Barres({
  barres,
  width,
  x,
  y,
}: {
  barres: readonly BarreLine[];
  width: number;
  x: (tick: number) => number;
  y: number;
}) {
  return namedBarres(barres, x).map(
    ({ fret, strings, from, to, comesOver, goesOn, name, left, label, line }) => {
      const right = goesOn ? width : Math.max(left + 26, x(to) - 8);
      return (
        <g key={`${fret} ${from} ${strings.join()}`}>
          <title>
            Barre at fret {fret}, strings {strings[1]} to {strings[0]}
          </title>
          {!comesOver && (
            <text className={styles.barre} x={label} y={y + 3}>
              {name}
            </text>
          )}
          {line < right && (
            <path className={styles.barreLine} d={`M${line} ${y - 1}H${right}${goesOn ? '' : 'v-5'}`} />
          )}
        </g>
      );
    },
  );
}

/** Fingers of one hand under what they hold or pluck. */
export function Fingers({
  rows,
  x,
  y,
}: {
  rows: readonly FingerRow[];
  x: (tick: number) => number;
  y: number;
}) {
  return rows.map(row => (
    <text key={`${row.tick}-${row.low}`} className={styles.finger} x={x(row.tick)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

/** Degrees of the notes in their chords: the melody's above, all others below, thickest string first. */
export function Degrees({
  measure,
  names,
  x,
  y,
}: {
  measure: ScoreMeasure;
  names: string;
  x: (tick: number) => number;
  y: number;
}) {
  const byNote = names.split(' ');
  const rows = new Map<string, { tick: number; low: boolean; text: string }>();
  for (const [i, note] of [...measure.notes.entries()].sort((a, b) => b[1].string - a[1].string)) {
    if (note.tie !== undefined || isDead(note)) continue;
    const low = note.role !== 'melody';
    const key = `${note.start}-${low}`;
    const row = rows.get(key);
    if (!row) rows.set(key, { tick: note.start, low, text: byNote[i]! });
    else row.text += ` ${byNote[i]!}`;
  }
  return [...rows.entries()].map(([key, row]) => (
    <text key={key} className={styles.degree} x={x(row.tick)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

export function Counts({
  measure,
  x,
  y,
  playingTick,
}: {
  measure: ScoreMeasure;
  x: (tick: number) => number;
  y: number;
  playingTick: number | undefined;
}) {
  const unit = TICKS_PER_WHOLE / measure.meter.unit;
  const step = isCompound(measure.meter) ? unit : pulseTicks(measure.meter);
  const groupStarts = measure.meter.groups && strongBeats(measure.meter);
  const ticks = new Set(measure.notes.map(n => n.start));
  for (
    let place = Math.ceil(measure.offset / step) * step;
    place < measure.offset + measure.ticks;
    place += step
  )
    ticks.add(place - measure.offset);
  return [...ticks].map(tick => {
    const syllable = countSyllable(measure.meter, tick + measure.offset);
    const beat = groupStarts
      ? groupStarts.includes(tick + measure.offset)
      : (tick + measure.offset) % pulseTicks(measure.meter) === 0;
    return (
      <text
        key={tick}
        className={clsx(styles.count, beat && styles.beat, tick === playingTick && styles.said)}
        x={x(tick)}
        y={y}
      >
        {syllable}
      </text>
    );
  });
}
