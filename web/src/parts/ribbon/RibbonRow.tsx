import { memo } from 'react';
import type { Arrangement, ScoreMeasure } from '#core/score';
import { useRested } from '../later';
import { Engraved, type Engraver } from './Engraved';
import { MeasureView } from './MeasureView';
import { degreesAt, difficultyAt, labelOf, lastGrip, linesOf, sameList, tiedOn } from './measureFacts';
import {
  type BarreLine,
  type Lanes,
  type LaneTops,
  type PhraseMark,
  type RingTail,
  type Row,
  STRING_GAP,
} from './measureLayout';
import styles from './Ribbon.module.css';

const NO_TAILS: RingTail[] = [];
const NO_BARRES: BarreLine[] = [];
const NO_PHRASES: readonly PhraseMark[] = [];

/** A place in an arrangement that a hand points at. */
export interface Cursor {
  /** Id of the measure. */
  measure: string;
  start: number;
  string: number;
}

/** What holds for every row. */
export interface Sheet {
  arrangement: Arrangement;
  /** The instrument, hand and tempo, as text: what is worked out for one holds for all that are the same. */
  player: string;
  scale: number;
  lanes: Lanes;
  tops: LaneTops;
  numbers: readonly number[];
  sections: ReadonlyMap<number, string>;
  phrases: ReadonlyMap<number, readonly PhraseMark[]>;
  staff: Engraver | undefined;
  namesWidth: number;
  onChoose: ((measure: string, start: number, string: number, extend: boolean) => void) | undefined;
  onDragNote: ((id: string, string: number) => void) | undefined;
}

interface RowProps {
  sheet: Sheet;
  row: Row;
  /** Written measures of the row, by place. */
  places: readonly number[];
  /** The measures around it that its ring depends on: while they stay the same it need not be drawn again. */
  around: readonly ScoreMeasure[];
  /** Ids of notes with a finding, by place in the row. */
  faulty: readonly string[];
  cursor: Cursor | undefined;
  range: { from: number; to: number } | undefined;
  playing: { measure: number; tick: number } | undefined;
  changed: ReadonlySet<number> | undefined;
  differing: ReadonlyMap<number, string> | undefined;
}

/** Whether a row would be drawn just the same. */
function sameRow(a: RowProps, b: RowProps): boolean {
  const { sheet: s, ...rest } = a;
  const { sheet: t, ...other } = b;
  return (
    sameList(rest.around, other.around) &&
    sameList(rest.places, other.places) &&
    sameList(rest.row.widths, other.row.widths) &&
    sameList(rest.faulty, other.faulty) &&
    rest.cursor === other.cursor &&
    rest.range?.from === other.range?.from &&
    rest.range?.to === other.range?.to &&
    rest.playing?.tick === other.playing?.tick &&
    rest.playing?.measure === other.playing?.measure &&
    rest.changed === other.changed &&
    rest.differing === other.differing &&
    s.scale === t.scale &&
    s.staff === t.staff &&
    s.namesWidth === t.namesWidth &&
    s.lanes === t.lanes &&
    s.tops === t.tops &&
    s.phrases === t.phrases &&
    s.sections.get(a.places[0]!) === t.sections.get(b.places[0]!) &&
    s.numbers[a.places[0]!] === t.numbers[b.places[0]!] &&
    s.arrangement.setup === t.arrangement.setup &&
    s.arrangement.hand === t.arrangement.hand &&
    s.arrangement.settings === t.arrangement.settings &&
    s.arrangement.quartersPerMinute === t.arrangement.quartersPerMinute &&
    s.onChoose === t.onChoose &&
    s.onDragNote === t.onDragNote
  );
}

/** One row; draws again only when what it shows has changed. */
export const RibbonRow = memo(function RibbonRow(props: RowProps) {
  const { sheet, row, places, faulty, cursor, range, playing, changed, differing } = props;
  const { arrangement, lanes, tops, scale, numbers, sections } = sheet;
  const { measures } = arrangement;
  const from = places[0]!;
  // Nothing is read out while keys are pressed, so what it says follows when they rest.
  const told = useRested(arrangement);
  const lines = linesOf(arrangement, places, props.around);
  return (
    <div className={styles.ribbonRow}>
      <LaneNames sheet={sheet} first={from} barres={lines.barres.some(list => list.length > 0)} />
      {row.widths.map((measureWidth, place) => {
        const index = places[place]!;
        const measure = measures[index]!;
        const here = cursor?.measure === measure.id;
        return (
          <MeasureView
            key={measure.id}
            measure={measure}
            index={index}
            number={numbers[index]!}
            width={measureWidth}
            scale={scale}
            lanes={lanes}
            tops={tops}
            sectionName={sections.get(index)}
            tails={lines.tails[index - from] ?? NO_TAILS}
            barres={lanes.barres ? (lines.barres[index - from] ?? NO_BARRES) : NO_BARRES}
            faulty={faulty[place]!}
            degrees={lanes.degrees ? degreesAt(arrangement, index, sheet.player) : ''}
            difficulty={lanes.difficulty ? difficultyAt(arrangement, index, sheet.player) : 0}
            staff={sheet.staff}
            setup={arrangement.setup}
            tiedOn={lanes.staff ? tiedOn(measures[index + 1]) : ''}
            label={labelOf(told, index, numbers[index]!)}
            endingStarts={
              measure.ending !== undefined && measures[index - 1]?.ending?.join() !== measure.ending.join()
            }
            phrases={sheet.phrases.get(index) ?? NO_PHRASES}
            roomAfter={row.widths.slice(place + 1).reduce((sum, own) => sum + own, 0)}
            lit={here}
            changed={changed?.has(index) ?? false}
            differing={differing?.get(index) ?? ''}
            heldBefore={lanes.pictures && place > 0 ? lastGrip(measures, index) : ''}
            inRange={range !== undefined && index >= range.from && index <= range.to}
            chosenStart={here ? cursor.start : undefined}
            chosenString={here ? cursor.string : undefined}
            playingTick={playing?.measure === index ? playing.tick : undefined}
            onChoose={sheet.onChoose}
            onDragNote={sheet.onDragNote}
          />
        );
      })}
    </div>
  );
}, sameRow);

/** What the lanes are, at the head of a row. */
function LaneNames({ sheet, first, barres }: { sheet: Sheet; first: number; barres: boolean }) {
  const { arrangement, tops, scale, lanes, namesWidth: NAMES } = sheet;
  const { setup, settings, measures } = arrangement;
  const x = NAMES - 10;
  const measure = measures[first]!;
  const meter = (m: ScoreMeasure | undefined) => m && `${m.meter.beats}/${m.meter.unit}`;
  return (
    <svg
      className={styles.laneNames}
      width={NAMES * scale}
      height={tops.height * scale}
      viewBox={`0 0 ${NAMES} ${tops.height}`}
      aria-hidden
    >
      {lanes.chords && measures.some(m => m.chords.length) && (
        <text x={x} y={tops.chords}>
          chords
        </text>
      )}
      {lanes.staff && (
        <StaffHead
          by={sheet.staff}
          of={measure.key}
          meter={measure.meter}
          withMeter={meter(measure) !== meter(measures[first - 1])}
          setup={setup}
          width={NAMES}
          top={tops.staff}
        />
      )}
      {setup.tuning.map((pitch, i) => (
        <text key={i} className={styles.pitch} x={x} y={tops.strings + i * STRING_GAP}>
          {i + 1} {pitch.replace(/-?\d/, '').replace('#', '♯').replace('b', '♭')}
        </text>
      ))}
      {lanes.barres && barres && (
        <text x={x} y={tops.barres + 3}>
          barre
        </text>
      )}
      {lanes.fingers && (
        <text x={x} y={tops.fingers + 3}>
          fingers
        </text>
      )}
      {lanes.plucks && (
        <text x={x} y={tops.plucks - 4}>
          {(settings?.school ?? '').startsWith('pick') ? 'pick' : 'pluck'}
        </text>
      )}
      {lanes.plucks && lanes.thumb && (
        <text x={x} y={tops.plucks + 12}>
          thumb
        </text>
      )}
      {lanes.degrees && (
        <text x={x} y={tops.degrees}>
          degree
        </text>
      )}
      {lanes.count && (
        <text x={x} y={tops.count - 4}>
          count
        </text>
      )}
      {lanes.difficulty && (
        <text x={x} y={tops.difficulty - 4}>
          hard
        </text>
      )}
      {lanes.remarks && (
        <text x={x} y={tops.remarks - 4}>
          remarks
        </text>
      )}
    </svg>
  );
}

/** Clef, key and meter; drawn anew only when they are others. */
const StaffHead = memo(function StaffHead({
  by,
  of,
  ...head
}: {
  by: Engraver | undefined;
  of: ScoreMeasure['key'];
  meter: ScoreMeasure['meter'];
  withMeter: boolean;
  setup: Arrangement['setup'];
  width: number;
  top: number;
}) {
  return <Engraved by={by} draw={(host, staff) => staff.drawStaffHead(host, { key: of, ...head })} />;
});
