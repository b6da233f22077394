import { Fragment, useMemo } from 'react';
import { chordLabel, parseChord, transposeChord } from '#core/chord';
import { keyFifths, transposeKey } from '#core/pitch';
import { beatsPerMinute } from '#core/time';
import { type SheetCell, sheetOf, type Tune } from '#core/tune';
import type { ChordNames } from '../ribbon/measureLayout';
import { StrumArrows } from '../shape/StrumArrows';
import styles from './WordSheet.module.css';

interface WordSheetProps {
  /** As it sounds. */
  tune: Tune;
  capo: number;
  names: ChordNames;
  /** Strums of sections that have their own, by id. */
  strums?: Readonly<Record<string, string>> | undefined;
  strings?: number;
  /** What the names of parts are as headings: under what stands over the sheet. */
  heading?: 'h2' | 'h3';
}

/** Words with the chords over them, part by part as they are played; parts without words as measures of chords. */
export function WordSheet({
  tune,
  capo,
  names,
  strums = {},
  strings = 6,
  heading: Heading = 'h3',
}: WordSheetProps) {
  const parts = useMemo(() => sheetOf(tune), [tune]);
  const fifths = keyFifths(transposeKey(tune.key, -capo));
  const label = (symbol: string) => {
    const chord = parseChord(symbol);
    if (!chord) return symbol;
    const sounding = chordLabel(chord.symbol);
    const shape = chordLabel(transposeChord(chord, -capo, fifths).symbol);
    if (names === 'sounding' || !capo) return sounding;
    return names === 'both' ? (
      <>
        {shape} <small>{sounding}</small>
      </>
    ) : (
      shape
    );
  };
  return (
    <div className={styles.wordSheet}>
      {parts.map((part, i) => (
        <section key={i} className={styles.part}>
          <Heading>
            {part.section.name}
            {part.times > 1 && ` ×${part.times}`}
            {part.again && <small> as before</small>}
            {part.quartersPerMinute !== undefined && (
              <small> {Math.round(beatsPerMinute(tune.meter, part.quartersPerMinute))} beats a minute</small>
            )}
          </Heading>
          {strums[part.section.id] && !part.again && (
            <StrumArrows pattern={strums[part.section.id]!} meter={tune.meter} strings={strings} />
          )}
          {part.lines.map((line, j) => (
            <Fragment key={j}>
              {line.some(cell => cell.words || cell.lead) ? (
                <div className={styles.wordsLine}>
                  {line.map((cell, k) => (
                    <Sung
                      key={k}
                      cell={cell}
                      last={k === line.length - 1}
                      chord={cell.chord && label(cell.chord.symbol)}
                    />
                  ))}
                </div>
              ) : (
                <div className={styles.bars}>
                  {measuresIn(line).map((cells, k) => (
                    <span key={k}>
                      {cells.map((cell, l) => (
                        <span key={l}>{cell.chord ? label(cell.chord.symbol) : '–'}</span>
                      ))}
                    </span>
                  ))}
                </div>
              )}
              <Says words={line.at(-1)?.says} />
            </Fragment>
          ))}
          <Says words={part.says} />
        </section>
      ))}
    </div>
  );
}

/** What happens behind a line. */
function Says({ words = [] }: { words?: readonly string[] | undefined }) {
  return words.length > 0 && <p className={styles.says}>{words.join(', ')}</p>;
}

function Sung({ cell, chord, last }: { cell: SheetCell; chord: React.ReactNode; last: boolean }) {
  // Parts of a word stand side by side; an empty place still has the height of words.
  const goesOn = !last && cell.words.endsWith('-');
  return (
    <>
      {cell.lead && (
        <span className={styles.cell}>
          <b> </b>
          {cell.lead}{' '}
        </span>
      )}
      <span className={styles.cell}>
        <b>{chord ?? ' '}</b>
        {goesOn ? cell.words.slice(0, -1) : `${cell.words}\u00a0`}
      </span>
    </>
  );
}

function measuresIn(line: readonly SheetCell[]): SheetCell[][] {
  const measures: SheetCell[][] = [];
  for (const cell of line) {
    if (cell.bar || !measures.length) measures.push([]);
    measures.at(-1)!.push(cell);
  }
  return measures;
}
