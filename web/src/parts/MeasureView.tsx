import { memo, type PointerEvent } from 'react';
import { chordLabel } from '#core/chord';
import type { ScoreMeasure, ScoreNote } from '#core/score';
import { countSyllable, isCompound, pulseTicks, TICKS_PER_WHOLE } from '#core/time';
import { type Lanes, type LaneTops, nearestMoment, type RingTail, STRING_GAP, xAt } from './measureLayout';
import { Peg } from './Peg';

export interface MeasureProps {
  measure: ScoreMeasure;
  index: number;
  number: number;
  width: number;
  scale: number;
  lanes: Lanes;
  tops: LaneTops;
  sectionName: string | undefined;
  tails: readonly RingTail[];
  /** Ids of notes with a finding, joined by spaces. */
  faulty: string;
  /** Degree of each note in its chord, in the order of the notes, joined by spaces. */
  degrees: string;
  label: string;
  endingStarts: boolean;
  lit: boolean;
  inRange: boolean;
  /** Differs from the present in a proposal. */
  changed: boolean;
  chosenStart: number | undefined;
  chosenString: number | undefined;
  playingTick: number | undefined;
  onChoose?: ((measure: number, start: number, string: number, extend: boolean) => void) | undefined;
  onDragNote?: ((id: string, string: number) => void) | undefined;
}

const STROKES: Record<string, string> = { down: '↓', up: '↑' };

/** One measure with its lanes: words, chords, strings, fingers, plucks, count. Draws again only when it changed. */
export const MeasureView = memo(function MeasureView(props: MeasureProps) {
  const { measure, width, lanes, tops } = props;
  const x = (tick: number) => xAt(measure, width, tick);
  const y = (string: number) => tops.strings + (string - 1) * STRING_GAP;
  const top = y(1);
  const bottom = y(lanes.strings);

  const place = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const string = Math.round((event.clientY - box.top - tops.strings) / STRING_GAP) + 1;
    return {
      start: nearestMoment(measure, width, event.clientX - box.left),
      string: Math.min(lanes.strings, Math.max(1, string)),
    };
  };

  const interactive = props.onChoose && {
    onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
      const { start, string } = place(event);
      props.onChoose?.(props.index, start, string, event.shiftKey);
      const note = measure.notes.find(n => n.start === start && n.string === string);
      if (note && props.onDragNote) {
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.dataset.dragging = note.id;
      }
    },
    onPointerUp: (event: PointerEvent<SVGSVGElement>) => {
      const id = event.currentTarget.dataset.dragging;
      delete event.currentTarget.dataset.dragging;
      const { string } = place(event);
      const note = measure.notes.find(n => n.id === id);
      if (id && note && note.string !== string) props.onDragNote?.(id, string);
    },
  };

  return (
    <svg
      className="measure"
      width={width * props.scale}
      height={tops.height * props.scale}
      viewBox={`0 0 ${width} ${tops.height}`}
      role="img"
      aria-label={props.changed ? `Proposed. ${props.label}` : props.label}
      data-measure={props.index}
      {...interactive}
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
      <Head {...props} />
      {lanes.words &&
        measure.words.map(({ start, verses }) =>
          verses.map((syllable, verse) => (
            <text key={`${start}-${verse}`} className="word" x={x(start) - 6} y={tops.words + verse * 20}>
              {syllable}
            </text>
          )),
        )}
      {measure.chords.map(chord => (
        <g key={chord.start}>
          <text className="chord" x={x(chord.start) - 6} y={tops.chords + 6}>
            {chordLabel(lanes.chords === 'sounding' ? chord.sounding : chord.shape)}
          </text>
          {lanes.chords === 'both' && (
            <text className="sounding" x={x(chord.start) - 6} y={tops.chords + 23}>
              sounds {chordLabel(chord.sounding)}
            </text>
          )}
        </g>
      ))}
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
      <Barlines measure={measure} width={width} top={top} bottom={bottom} />
      <Tuplets measure={measure} x={x} y={top - 16} />
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
      <Fingers measure={measure} x={x} y={tops.fingers} />
      {lanes.plucks && <Plucks measure={measure} x={x} y={tops.plucks} />}
      {lanes.degrees && <Degrees measure={measure} names={props.degrees} x={x} y={tops.degrees} />}
      <Counts measure={measure} x={x} y={tops.count} playingTick={props.playingTick} />
    </svg>
  );
});

/** One accent for all that is struck together, over its thinnest string. */
function isAccented(measure: ScoreMeasure, note: ScoreNote): boolean {
  return (
    note.accent === true &&
    !measure.notes.some(n => n.accent && n.start === note.start && n.string < note.string)
  );
}

/** Where the note before on a string stands, if one sounds up to this one; off the left edge for the measure before. */
function beforeOn(measure: ScoreMeasure, note: ScoreNote, x: (tick: number) => number): number | undefined {
  if (!note.into) return undefined;
  if (note.start === 0) return 0;
  const before = measure.notes.find(n => n.string === note.string && n.start + n.ticks === note.start);
  return before && x(before.start);
}

function Head({ measure, number, tops, width, sectionName, endingStarts }: MeasureProps) {
  return (
    <>
      {number > 0 && (
        <text className="small" x={9} y={tops.strings - 24}>
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
            d={`M${endingStarts ? `2 ${tops.head + 10}V` : `0 `}${tops.head - 6}H${width - 4}`}
            fill="none"
            className="bar"
          />
          {endingStarts && (
            <text className="small" x={14} y={tops.head + 7}>
              {measure.ending.join(' ')}.
            </text>
          )}
        </g>
      )}
    </>
  );
}

function Barlines({
  measure,
  width,
  top,
  bottom,
}: {
  measure: ScoreMeasure;
  width: number;
  top: number;
  bottom: number;
}) {
  const middle = (top + bottom) / 2;
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
  const groups = new Map<number, ScoreNote[]>();
  for (const note of measure.notes)
    if (note.tuplet) groups.set(note.tuplet.group, [...(groups.get(note.tuplet.group) ?? []), note]);
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
          {notes[0]!.tuplet!.actual}
        </text>
      </g>
    );
  });
}

/** Held notes of one voice from which on they are a strum. */
const STRUM = 3;

function Fingers({ measure, x, y }: { measure: ScoreMeasure; x: (tick: number) => number; y: number }) {
  const rows = new Map<string, { tick: number; low: boolean; text: string; notes: number }>();
  for (const note of [...measure.notes].sort((a, b) => b.string - a.string)) {
    if (!note.finger || note.tied) continue;
    const low = note.voice !== 'melody';
    const key = `${note.start}-${low}`;
    const row = rows.get(key);
    if (!row) rows.set(key, { tick: note.start, low, text: String(note.finger), notes: 1 });
    else {
      row.notes += 1;
      if (!row.text.endsWith(String(note.finger))) row.text += note.finger;
    }
  }
  // The hand holds a strummed shape until the chord changes: its fingers are told once.
  let strummed = false;
  const told = [...rows.entries()].filter(([, row]) => {
    if (row.notes < STRUM) return true;
    const again = strummed && !measure.chords.some(c => c.start === row.tick);
    strummed = true;
    return !again;
  });
  return told.map(([key, row]) => (
    <text key={key} className="finger" x={x(row.tick)} y={y + (row.low ? 16 : 0)}>
      {row.text}
    </text>
  ));
}

function Plucks({ measure, x, y }: { measure: ScoreMeasure; x: (tick: number) => number; y: number }) {
  const byStart = new Map<number, string>();
  for (const note of [...measure.notes].sort((a, b) => b.string - a.string)) {
    if (!note.pluck) continue;
    const sign = STROKES[note.pluck] ?? note.pluck;
    const before = byStart.get(note.start) ?? '';
    if (!before.endsWith(sign)) byStart.set(note.start, before + sign);
  }
  return [...byStart.entries()].map(([start, text]) => (
    <text key={start} className="finger" x={x(start)} y={y}>
      {text}
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
    if (note.tied || note.dead) continue;
    const low = note.voice !== 'melody';
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
