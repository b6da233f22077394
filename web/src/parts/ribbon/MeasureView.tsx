import { useDrag } from '@use-gesture/react';
import { memo, type PointerEvent } from 'react';
import { chordLabel, NO_CHORD } from '#core/chord';
import type { Setup } from '#core/instrument';
import { remarksOf, type ScoreMeasure } from '#core/score';
import type { Engraver } from './Engraved';
import {
  Barlines,
  Barres,
  beforeOn,
  Counts,
  Degrees,
  Fingers,
  Head,
  isAccented,
  MeasureStaff,
  PhraseBrackets,
  Pictures,
  Remarks,
  Signs,
  Strokes,
  Tuplets,
} from './measureLanes';
import {
  type BarreLine,
  fingerRows,
  type Lanes,
  type LaneTops,
  nearestMoment,
  type PhraseMark,
  pluckRows,
  RHYTHM_ROOM,
  type RingTail,
  STRING_GAP,
  xAt,
} from './measureLayout';
import { Peg } from './Peg';
import { Rhythm } from './Rhythm';
import styles from './Ribbon.module.css';

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
  barres: readonly BarreLine[];
  /** Ids of notes with a finding, joined by spaces. */
  faulty: string;
  /** Degree of each note in its chord, in the order of the notes, joined by spaces. */
  degrees: string;
  /** How hard it is; 0 where that is not shown. */
  difficulty: number;
  label: string;
  endingStarts: boolean;
  /** Brackets of named passages over it. */
  phrases: readonly PhraseMark[];
  /** Pixels of the row behind it, before it is scaled: how far a name may run on. */
  roomAfter: number;
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
  const drag = useDrag<PointerEvent>(
    ({ first, last, canceled, currentTarget, xy, movement, shiftKey, memo }) => {
      if (first) {
        const { start, string } = place(currentTarget as Element, xy);
        props.onChoose?.(measure.id, start, string, shiftKey);
        return measure.notes.find(n => n.start === start && n.string === string)?.id;
      }
      const note = last && !canceled ? measure.notes.find(n => n.id === memo) : undefined;
      // By how far the pointer went: a row that was half hidden comes into view under one that stands still.
      const strings = Math.round(movement[1] / props.scale / STRING_GAP);
      const string = note && Math.min(lanes.strings, Math.max(1, note.string + strings));
      if (note && string && note.string !== string) props.onDragNote?.(note.id, string);
      return memo;
    },
  );

  return (
    <svg
      className={styles.measure}
      width={width * props.scale}
      height={tops.height * props.scale}
      viewBox={`0 0 ${width} ${tops.height}`}
      role="img"
      aria-label={props.changed ? `Proposed. ${props.label}` : props.label}
      data-measure={props.index}
      {...(props.onChoose && drag())}
    >
      {props.inRange && (
        <rect className={styles.inRange} x={0} y={2} width={width} height={tops.height - 4} />
      )}
      {props.lit && (
        <rect className={styles.lamp} x={1} y={2} width={width - 2} height={tops.height - 4} rx={8} />
      )}
      {props.changed && (
        <>
          <rect className={styles.changed} x={3} y={0} width={width - 6} height={5} rx={2.5} />
          <text className={styles.small} x={width - 22} y={15}>
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
            className={styles.differing}
            x={x(Number(start)) - 15}
            y={top - 16}
            width={30}
            height={bottom - top + 32}
            rx={8}
          />
        ))}
      {props.playingTick !== undefined && (
        <rect
          className={styles.now}
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
        barres={props.barres}
        faulty={props.faulty}
        degrees={props.degrees}
        difficulty={props.difficulty}
        endingStarts={props.endingStarts}
        phrases={props.phrases}
        roomAfter={props.roomAfter}
        heldBefore={props.heldBefore}
      />
      {props.chosenStart !== undefined && props.chosenString !== undefined && (
        <rect
          className={styles.chosen}
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
export type BodyProps = Pick<
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
  | 'barres'
  | 'faulty'
  | 'degrees'
  | 'difficulty'
  | 'endingStarts'
  | 'phrases'
  | 'roomAfter'
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
      <PhraseBrackets {...props} />
      <Signs {...props} />
      {lanes.words &&
        measure.words.map(({ start, verses }) =>
          verses.map((syllable, verse) => (
            <text
              key={`${start}-${verse}`}
              className={styles.word}
              x={x(start) - 6}
              y={tops.words + verse * 20}
            >
              {syllable}
            </text>
          )),
        )}
      {lanes.chords &&
        measure.chords.map(chord => (
          <g key={chord.start}>
            <text className={styles.chord} x={x(chord.start) - 6} y={tops.chords + 6}>
              {chordLabel(lanes.names === 'sounding' ? chord.sounding : chord.shape)}
            </text>
            {lanes.names === 'both' && chord.sounding !== NO_CHORD && (
              <text className={styles.sounding} x={x(chord.start) - 6} y={tops.chords + 23}>
                sounds {chordLabel(chord.sounding)}
              </text>
            )}
          </g>
        ))}
      {lanes.pictures && <Pictures {...props} x={x} />}
      {lanes.staff && <MeasureStaff {...props} x={x} />}
      {lanes.rhythm && (
        <Rhythm
          measure={measure}
          long={lanes.rests ? 'rests' : 'ties'}
          x={x}
          above={tops.rhythmAbove}
          below={tops.rhythmBelow}
        />
      )}
      {Array.from({ length: lanes.strings }, (_, i) => (
        <line
          key={i}
          className={styles.string}
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
          className={styles.ring}
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
          className={styles.remark}
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
      <Barres barres={props.barres} width={width} x={x} y={tops.barres} />
      {lanes.fingers && <Fingers rows={fingerRows(measure)} x={x} y={tops.fingers} />}
      {lanes.plucks && <Fingers rows={pluckRows(measure, lanes.thumb)} x={x} y={tops.plucks} />}
      {lanes.degrees && <Degrees measure={measure} names={props.degrees} x={x} y={tops.degrees} />}
      {lanes.difficulty && (
        <>
          <rect
            className={styles.difficulty}
            x={4}
            y={tops.difficulty - 13}
            width={Math.min(width - 40, (width - 40) * (props.difficulty / HARDEST))}
            height={9}
            rx={3}
          />
          <text className={styles.small} x={width - 16} y={tops.difficulty - 4}>
            {props.difficulty.toFixed(1)}
          </text>
        </>
      )}
      {lanes.remarks && <Remarks {...props} />}
    </>
  );
});
