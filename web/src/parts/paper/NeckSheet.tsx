import { useLocalStorage } from '@mantine/hooks';
import { useMemo } from 'react';
import { chordLabel } from '#core/chord';
import { stringName } from '#core/instrument';
import { movesWords, timesWords } from '#core/lesson';
import { type Arrangement, type NeckPluck, neckSheet, remarksOf } from '#core/score';
import { measureNumbers } from '#core/tune';
import type { ChordNames } from '../ribbon/measureLayout';
import { ShapePicture } from '../shape/ShapePicture';
import styles from './NeckSheet.module.css';
import paperStyles from './paper.module.css';

/** Words of one's own for strings, by instrument and string. */
export function useStringWords() {
  return useLocalStorage<Record<string, string>>({ key: 'string-words', defaultValue: {} });
}

/** "6 (31)", a strum as its arrow. */
function plucksText(plucks: readonly NeckPluck[]): string {
  return plucks
    .map(({ strings, way }) => {
      if (way) return way === 'down' ? '↓' : '↑';
      return strings.length === 1 ? String(strings[0]) : `(${strings.join('')})`;
    })
    .join(' ');
}

interface NeckSheetProps {
  arrangement: Arrangement;
  names: ChordNames;
  scale: number;
  /** Tells how the fingers get from one grip to the next. */
  moves: boolean;
}

/** A picture for each grip in playing order, with its fingers and the strings to pluck. */
export function NeckSheet({ arrangement, names, scale, moves }: NeckSheetProps) {
  const { setup, measures } = arrangement;
  const sheet = useMemo(() => neckSheet(arrangement), [arrangement]);
  const numbers = measureNumbers(measures);
  const [stringWords] = useStringWords();
  const own = setup.tuning.flatMap((_, i) => {
    const words = stringWords[`${setup.instrument}/${i + 1}`]?.trim();
    return words ? [`${stringName(setup, i + 1).replace('string ', '')} ${words}`] : [];
  });
  const all = sheet.flatMap(section => section.pictures);
  return (
    <div className={styles.neckSheet}>
      {own.length > 0 && <p className={paperStyles.facts}>Strings: {own.join('; ')}.</p>}
      {sheet.map(({ id, name, passes, pictures }) => (
        <section key={id || name}>
          <h2>
            {name}
            {passes > 1 && <small> {timesWords(passes)}</small>}
          </h2>
          <div className={styles.pictures}>
            {pictures.map(picture => {
              const last = all[all.indexOf(picture) - 1];
              const { chord, first, measure, start, frets, fingers, plucks, times, samePlucks } = picture;
              const number = numbers[measure]!;
              const remarks = remarksOf(measures[measure]!, measure).filter(
                remark => (remark.at?.start ?? 0) === start,
              );
              const words = moves && last ? movesWords(setup, { before: last.fingers, now: fingers }) : '';
              return (
                <figure key={`${measure} ${start}`}>
                  <figcaption>
                    {chord && first && chordLabel(names === 'sounding' ? chord.sounding : chord.shape)}
                    {chord && first && names === 'both' && setup.capo > 0 && (
                      <small> {chordLabel(chord.sounding)}</small>
                    )}
                    {times > 1 && <b> ×{times}</b>}
                  </figcaption>
                  <small>{number === 0 ? 'pickup' : `measure ${number}`}</small>
                  <ShapePicture setup={setup} frets={frets} grip={fingers} scale={scale} />
                  <div className={styles.plucks}>
                    {samePlucks
                      ? plucks.some(p => p.way)
                        ? 'same strum'
                        : 'same strings'
                      : plucksText(plucks)}
                  </div>
                  {words && <div className={styles.moves}>{words}</div>}
                  {remarks.map(remark => (
                    <div key={remark.id} className={styles.moves}>
                      {remark.text}
                    </div>
                  ))}
                </figure>
              );
            })}
          </div>
        </section>
      ))}
    </div>
  );
}
