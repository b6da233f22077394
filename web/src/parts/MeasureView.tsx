import { useDrag } from '@use-gesture/react';
import { memo, type PointerEvent } from 'react';
import { chordLabel } from '#core/chord';
import type { Setup } from '#core/instrument';
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
import { countSyllable, isCompound, pulseTicks, TICKS_PER_WHOLE } from '#core/time';
import { Engraved, type Engraver } from './Engraved';
import {
  fingerRows,
  type Lanes,
  type LaneTops,
  nearestMoment,
  RHYTHM_ROOM,
  type RingTail,
  STRING_GAP,
  textWidth,
  xAt,
} from './measureLayout';
import { Peg } from './Peg';
import { Rhythm } from './Rhythm';
import { OVER_STRINGS, ShapePicture } from './ShapePicture';

export interface MeasureProps {
  measure: ScoreMeasure;
  index: number;
  number: number;
  width: number;
  scale: number;
  lanes: Lanes;
  tops: LaneTops;
  /** The engraver, once it is there. */
  staff: Engraver | undefined;
  setup: Setup;
  /** Ids of notes from which the next measure sounds on, joined by spaces. */
  tiedOn: string;
  sectionName: string | undefined;
  tails: readonly RingTail[];
  /** Ids of notes with a finding, joined by spaces. */
  faulty: string;
  /** Degree of each note in its chord, in the order of the notes, joined by spaces. */
  degrees: string;
  /** How hard it is; 0 where that is not shown. */
  difficulty: number;
  label: string;
  endingStarts: boolean;
  lit: boolean;
  inRange: boolean;
  /** Differs from the present in a proposal. */
  changed: boolean;
  /** Ticks at which it differs from what it is compared with, joined by spaces. */
  differing: string;
  /** Grip of the chord before it, whose picture need not be drawn again. */
  heldBefore: string;
  chosenStart: number | undefined;
  chosenString: number | undefined;
  playingTick: number | undefined;
  onChoose?: ((measure: string, start: number, string: number, extend: boolean) => void) | undefined;
  onDragNote?: ((id: string, string: number) => void) | undefined;
}

/** The difficulty at which the bar of its lane is full; most measures lie well below. */
const HARDEST = 10;

const STROKES: Record<string, string> = { down: '↓', up: '↑' };

/** One measure with its lanes: words, chords, strings, fingers, plucks, count. Draws again only when it changed. */
export const MeasureView = memo(function MeasureView(props: MeasureProps) {
  const { measure, width, lanes, tops } = props;
  const x = (tick: number) => xAt(measure, width, tick);
  const y = (string: number) => tops.strings + (string - 1) * STRING_GAP;
  const top = y(1);
  const bottom = y(lanes.strings);

  const place = (svg: Element, [clientX, clientY]: readonly [number, number]) => {
    const box = svg.getBoundingClientRect();
    const inside = (offset: number) => offset / props.scale;
    const string = Math.round((inside(clientY - box.top) - tops.strings) / STRING_GAP) + 1;
    return {
      start: nearestMoment(measure, width, inside(clientX - box.left)),
      string: Math.min(lanes.strings, Math.max(1, string)),
    };
  };

  // Where it is pressed is chosen; a note that is pulled to another string goes there.
  const drag = useDrag<PointerEvent>(({ first, last, canceled, currentTarget, xy, shiftKey, memo }) => {
    const { start, string } = place(currentTarget as Element, xy);
    if (first) {
      props.onChoose?.(measure.id, start, string, shiftKey);
      return measure.notes.find(n => n.start === start && n.string === string)?.id;
    }
    const note = last && !canceled ? measure.notes.find(n => n.id === memo) : undefined;
    if (note && note.string !== string) props.onDragNote?.(note.id, string);
    return memo;
  });

  return (
    <svg
      className="measure"
      width={width * props.scale}
      height={tops.height * props.scale}
      viewBox={`0 0 ${width} ${tops.height}`}
      role="img"
      aria-label={props.changed ? `Proposed. ${props.label}` : props.label}
      data-measure={props.index}
      {...(props.onChoose && drag())}
    >
      {props.inRange && <rect className="in-range" x={0} y={2} width={width} height={tops.height - 4} />}
      {props.lit && <rect className="lamp" x={1} y={2} width={width - 2} height={tops.height - 4} rx={8} />}
      {props.changed && (
        <>
          <rect className="changed" x={3} y={0} width={width - 6} height={5} rx={2.5} />
          <text className="small" x={width - 22} y={15}>
            new
          </text>
        </>
      )}
      {props.differing
        .split(' ')
        .filter(Boolean)
        .map(start => (
          <rect
            key={start}
            className="differing"
            x={x(Number(start)) - 15}
            y={top - 16}
            width={30}
            height={bottom - top + 32}
            rx={8}
          />
        ))}
      {props.playingTick !== undefined && (
        <rect
          className="now"
          x={x(props.playingTick) - 12}
          y={top - 14}
          width={24}
          height={bottom - top + 28}
          rx={8}
        />
      )}
      <MeasureBody
        measure={measure}
        index={props.index}
        number={props.number}
        width={width}
        lanes={lanes}
        tops={tops}
        staff={props.staff}
        setup={props.setup}
        tiedOn={props.tiedOn}
        sectionName={props.sectionName}
        tails={props.tails}
        faulty={props.faulty}
        degrees={props.degrees}
        difficulty={props.difficulty}
        endingStarts={props.endingStarts}
        heldBefore={props.heldBefore}
      />
      {props.chosenStart !== undefined && props.chosenString !== undefined && (
        <rect
          className="chosen"
          x={x(props.chosenStart) - 14}
          y={y(props.chosenString) - 13}
          width={28}
          height={26}
          rx={9}
        />
      )}
      {lanes.count && <Counts measure={measure} x={x} y={tops.count} playingTick={props.playingTick} />}
    </svg>
  );
});

/** What of a measure stays as it is while the cursor and the music go over it. */
type BodyProps = Pick<
  MeasureProps,
  | 'measure'
  | 'index'
  | 'number'
  | 'width'
  | 'lanes'
  | 'tops'
  | 'staff'
  | 'setup'
  | 'tiedOn'
  | 'sectionName'
  | 'tails'
  | 'faulty'
  | 'degrees'
  | 'difficulty'
  | 'endingStarts'
  | 'heldBefore'
>;

const MeasureBody = memo(function MeasureBody(props: BodyProps) {
  const { measure, width, lanes, tops } = props;
  const x = (tick: number) => xAt(measure, width, tick);
  const y = (string: number) => tops.strings + (string - 1) * STRING_GAP;
  const top = y(1);
  const bottom = y(lanes.strings);
  return (
    <>
      <Head {...props} />
      <Signs {...props} />
      {lanes.words &&
        measure.words.map(({ start, verses }) =>
          verses.map((syllable, verse) => (
            <text key={`${start}-${verse}`} className="word" x={x(start) - 6} y={tops.words + verse * 20}>
              {syllable}
            </text>
          )),
        )}
      {lanes.chords &&
        measure.chords.map(chord => (
          <g key={chord.start}>
            <text className="chord" x={x(chord.start) - 6} y={tops.chords + 6}>
              {chordLabel(lanes.names === 'sounding' ? chord.sounding : chord.shape)}
            </text>
            {lanes.names === 'both' && (
              <text className="sounding" x={x(chord.start) - 6} y={tops.chords + 23}>
                sounds {chordLabel(chord.sounding)}
              </text>
            )}
          </g>
        ))}
      {lanes.pictures && <Pictures {...props} x={x} />}
      {lanes.staff && <MeasureStaff {...props} x={x} />}
      {lanes.rhythm && <Rhythm measure={measure} x={x} above={tops.rhythmAbove} below={tops.rhythmBelow} />}
      {Array.from({ length: lanes.strings }, (_, i) => (
        <line
          key={i}
          className="string"
          x1={0}
          x2={width}
          y1={y(i + 1)}
          y2={y(i + 1)}
          strokeWidth={0.8 + i * 0.25}
        />
      ))}
      {props.tails.map(tail => (
        <line
          key={`${tail.string}-${tail.from}`}
          className="ring"
          x1={tail.comesOver ? 0 : x(tail.from)}
          x2={tail.goesOn ? width : Math.max(x(tail.from) + 8, x(tail.to) - 6)}
          y1={y(tail.string)}
          y2={y(tail.string)}
        />
      ))}
      <Barlines
        measure={measure}
        width={width}
        top={lanes.staff ? tops.staff : top}
        bottom={bottom}
        middle={(top + bottom) / 2}
      />
      <Tuplets measure={measure} x={x} y={top - 16 - (lanes.rhythm ? RHYTHM_ROOM - 4 : 0)} />
      <Strokes measure={measure} x={x} y={y} />
      {remarksOf(measure, props.index).map(({ id, at, text }) => (
        <path
          key={id}
          className="remark"
          d={`M${at ? x(at.start) - 5 : width - 14} ${(at ? y(at.string) : top) - 19}h10l-5 7z`}
        >
          <title>{text}</title>
        </path>
      ))}
      {measure.notes.map(note => (
        <Peg
          key={note.id}
          note={note}
          x={x(note.start)}
          y={y(note.string)}
          before={beforeOn(measure, note, x)}
          accented={isAccented(measure, note)}
          faulty={props.faulty.includes(` ${note.id} `)}
        />
      ))}
      {lanes.fingers && <Fingers measure={measure} x={x} y={tops.fingers} />}
      {lanes.plucks && <Plucks measure={measure} x={x} y={tops.plucks} thumb={lanes.thumb} />}
      {lanes.degrees && <Degrees measure={measure} names={props.degrees} x={x} y={tops.degrees} />}
      {lanes.difficulty && (
        <>
          <rect
            className="difficulty"
            x={4}
            y={tops.difficulty - 13}
            width={Math.min(width - 40, (width - 40) * (props.difficulty / HARDEST))}
            height={9}
            rx={3}
          />
          <text className="small" x={width - 16} y={tops.difficulty - 4}>
            {props.difficulty.toFixed(1)}
          </text>
        </>
      )}
      {lanes.remarks && <Remarks {...props} />}
    </>
  );
});

/** Pictures of the chords' shapes; a shape that is held on is not drawn again. */
function Pictures({ measure, setup, tops, heldBefore, x }: BodyProps & { x: (tick: number) => number }) {
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
function Remarks({ measure, index, width, tops }: BodyProps) {
  const text = remarksOf(measure, index)
    .map(remark => remark.text)
    .join(' · ');
  const room = Math.floor((width - 8) / textWidth('n', 13));
  return (
    text && (
      <text className="remark-text" x={4} y={tops.remarks - 4}>
        <title>{text}</title>
        {text.length > room ? `${text.slice(0, room - 1)}…` : text}
      </text>
    )
  );
}

/** The measure on the staff, its notes over their places on the strings. */
function MeasureStaff({
  staff,
  measure,
  setup,
  width,
  tops,
  tiedOn,
  x,
}: BodyProps & { x: (tick: number) => number }) {
  return (
    <Engraved
      by={staff}
      draw={(host, engraver) =>
        engraver.drawStaffMeasure(
          host,
          { measure, setup, width, x, tiedOn: tiedOn.split(' ').filter(Boolean) },
          tops.staff,
        )
      }
    />
  );
}

/** What is struck string by string: an arrow for a brush, a wavy one for a roll, before the numbers. */
function Strokes({
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
        className="bar stroke"
        fill="none"
        d={`M${at} ${tail}${line}M${at - 3.5} ${head + back}L${at} ${head}L${at + 3.5} ${head + back}`}
      />
    );
  });
}

/** One accent for all that is struck together, over its thinnest string. */
function isAccented(measure: ScoreMeasure, note: ScoreNote): boolean {
  return (
    has(note, 'accent') &&
    !measure.notes.some(n => has(n, 'accent') && n.start === note.start && n.string < note.string)
  );
}

/** Where the note stands out of which this one is hammered, pulled or slid; at the left edge for an earlier measure. */
function beforeOn(measure: ScoreMeasure, note: ScoreNote, x: (tick: number) => number): number | undefined {
  const into = intoOf(note);
  if (!into) return undefined;
  const before = measure.notes.find(n => n.id === into.from);
  return before ? x(before.start) : 0;
}

function Head({ measure, number, tops, width, sectionName, endingStarts }: BodyProps) {
  const numberAt = sectionName ? 12 + textWidth(sectionName, 15) : 2;
  return (
    <>
      {number > 0 && (
        <text className="small number" x={numberAt} y={tops.head}>
          {number}
        </text>
      )}
      {sectionName && (
        <text className="section" x={2} y={tops.head}>
          {sectionName}
        </text>
      )}
      {measure.ending && (
        <g>
          <path
            d={`M${endingStarts ? `2 ${tops.ending + 10}V` : `0 `}${tops.ending - 8}H${width - 4}`}
            fill="none"
            className="bar"
          />
          {endingStarts && (
            <text className="small number" x={8} y={tops.ending + 7}>
              {measure.ending.join(', ')}.
            </text>
          )}
        </g>
      )}
    </>
  );
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
function Signs({ measure, width, tops, lanes, endingStarts }: BodyProps) {
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
        <text className="small number" x={left + (words(true) ? 22 : 0)} y={tops.ending + 7}>
          freely
        </text>
      )}
      {words(true) && (
        <text className="small number" x={left} y={tops.ending + 7}>
          {words(true)}
        </text>
      )}
      {atEnd && (
        <text className="small number" x={width - 6} y={tops.ending + 7} style={{ textAnchor: 'end' }}>
          {atEnd}
        </text>
      )}
      {tempos.map(({ start, quartersPerMinute, over }) => (
        <text
          key={start}
          className="small number"
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
          className="fermata"
          x={xAt(measure, width, start)}
          y={tops.strings - 22 - (lanes.rhythm ? RHYTHM_ROOM - 6 : 0)}
        >
          𝄐
        </text>
      ))}
    </>
  );
}

function Barlines({
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
    [-11, 11].map(d => <circle key={d} className="dot" cx={x} cy={middle + d} r={3} />);
  return (
    <>
      {measure.repeatStart && (
        <g>
          <line className="bar" x1={2} x2={2} y1={top} y2={bottom} strokeWidth={4} />
          <line className="bar" x1={6.5} x2={6.5} y1={top} y2={bottom} strokeWidth={1.2} />
          {dots(11)}
        </g>
      )}
      {measure.repeatEnd && dots(width - 11)}
      {measure.repeatEnd || measure.barline === 'final' ? (
        <g>
          <line className="bar" x1={width - 6.5} x2={width - 6.5} y1={top} y2={bottom} strokeWidth={1.2} />
          <line className="bar" x1={width - 2} x2={width - 2} y1={top} y2={bottom} strokeWidth={4} />
        </g>
      ) : (
        <g>
          {measure.barline === 'double' && (
            <line className="bar" x1={width - 4.5} x2={width - 4.5} y1={top} y2={bottom} strokeWidth={1.2} />
          )}
          <line className="bar" x1={width - 0.6} x2={width - 0.6} y1={top} y2={bottom} strokeWidth={1.2} />
        </g>
      )}
    </>
  );
}

function Tuplets({ measure, x, y }: { measure: ScoreMeasure; x: (tick: number) => number; y: number }) {
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
          className="bar"
        />
        <text className="small" x={(from + to) / 2} y={y + 4}>
          {numbers.get(group)}
        </text>
      </g>
    );
  });
}

function Fingers({ measure, x, y }: { measure: ScoreMeasure; x: (tick: number) => number; y: number }) {
  return fingerRows(measure).map(row => (
    <text key={`${row.tick}-${row.low}`} className="finger" x={x(row.tick)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

function Plucks({
  measure,
  x,
  y,
  thumb,
}: {
  measure: ScoreMeasure;
  x: (tick: number) => number;
  y: number;
  /** The thumb in a lane of its own, below. */
  thumb: boolean;
}) {
  const rows = new Map<string, { start: number; low: boolean; text: string }>();
  for (const note of [...measure.notes].sort((a, b) => b.string - a.string)) {
    if (!note.pluck) continue;
    const sign = STROKES[note.pluck] ?? note.pluck;
    const low = thumb && note.pluck === 'p';
    const key = `${note.start} ${low}`;
    const row = rows.get(key);
    if (!row) rows.set(key, { start: note.start, low, text: sign });
    else if (!row.text.endsWith(sign)) row.text += sign;
  }
  return [...rows.entries()].map(([key, row]) => (
    <text key={key} className="finger" x={x(row.start)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

/** Degrees of the notes in their chords: the melody's above, all others below, thickest string first. */
function Degrees({
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
    <text key={key} className="degree" x={x(row.tick)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

function Counts({
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
  const ticks = new Set(measure.notes.map(n => n.start));
  for (
    let place = Math.ceil(measure.offset / step) * step;
    place < measure.offset + measure.ticks;
    place += step
  )
    ticks.add(place - measure.offset);
  return [...ticks].map(tick => {
    const syllable = countSyllable(measure.meter, tick + measure.offset);
    const beat = (tick + measure.offset) % pulseTicks(measure.meter) === 0;
    return (
      <text
        key={tick}
        className={`count${beat ? ' beat' : ''}${tick === playingTick ? ' said' : ''}`}
        x={x(tick)}
        y={y}
      >
        {syllable}
      </text>
    );
  });
}
