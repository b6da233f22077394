import { useElementSize } from '@mantine/hooks';
import { useMemo, useRef } from 'react';
import type { Finding } from '#core/check';
import { describeMeasure } from '#core/lesson';
import { type Arrangement, measureDegrees, perform, type ScoreMeasure } from '#core/score';
import { measureNumbers, sectionsOf } from '#core/tune';
import { MeasureView } from './MeasureView';
import { type ChordNames, laneTops, type RingTail, ringTails, rowsOf, STRING_GAP } from './measureLayout';

/** A place in an arrangement that a hand points at. */
export interface Cursor {
  measure: number;
  start: number;
  string: number;
}

interface RibbonProps {
  arrangement: Arrangement;
  names: ChordNames;
  findings?: readonly Finding[];
  cursor?: Cursor | undefined;
  range?: { from: number; to: number } | undefined;
  playing?: { measure: number; tick: number } | undefined;
  /** Measures in which a proposal differs from the present. */
  changed?: ReadonlySet<number> | undefined;
  /** Written measures to show; all when left out. */
  show?: readonly number[];
  /** Size on paper: below 1 more measures go on a line. */
  scale?: number;
  /** Shows what each note is in its chord. */
  degrees?: boolean;
  onChoose?: (measure: number, start: number, string: number, extend: boolean) => void;
  onDragNote?: (id: string, string: number) => void;
}

const NAMES_WIDTH = 62;
const NO_TAILS: RingTail[] = [];

/** Keeps the parts of a list that have not changed, so that what shows them need not draw again. */
function useStableParts<T>(parts: T[]): T[] {
  const before = useRef<{ texts: string[]; parts: T[] }>({ texts: [], parts: [] });
  const texts = parts.map(part => JSON.stringify(part));
  const stable = parts.map((part, i) =>
    texts[i] === before.current.texts[i] ? before.current.parts[i]! : part,
  );
  before.current = { texts, parts: stable };
  return stable;
}

/** What each measure says to a screen reader; kept while the measure stays the same. */
const labels = new WeakMap<ScoreMeasure, string>();
function labelOf(arrangement: Arrangement, index: number, number: number): string {
  const measure = arrangement.measures[index]!;
  let label = labels.get(measure);
  if (label === undefined) {
    const moments = describeMeasure(arrangement, index).map(
      m => `${m.count ? `${m.count}: ` : ''}${m.pluck}`,
    );
    label = `${number ? `Measure ${number}` : 'Pickup'}. ${moments.join(' ')}`;
    labels.set(measure, label);
  }
  return label;
}

/** The arrangement as rows of measures. */
export function Ribbon(props: RibbonProps) {
  const { arrangement, names, cursor, range, playing, scale = 1, degrees: showDegrees = false } = props;
  const { ref, width } = useElementSize();
  const { measures } = arrangement;
  const strings = arrangement.setup.tuning.length;
  const indexes = useMemo(() => props.show ?? measures.map((_, i) => i), [props.show, measures]);
  const numbers = useMemo(() => measureNumbers(measures), [measures]);
  const sections = useMemo(() => new Map(sectionsOf(measures).map(s => [s.from, s.name])), [measures]);
  const sectionStarts = useMemo(() => new Set(sections.keys()), [sections]);
  const verses = useMemo(
    () => Math.max(0, ...measures.flatMap(m => m.words.map(w => w.verses.length))),
    [measures],
  );
  const sounding: ChordNames = arrangement.setup.capo === 0 && names === 'both' ? 'shape' : names;
  const hasChords = measures.some(m => m.chords.length);
  const lanes = useMemo(
    () => ({ words: verses > 0, chords: sounding, plucks: true, degrees: showDegrees, strings }),
    [verses, sounding, showDegrees, strings],
  );
  const tops = useMemo(() => laneTops(lanes, verses), [lanes, verses]);
  const tails = useStableParts(
    useMemo(
      () =>
        ringTails(
          measures,
          perform(
            arrangement,
            measures.map((_, i) => i),
          ),
        ),
      [arrangement, measures],
    ),
  );
  const degrees = useMemo(
    () => (showDegrees ? measures.map((_, i) => measureDegrees(arrangement, i).join(' ')) : []),
    [showDegrees, arrangement, measures],
  );
  const faulty = useMemo(() => {
    const ids = measures.map(() => ' ');
    for (const finding of props.findings ?? [])
      if (finding.severity === 'error') for (const id of finding.notes) ids[finding.measure] += `${id} `;
    return ids;
  }, [props.findings, measures]);
  const rows = useMemo(
    () =>
      width > 0 ? rowsOf(measures, indexes, sectionStarts, Math.max(200, width / scale - NAMES_WIDTH)) : [],
    [measures, indexes, sectionStarts, width, scale],
  );

  return (
    <div ref={ref}>
      {rows.map(row => (
        <div className="ribbon-row" key={row.from}>
          <svg
            className="lane-names"
            width={NAMES_WIDTH * scale}
            height={tops.height * scale}
            viewBox={`0 0 ${NAMES_WIDTH} ${tops.height}`}
            aria-hidden
          >
            {hasChords && (
              <text x={NAMES_WIDTH - 10} y={tops.chords}>
                chords
              </text>
            )}
            {arrangement.setup.tuning.map((pitch, i) => (
              <text key={i} className="pitch" x={NAMES_WIDTH - 10} y={tops.strings + i * STRING_GAP}>
                {i + 1} {pitch.replace(/-?\d/, '').replace('#', '♯').replace('b', '♭')}
              </text>
            ))}
            <text x={NAMES_WIDTH - 10} y={tops.fingers + 3}>
              fingers
            </text>
            <text x={NAMES_WIDTH - 10} y={tops.plucks - 4}>
              {(arrangement.settings?.school ?? '').startsWith('pick') ? 'pick' : 'pluck'}
            </text>
            {showDegrees && (
              <text x={NAMES_WIDTH - 10} y={tops.degrees}>
                degree
              </text>
            )}
            <text x={NAMES_WIDTH - 10} y={tops.count - 4}>
              count
            </text>
          </svg>
          {row.widths.map((measureWidth, place) => {
            const index = indexes[row.from + place]!;
            const measure = measures[index]!;
            const here = cursor?.measure === index;
            return (
              <MeasureView
                key={index}
                measure={measure}
                index={index}
                number={numbers[index]!}
                width={measureWidth}
                scale={scale}
                lanes={lanes}
                tops={tops}
                sectionName={sections.get(index)}
                tails={tails[index] ?? NO_TAILS}
                faulty={faulty[index]!}
                degrees={degrees[index] ?? ''}
                label={labelOf(arrangement, index, numbers[index]!)}
                endingStarts={
                  measure.ending !== undefined &&
                  measures[index - 1]?.ending?.join() !== measure.ending.join()
                }
                lit={here}
                changed={props.changed?.has(index) ?? false}
                inRange={range !== undefined && index >= range.from && index <= range.to}
                chosenStart={here ? cursor.start : undefined}
                chosenString={here ? cursor.string : undefined}
                playingTick={playing?.measure === index ? playing.tick : undefined}
                onChoose={props.onChoose}
                onDragNote={props.onDragNote}
              />
            );
          })}
        </div>
      ))}
    </div>
  );
}
