import clsx from 'clsx';
import { type KeyboardEvent, useRef } from 'react';
import { HIGHEST_CAPO, type KeyChoice, type KeyPlan } from '#core/capo';
import { keyName, pitchClassOf } from '#core/pitch';
import styles from './KeyCapo.module.css';
import { cellName, MARKS, markOf, tonicOf } from './marks';

/** Shape keys in the order in which players learn them: round the circle of fifths from C, sharps first. */
const ROWS = ['C', 'G', 'D', 'A', 'E', 'B', 'F#', 'Db', 'Ab', 'Eb', 'Bb', 'F'].map(pitchClassOf);

const FRETS = Array.from({ length: HIGHEST_CAPO + 1 }, (_, fret) => fret);

/** How many of the best choices are numbered. */
const RANKED = 3;

const MOVES: Record<string, readonly [rows: number, frets: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** Tells the plans of a table apart. */
export const planId = (plan: Pick<KeyPlan, 'transposition' | 'setup'>): string =>
  `${plan.transposition}:${plan.setup.capo}`;

/** Every pair of shapes and capo, with what sounds there and how it sits; arrows move through it. */
export function KeyField({
  plans,
  choices,
  targeted,
  looked,
  taken,
  onLook,
  onTake,
}: {
  /** Best first. */
  plans: readonly KeyPlan[];
  choices: readonly KeyChoice[];
  /** Whether a sounding key is wanted. */
  targeted: boolean;
  looked: KeyPlan | undefined;
  taken: KeyPlan | undefined;
  onLook: (plan: KeyPlan) => void;
  onTake: (plan: KeyPlan) => void;
}) {
  const field = useRef<HTMLTableElement>(null);
  const best = plans[0]?.cost ?? 0;
  const ranked = choices.slice(0, RANKED).map(({ plan }) => plan);
  const rowOf = (plan: KeyPlan) => ROWS.indexOf(pitchClassOf(plan.shapeKey.tonic));
  const cells = new Map(plans.map(plan => [`${rowOf(plan)}:${plan.setup.capo}`, plan]));
  const onKeys = (event: KeyboardEvent) => {
    const move = MOVES[event.key];
    if (!move || !looked) return;
    event.preventDefault();
    let row = rowOf(looked);
    let fret = looked.setup.capo;
    for (let step = 0; step < ROWS.length; step++) {
      row = (row + move[0] + ROWS.length) % ROWS.length;
      fret = (fret + move[1] + FRETS.length) % FRETS.length;
      const next = cells.get(`${row}:${fret}`);
      if (!next) continue;
      onLook(next);
      field.current?.querySelector<HTMLButtonElement>(`[data-cell="${planId(next)}"]`)?.focus();
      return;
    }
  };

  return (
    <>
      <p className={styles.legend} id="key-field">
        Shapes down, capo across; in each field what then sounds. {MARKS.well.sign} sits well,{' '}
        {MARKS.works.sign} works, {MARKS.hard.sign} hard, {MARKS.out.sign} out of voice or pitch.
      </p>
      <table
        className={styles.keyField}
        aria-label="Shapes and capos"
        aria-describedby="key-field"
        ref={field}
        onKeyDown={onKeys}
      >
        <thead>
          <tr>
            <th scope="col">Shapes</th>
            {FRETS.map(fret => (
              <th scope="col" key={fret}>
                {fret === 0 ? 'open' : fret}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map((tonic, row) => {
            const any = plans.find(plan => rowOf(plan) === row);
            return (
              <tr key={tonic}>
                <th scope="row">{any ? tonicOf(any.shapeKey) : ''}</th>
                {FRETS.map(fret => {
                  const cell = cells.get(`${row}:${fret}`);
                  if (!cell) return <td key={fret} />;
                  const mark = markOf(cell, best, targeted);
                  const rank = ranked.indexOf(cell) + 1;
                  return (
                    <td key={fret}>
                      <button
                        type="button"
                        data-cell={planId(cell)}
                        tabIndex={cell === looked ? 0 : -1}
                        aria-pressed={cell === looked}
                        className={clsx(
                          styles.keyCell,
                          styles[mark],
                          cell === looked && styles.looked,
                          cell === taken && styles.taken,
                        )}
                        aria-label={`${cellName(cell)}: sounds ${keyName(cell.soundingKey)}, ${MARKS[mark].words}, effort ${cell.cost.toFixed(1)}${rank ? `, choice ${rank}` : ''}${cell === taken ? ', taken' : ''}`}
                        onClick={() => onLook(cell)}
                        onDoubleClick={() => onTake(cell)}
                      >
                        <span className={styles.mark}>{MARKS[mark].sign}</span>
                        <b>{tonicOf(cell.soundingKey)}</b>
                        {rank > 0 && <span className={styles.rank}>{rank}</span>}
                      </button>
                    </td>
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
