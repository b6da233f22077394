import { useElementSize } from '@mantine/hooks';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, type ReactNode, type RefObject, useEffect, useMemo, useRef } from 'react';
import { type Finding, measureDifficulty } from '#core/check';
import { writtenOctaves } from '#core/instrument';
import { describeMeasure } from '#core/lesson';
import { keyFifths, spellMidi } from '#core/pitch';
import { type Arrangement, measureDegrees, noteMidi, phrasesOf, type ScoreMeasure } from '#core/score';
import { trackWindow } from '#core/track';
import { measureNumbers, type Section, sectionsOf } from '#core/tune';
import { Engraved, type Engraver, useEngraver } from './Engraved';
import { useRested } from './later';
import { MeasureView } from './MeasureView';
import {
  type BarreLine,
  barreLines,
  type ChordNames,
  type Lanes,
  type LaneTops,
  laneTops,
  mayBarre,
  type PhraseMark,
  phraseMarks,
  phraseRows,
  type RingTail,
  type Row,
  ringTails,
  rowsOf,
  type ShownLanes,
  type Spelling,
  STRING_GAP,
  staffRoom,
  USUAL_LANES,
  widestMeasure,
} from './measureLayout';
import { pictureHeight } from './ShapePicture';
import './Ribbon.css';

/** A place in an arrangement that a hand points at. */
export interface Cursor {
  /** Id of the measure. */
  measure: string;
  start: number;
  string: number;
}

interface RibbonProps {
  arrangement: Arrangement;
  names: ChordNames;
  findings?: readonly Finding[];
  cursor?: Cursor | undefined;
  /** Chosen measures, by place. */
  range?: { from: number; to: number } | undefined;
  playing?: { measure: number; tick: number } | undefined;
  /** Measures in which a proposal differs from the present. */
  changed?: ReadonlySet<number> | undefined;
  /** Ticks at which measures (by place) differ from what they are compared with, joined by spaces. */
  differing?: ReadonlyMap<number, string> | undefined;
  /** Written measures to show; all when left out. */
  show?: readonly number[];
  /** Size on paper: below 1 more measures go on a line. */
  scale?: number;
  /** Which lanes are shown. */
  shown?: ShownLanes;
  /** What scrolls: only rows in sight are drawn then. Without it all are, as on paper. */
  scroller?: RefObject<HTMLElement | null>;
  /** What stands under the last row of a paper. */
  foot?: ReactNode;
  onChoose?: (measure: string, start: number, string: number, extend: boolean) => void;
  onDragNote?: (id: string, string: number) => void;
}

const NAMES_WIDTH = 62;
/** Smallest size to which all shrinks so that the widest measure fits a narrow field. */
const SMALLEST = 0.86;
const ROW_GAP = 14;
/** Rows drawn beyond those in sight: a short tune is drawn whole. */
const OVERSCAN = 5;
/** Room that clef, key and meter take beside the names of the lanes. */
const headOfStaff = (measures: readonly ScoreMeasure[]) =>
  34 + 11 * measures.reduce((most, { key }) => Math.max(most, Math.abs(keyFifths(key))), 0);
const NO_STEPS: readonly number[] = [];
const LETTERS = 'CDEFGAB';
/** Something worked out of a measure, kept while the measure and what else it hangs on stay the same. */
function keptOf<T>(): (measure: ScoreMeasure, of: unknown, make: () => T) => T {
  const kept = new WeakMap<ScoreMeasure, { of: unknown; made: T }>();
  return (measure, of, make) => {
    const known = kept.get(measure);
    if (known && known.of === of) return known.made;
    const made = make();
    kept.set(measure, { of, made });
    return made;
  };
}

const pitchRange = keptOf<readonly [low: number, high: number]>();
/** The highest and lowest note as written, in letters from C0. */
function writtenSteps(measures: readonly ScoreMeasure[], setup: Arrangement['setup']): readonly number[] {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (const measure of measures) {
    const [lowest, highest] = pitchRange(measure, setup, () => {
      const pitches = measure.notes.map(note => noteMidi(setup, note));
      return [Math.min(...pitches), Math.max(...pitches)];
    });
    low = Math.min(low, lowest);
    high = Math.max(high, highest);
  }
  if (low > high) return NO_STEPS;
  return [low, high].map(midi => {
    const { step, octave } = spellMidi(midi + 12 * writtenOctaves(setup.instrument), 0);
    return octave * 7 + LETTERS.indexOf(step);
  });
}
/** Verses of words under measures. */
const versesIn = (measures: readonly ScoreMeasure[]) =>
  measures.reduce((most, m) => m.words.reduce((n, w) => Math.max(n, w.verses.length), most), 0);
/** Whether something stands over a measure, as an ending or a tempo does. */
const hasBars = ({ ending, marks, tempos, passes, free }: ScoreMeasure) =>
  Boolean(ending || marks || tempos || passes || free);
const NO_TAILS: RingTail[] = [];
const NO_BARRES: BarreLine[] = [];
const NO_PHRASES: readonly PhraseMark[] = [];
const NO_FINDINGS: readonly Finding[] = [];

const spoken = keptOf<string>();
/** What a measure says to a screen reader. */
function labelOf(arrangement: Arrangement, index: number, number: number): string {
  const name = number ? `Measure ${number}` : 'Pickup';
  const measure = arrangement.measures[index];
  if (!measure) return name;
  const said = spoken(measure, '', () =>
    describeMeasure(arrangement, index)
      .map(m => `${m.count ? `${m.count}: ` : ''}${m.pluck}`)
      .join(' '),
  );
  return `${name}. ${said}`;
}

/** What holds for every row. */
interface Sheet {
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
  onChoose: RibbonProps['onChoose'];
  onDragNote: RibbonProps['onDragNote'];
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

/** Places of measures whose key or meter is another than that of the one before. */
function signatureChanges(measures: readonly ScoreMeasure[]): number[] {
  return measures.flatMap(({ key, meter }, index) => {
    const before = measures[index - 1];
    if (!before) return [];
    const same =
      (before.key === key || keyFifths(before.key) === keyFifths(key)) &&
      before.meter.beats === meter.beats &&
      before.meter.unit === meter.unit;
    return same ? [] : [index];
  });
}

/** The arrangement as rows of measures. */
export const Ribbon = memo(function Ribbon(props: RibbonProps) {
  const { arrangement, names, cursor, range, playing, changed, differing, scroller } = props;
  const { shown = USUAL_LANES, findings = NO_FINDINGS, onChoose, onDragNote } = props;
  const staff = useEngraver(shown.staff, scroller !== undefined);
  const { ref, width } = useElementSize();
  const { measures, setup } = arrangement;
  const strings = setup.tuning.length;
  const indexes = useMemo(() => props.show ?? measures.map((_, i) => i), [props.show, measures]);
  const numbers = useMemo(() => measureNumbers(measures), [measures]);
  const sections = useMemo(
    () => new Map(sectionsOf(measures).map(s => [s.from, sectionTitle(measures, s)])),
    [measures],
  );
  const verses = useMemo(() => versesIn(measures), [measures]);
  const sounding: ChordNames = setup.capo === 0 && names === 'both' ? 'shape' : names;
  const endings = useMemo(() => measures.some(hasBars), [measures]);
  // A staff of another height would draw every measure anew: by its numbers it is the same.
  const steps = useMemo(
    () => (shown.staff ? writtenSteps(measures, setup) : NO_STEPS),
    [shown.staff, measures, setup],
  );
  const { above, below } = staffRoom(steps);
  const room = useMemo(() => ({ above, below }), [above, below]);
  const pictures = shown.chords && shown.pictures && measures.some(m => m.chords.some(c => c.frets));
  const barres = useMemo(() => shown.fingers && measures.some(mayBarre), [shown.fingers, measures]);
  // By what they say, since places are worked out anew with every edit.
  const named = JSON.stringify(phrasesOf(arrangement));
  const phrases = useMemo(() => phraseMarks(JSON.parse(named)), [named]);
  const bracketRows = useMemo(() => phraseRows([...phrases.values()].flat()), [phrases]);
  const spelling = useMemo((): Spelling => ({ names: sounding, pictures }), [sounding, pictures]);
  const lanes = useMemo(
    (): Lanes => ({
      ...shown,
      words: shown.words && verses > 0,
      names: sounding,
      staffRoom: room,
      pictureHeight: pictures ? pictureHeight(setup) : 0,
      pictures,
      strings,
      barres,
      endings,
      phrases: bracketRows,
    }),
    [verses, sounding, shown, room, strings, barres, endings, bracketRows, pictures, setup],
  );
  const tops = useMemo(() => laneTops(lanes, verses), [lanes, verses]);
  const namesWidth = useMemo(
    () => NAMES_WIDTH + (shown.staff ? headOfStaff(measures) : 0),
    [shown.staff, measures],
  );
  const wanted = props.scale ?? 1;
  const widest = useMemo(() => widestMeasure(measures, indexes, spelling), [measures, indexes, spelling]);
  const scale = Math.min(wanted, Math.max(SMALLEST * wanted, width / (widest + namesWidth)));
  // Key and meter stand at the head of a row of the staff: where they change a new one begins.
  const breaks = useMemo(
    () => new Set([...sections.keys(), ...(shown.staff ? signatureChanges(measures) : [])]),
    [sections, shown.staff, measures],
  );
  const rows = useMemo(
    () =>
      width > 0 ? rowsOf(measures, indexes, breaks, Math.max(200, width / scale - namesWidth), spelling) : [],
    [measures, indexes, breaks, width, scale, spelling, namesWidth],
  );
  const faultyNotes = useMemo(() => {
    const ids = new Map<string, string>();
    for (const finding of findings)
      if (finding.severity === 'error')
        ids.set(finding.measure, `${ids.get(finding.measure) ?? ' '}${finding.notes.join(' ')} `);
    return ids;
  }, [findings]);
  const { hand, quartersPerMinute } = arrangement;
  const player = useMemo(
    () => JSON.stringify([setup, hand, quartersPerMinute]),
    [setup, hand, quartersPerMinute],
  );
  const sheet = useMemo(
    (): Sheet => ({
      arrangement,
      player,
      scale,
      lanes,
      tops,
      numbers,
      sections,
      phrases,
      staff,
      namesWidth,
      onChoose,
      onDragNote,
    }),
    [
      arrangement,
      player,
      scale,
      lanes,
      tops,
      numbers,
      sections,
      phrases,
      staff,
      namesWidth,
      onChoose,
      onDragNote,
    ],
  );

  // On a screen all rows are as high as each other, so that they can be found; on paper each has the lanes that it needs.
  const sheets = useMemo(
    () =>
      scroller
        ? undefined
        : rows.map(({ from, widths }): Sheet => {
            const places = widths.map((_, i) => indexes[from + i]!);
            const within = places.map(index => measures[index]!);
            const ownVerses = versesIn(within);
            const own: Lanes = {
              ...lanes,
              words: lanes.words && ownVerses > 0,
              endings: within.some(hasBars),
              phrases: phraseRows(places.flatMap(index => phrases.get(index) ?? [])),
              barres: lanes.barres && within.some(mayBarre),
            };
            return { ...sheet, lanes: own, tops: laneTops(own, ownVerses) };
          }),
    [scroller, rows, measures, indexes, lanes, phrases, sheet],
  );

  const rowHeight = tops.height * scale + ROW_GAP;
  const rowsBox = useRef<HTMLDivElement>(null);
  const barHeight = scroller ? (rowsBox.current?.offsetTop ?? 0) : 0;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller?.current ?? null,
    estimateSize: () => rowHeight,
    overscan: OVERSCAN,
    enabled: scroller !== undefined,
    // What stands above the rows stays in sight while they scroll under it.
    scrollMargin: barHeight,
    scrollPaddingStart: barHeight,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows of another height have to be placed anew
  useEffect(() => virtual.measure(), [rowHeight, virtual]);

  const rowWith = (index: number) =>
    rows.findIndex(row => indexes[row.from]! <= index && index <= indexes[row.from + row.widths.length - 1]!);
  const at = cursor && measures.findIndex(m => m.id === cursor.measure);
  const cursorRow = at === undefined ? -1 : rowWith(at);
  const playingRow = playing ? rowWith(playing.measure) : -1;
  const inSight = playingRow >= 0 ? playingRow : cursorRow;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is gone to must be seen, also in a row that something else has scrolled away
  useEffect(() => {
    const room = (scroller?.current?.clientHeight ?? 0) - barHeight;
    // Of a row that is higher than the field its top is what must be seen.
    if (scroller && inSight >= 0)
      virtual.scrollToIndex(inSight, { align: rowHeight > room ? 'start' : 'auto' });
  }, [scroller, inSight, cursor, virtual, rowHeight, barHeight]);

  const draw = (row: Row, place: number) => {
    const places = row.widths.map((_, i) => indexes[row.from + i]!);
    const first = places[0]!;
    const last = places.at(-1)!;
    return (
      <RibbonRow
        key={row.from}
        sheet={sheets?.[place] ?? sheet}
        row={row}
        places={places}
        around={measures.slice(Math.max(0, first - AROUND), last + 1 + AROUND)}
        faulty={places.map(index => faultyNotes.get(measures[index]!.id) ?? ' ')}
        cursor={place === cursorRow ? cursor : undefined}
        range={range && range.from <= last && range.to >= first ? range : undefined}
        playing={place === playingRow ? playing : undefined}
        changed={changed}
        differing={differing}
      />
    );
  };
  return (
    <div ref={ref}>
      {scroller ? (
        <div ref={rowsBox} style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(
            item =>
              rows[item.index] && (
                <div
                  key={item.key}
                  style={{
                    position: 'absolute',
                    top: 0,
                    left: 0,
                    transform: `translateY(${item.start - barHeight}px)`,
                  }}
                >
                  {draw(rows[item.index]!, item.index)}
                </div>
              ),
          )}
        </div>
      ) : (
        <>
          {rows.slice(0, -1).map(draw)}
          <div className="with-foot">
            {rows.slice(-1).map(row => draw(row, rows.length - 1))}
            {props.foot}
          </div>
        </>
      )}
    </div>
  );
});

/** Measures before and after a row that the ring of its notes depends on. */
const AROUND = 3;

const sameList = <T,>(a: readonly T[], b: readonly T[]) =>
  a.length === b.length && a.every((x, i) => x === b[i]);

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

/** What a row shows of the hand's track, measure by measure. */
interface TrackLines {
  tails: RingTail[][];
  barres: BarreLine[][];
}

/** The lines of rows by their first measure, as long as the measures around them stay the same. */
const knownLines = new WeakMap<ScoreMeasure, { around: readonly ScoreMeasure[]; lines: TrackLines }>();

/** The lines that a measure was drawn with, and what they say. */
const drawnLines = new WeakMap<ScoreMeasure, { said: string; tails: RingTail[]; barres: BarreLine[] }>();

function linesOf(
  arrangement: Arrangement,
  from: number,
  to: number,
  around: readonly ScoreMeasure[],
): TrackLines {
  const first = arrangement.measures[from]!;
  const known = knownLines.get(first);
  if (known && sameList(known.around, around)) return known.lines;
  const measures = arrangement.measures.slice(from, to + 1);
  const { notes, holds } = trackWindow(arrangement, from, to);
  const tails = ringTails(measures, notes);
  const barres = barreLines(measures, holds);
  // A measure whose lines say the same keeps them, so that it need not be drawn again.
  for (const [i, measure] of measures.entries()) {
    const said = JSON.stringify([tails[i], barres[i]]);
    const own = drawnLines.get(measure);
    if (own?.said === said) {
      tails[i] = own.tails;
      barres[i] = own.barres;
    } else drawnLines.set(measure, { said, tails: tails[i]!, barres: barres[i]! });
  }
  const lines = { tails, barres };
  knownLines.set(first, { around, lines });
  return lines;
}

/** One row; draws again only when what it shows has changed. */
const RibbonRow = memo(function RibbonRow(props: RowProps) {
  const { sheet, row, places, faulty, cursor, range, playing, changed, differing } = props;
  const { arrangement, lanes, tops, scale, numbers, sections } = sheet;
  const { measures } = arrangement;
  const from = places[0]!;
  const to = places.at(-1)!;
  // Nothing is read out while keys are pressed, so what it says follows when they rest.
  const told = useRested(arrangement);
  const lines = linesOf(arrangement, from, to, props.around);
  return (
    <div className="ribbon-row">
      <LaneNames sheet={sheet} first={from} />
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

/** "B", or "B: as A, but its end" where it is played so. */
function sectionTitle(measures: readonly ScoreMeasure[], { name, from }: Section): string {
  const as = measures[from]?.section?.as;
  const other = as && measures.find(measure => measure.section?.id === as)?.section?.name;
  return other ? `${name}: as ${other}, but its end` : name;
}

const effort = keptOf<number>();
/** How hard a measure is for a hand at a tempo, which `player` says. */
const difficultyAt = (arrangement: Arrangement, index: number, player: string): number =>
  effort(arrangement.measures[index]!, player, () => measureDifficulty(arrangement, index).total);

const degreesIn = keptOf<string>();
/** The degree of each note of a measure in its chord, joined by spaces. */
function degreesAt(arrangement: Arrangement, index: number, player: string): string {
  const { measures } = arrangement;
  let before = index - 1;
  while (before >= 0 && !measures[before]!.chords.length) before -= 1;
  const held = measures[before]?.chords.at(-1)?.sounding ?? '';
  return degreesIn(measures[index]!, `${held} ${player}`, () => measureDegrees(arrangement, index).join(' '));
}

/** The grip of the last chord before a measure, as text. */
function lastGrip(measures: readonly ScoreMeasure[], index: number): string {
  const before = measures.slice(0, index).findLast(measure => measure.chords.length);
  return before?.chords.at(-1)?.frets?.join() ?? '';
}

/** Ids of the notes out of which those of a measure sound on. */
const tiedOn = (measure: ScoreMeasure | undefined) =>
  (measure?.notes ?? []).flatMap(note => (note.tie === undefined ? [] : [note.tie])).join(' ');

/** What the lanes are, at the head of a row. */
function LaneNames({ sheet, first }: { sheet: Sheet; first: number }) {
  const { arrangement, tops, scale, lanes, namesWidth: NAMES } = sheet;
  const { setup, settings, measures } = arrangement;
  const x = NAMES - 10;
  const measure = measures[first]!;
  const meter = (m: ScoreMeasure | undefined) => m && `${m.meter.beats}/${m.meter.unit}`;
  return (
    <svg
      className="lane-names"
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
        <text key={i} className="pitch" x={x} y={tops.strings + i * STRING_GAP}>
          {i + 1} {pitch.replace(/-?\d/, '').replace('#', '♯').replace('b', '♭')}
        </text>
      ))}
      {lanes.barres && (
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
