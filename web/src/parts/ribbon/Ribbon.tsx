import { useElementSize } from '@mantine/hooks';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  memo,
  type ReactNode,
  type RefObject,
  useContext,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
} from 'react';
import type { Finding } from '#core/check';
import { keyFifths } from '#core/pitch';
import { type Arrangement, phrasesOf, type ScoreMeasure } from '#core/score';
import { sameMeter } from '#core/time';
import { measureNumbers, type Section, sectionsOf } from '#core/tune';
import paperStyles from '../paper/paper.module.css';
import { PrintScale } from '../printScale';
import { pictureHeight } from '../shape/ShapePicture';
import { useEngraver } from './Engraved';
import { aroundRow, linesOf, NO_STEPS, writtenSteps } from './measureFacts';
import {
  type ChordNames,
  type Lanes,
  laneTops,
  phraseMarks,
  phraseRows,
  type Row,
  rowsOf,
  type ShownLanes,
  type Spelling,
  staffRoom,
  USUAL_LANES,
  widestMeasure,
} from './measureLayout';
import { type Cursor, RibbonRow, type Sheet } from './RibbonRow';

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
/** Verses of words under measures. */
const versesIn = (measures: readonly ScoreMeasure[]) =>
  measures.reduce((most, m) => m.words.reduce((n, w) => Math.max(n, w.verses.length), most), 0);
/** Whether something stands over a measure, as an ending or a tempo does. */
const hasBars = ({ ending, marks, tempos, passes, free }: ScoreMeasure) =>
  Boolean(ending || marks || tempos || passes || free);
const NO_FINDINGS: readonly Finding[] = [];

/** Places of measures whose key or meter is another than that of the one before. */
function signatureChanges(measures: readonly ScoreMeasure[]): number[] {
  return measures.flatMap(({ key, meter }, index) => {
    const before = measures[index - 1];
    if (!before) return [];
    const same =
      (before.key === key || keyFifths(before.key) === keyFifths(key)) && sameMeter(before.meter, meter);
    return same ? [] : [index];
  });
}

/** The arrangement as rows of measures. */
export const Ribbon = memo(function Ribbon(props: RibbonProps) {
  const { arrangement, names, cursor, range, playing, changed, differing, scroller } = props;
  const { shown = USUAL_LANES, findings = NO_FINDINGS, onChoose, onDragNote } = props;
  const staff = useEngraver(shown.staff, scroller !== undefined);
  const { ref, width: measured } = useElementSize();
  const width = measured * useContext(PrintScale);
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
  // Kept whether there is a barre or not: with the first one typed all rows would move under the eye.
  const barres = shown.fingers;
  // By what they say, since places are worked out anew with every edit.
  const named = JSON.stringify(phrasesOf(arrangement));
  const phrases = useMemo(() => phraseMarks(JSON.parse(named)), [named]);
  const bracketRows = useMemo(() => phraseRows([...phrases.values()].flat()), [phrases]);
  const { plucks, thumb } = shown;
  const spelling = useMemo(
    (): Spelling => ({ names: sounding, pictures, plucks, thumb }),
    [sounding, pictures, plucks, thumb],
  );
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
              barres: lanes.barres && linesOf(arrangement, places).barres.some(list => list.length > 0),
            };
            return { ...sheet, lanes: own, tops: laneTops(own, ownVerses) };
          }),
    [scroller, rows, arrangement, measures, indexes, lanes, phrases, sheet],
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
  const near = virtual.getVirtualItems();
  // Rows that come near are drawn behind the picture of the key that brought them near, where those in sight are there.
  const before = useDeferredValue(near);
  const inView = virtual.range;
  const isThere =
    inView !== null &&
    before.length > 0 &&
    before[0]!.index <= inView.startIndex &&
    before.at(-1)!.index >= inView.endIndex &&
    before[0]!.size === near[0]?.size;

  const rowWith = (index: number) =>
    rows.findIndex(row => indexes[row.from]! <= index && index <= indexes[row.from + row.widths.length - 1]!);
  const at = cursor && measures.findIndex(m => m.id === cursor.measure);
  const cursorRow = at === undefined ? -1 : rowWith(at);
  const playingRow = playing ? rowWith(playing.measure) : -1;
  const inSight = playingRow >= 0 ? playingRow : cursorRow;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is gone to must be seen, also in a row that something else has scrolled away
  useEffect(() => {
    if (!scroller || inSight < 0) return;
    // As last measured: to ask the field itself would lay everything out once more for each key.
    const room = (virtual.scrollRect?.height ?? 0) - barHeight;
    // Of a row that is higher than the field its top is what must be seen.
    const align = rowHeight > room ? 'start' : 'auto';
    if (virtual.getOffsetForIndex(inSight, align)?.[1] !== 'auto') virtual.scrollToIndex(inSight, { align });
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
        around={aroundRow(measures, places)}
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
          {(isThere ? before : near).map(
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
          <div className={paperStyles.withFoot}>
            {rows.slice(-1).map(row => draw(row, rows.length - 1))}
            {props.foot}
          </div>
        </>
      )}
    </div>
  );
});

/** "B", or "B: as A, but its end" where it is played so. */
function sectionTitle(measures: readonly ScoreMeasure[], { name, from }: Section): string {
  const as = measures[from]?.section?.as;
  const other = as && measures.find(measure => measure.section?.id === as)?.section?.name;
  return other ? `${name}: as ${other}, but its end` : name;
}
