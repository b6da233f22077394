import { Text } from '@mantine/core';
import clsx from 'clsx';
import type { Reading, TextRemark } from '#core/formats';
import styles from './TextReport.module.css';

/** Remarks about places of a text; with `onGoTo` a place leads into the text. */
export function Remarks({
  title,
  remarks,
  tone,
  onGoTo,
}: {
  title: string;
  remarks: readonly TextRemark[];
  tone: string;
  onGoTo?: (line: number) => void;
}) {
  if (!remarks.length) return null;
  return (
    <>
      <h3>{title}</h3>
      <ul className={clsx(styles.textRemarks, tone && styles[tone])}>
        {remarks.slice(0, SHOWN).map(({ line, column, message }) => (
          <li key={`${line} ${column} ${message}`}>
            {onGoTo ? (
              <button type="button" className={styles.place} onClick={() => onGoTo(line)}>
                line {line}
              </button>
            ) : (
              <span className={styles.place}>
                line {line}, {column}
              </span>
            )}{' '}
            {message}
          </li>
        ))}
        {remarks.length > SHOWN && <li>and {remarks.length - SHOWN} more</li>}
      </ul>
    </>
  );
}

/** Remarks of a kind that are shown at once. */
const SHOWN = 12;

/** What was understood of a text, what has to be said first, what was guessed and left out. */
export function TextReport({ reading }: { reading: Reading }) {
  const { measures, questions, guesses, leftOut } = reading;
  const notes = measures.reduce((sum, measure) => sum + measure.notes.length, 0);
  const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
  return (
    <section aria-label="What was read" className={styles.textReport}>
      <Text size="sm">
        {questions.length
          ? `${count(questions.length, 'question')} before it can be written.`
          : `Understood: ${count(measures.length, 'measure')}, ${count(notes, 'note')}.`}
      </Text>
      <Remarks title="To be answered first" remarks={questions} tone="ask" />
      <Remarks title="Taken to be meant" remarks={guesses} tone="guess" />
      <Remarks title="Left out" remarks={leftOut} tone="lost" />
    </section>
  );
}
