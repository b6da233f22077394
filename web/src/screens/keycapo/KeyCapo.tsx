import { Alert, Button, Loader } from '@mantine/core';
import { IconArrowBackUp } from '@tabler/icons-react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { type KeyboardEvent, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { HIGHEST_CAPO, type KeyPlan, type KeyWishes, keyChoices, otherKey, takenKey } from '#core/capo';
import { keyName, keyShort, pitchClassOf } from '#core/pitch';
import { melodyRange, type Tune } from '#core/tune';
import { markOf as objectMark } from '../../data/mark';
import { useArrangements } from '../../data/queries';
import type { Planned } from '../../engine/useTunePlan';
import { arranger } from '../../engine/workers';
import { OtherKeyNote } from '../../parts/arranging/OtherKeyNote';
import { OtherTuningNote } from '../../parts/arranging/OtherTuningNote';
import { PlannedTuneGate } from '../../parts/Gates';
import { Masthead } from '../../parts/Masthead';
import common from '../../theme/common.module.css';
import shapesStyles from '../shapes/Shapes.module.css';
import { CapoNotes } from './CapoNotes';
import styles from './KeyCapo.module.css';
import { cellName, MARKS, markOf } from './marks';
import { Compared, PlanDetail } from './PlanDetail';
import { RangeChart } from './RangeChart';
import { SetupPanel } from './SetupPanel';
import { VoicePanel } from './VoicePanel';

export function KeyCapoScreen() {
  return <PlannedTuneGate>{(tune, planned) => <KeyCapo tune={tune} planned={planned} />}</PlannedTuneGate>;
}

/** Shape keys in the order in which players learn them: round the circle of fifths from C, sharps first. */
const ROWS = ['C', 'G', 'D', 'A', 'E', 'B', 'F#', 'Db', 'Ab', 'Eb', 'Bb', 'F'].map(pitchClassOf);

/** How many best choices are listed, and how many of them are numbered in the field. */
const CHOICES = 5;
const isRanked = (rank: number) => rank > 0 && rank <= 3;

/** "no capo C, capo 1 D♭, 2 D": capos with what sounds there. */
const capoWords = (plans: readonly KeyPlan[]) =>
  plans
    .map(({ setup: { capo }, soundingKey }, i) => {
      const word =
        capo === 0 ? 'no capo' : i === 0 || plans[i - 1]!.setup.capo === 0 ? `capo ${capo}` : `${capo}`;
      return `${word} ${keyShort(soundingKey)}`;
    })
    .join(', ');

const FRETS = Array.from({ length: HIGHEST_CAPO + 1 }, (_, fret) => fret);

function KeyCapo({ tune, planned }: { tune: Tune; planned: Planned }) {
  const { plan, change, undo, canUndo } = planned;
  const arrangements = useArrangements(tune.id);
  const [looked, setLooked] = useState<string>();
  const [beside, setBeside] = useState<string>();
  const grid = useRef<HTMLTableElement>(null);
  const wishes = useMemo<KeyWishes>(
    () => ({
      setup: { ...plan.setup, capo: 0 },
      hand: plan.hand,
      ...(plan.voice && { voice: plan.voice }),
      ...(plan.target && { target: plan.target }),
      ...(plan.wishes.noBarre && { noBarre: true }),
      ...(plan.overBass && { overBass: true }),
      ...(plan.hand.beginner && { beginner: true }),
    }),
    [plan],
  );
  const table = useQuery({
    queryKey: ['key-table', objectMark(tune), wishes],
    queryFn: () => arranger().planKeys(tune, wishes),
    placeholderData: keepPreviousData,
  });
  const tuning = useQuery({
    queryKey: ['other-tuning', objectMark(tune), wishes],
    queryFn: async () => (await arranger().otherTuning(tune, wishes)) ?? null,
    enabled: plan.overBass === true,
  });
  const plans = table.data ?? [];
  const idOf = (p: KeyPlan) => `${p.transposition}:${p.setup.capo}`;
  const byId = new Map(plans.map(p => [idOf(p), p]));
  const taken = plan.keyOpen ? undefined : byId.get(`${plan.transposition}:${plan.setup.capo}`);
  const current = (looked && byId.get(looked)) || taken || plans[0];
  const other = beside === undefined ? undefined : byId.get(beside);
  const range = melodyRange(tune);
  const minor = tune.key.mode === 'minor';
  const best = plans[0]?.cost ?? 0;
  const choices = keyChoices(plans, CHOICES);
  const offer = plan.overBass ? otherKey(plans, plan.hand.beginner) : undefined;
  const take = ({ setup: { capo }, transposition }: KeyPlan) =>
    change(takenKey({ setup: { ...plan.setup, capo }, transposition }));

  const rowOf = (p: KeyPlan) => ROWS.indexOf(pitchClassOf(p.shapeKey.tonic));
  const cells = new Map(plans.map(p => [`${rowOf(p)}:${p.setup.capo}`, p]));
  const onKeys = (event: KeyboardEvent) => {
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const move = moves[event.key];
    if (!move || !current) return;
    event.preventDefault();
    let row = rowOf(current);
    let fret = current.setup.capo;
    for (let step = 0; step < 12; step++) {
      row = (row + move[0] + ROWS.length) % ROWS.length;
      fret = (fret + move[1] + FRETS.length) % FRETS.length;
      const next = cells.get(`${row}:${fret}`);
      if (!next) continue;
      setLooked(idOf(next));
      grid.current?.querySelector<HTMLButtonElement>(`[data-cell="${idOf(next)}"]`)?.focus();
      return;
    }
  };

  return (
    <div className={common.frame}>
      <Masthead
        title={tune.title}
        under={`Key & capo · ${taken ? `${cellName(taken)}, sounds ${keyName(taken.soundingKey)}` : 'nothing chosen yet'}`}
        rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      >
        <Button
          variant="transparent"
          c="inherit"
          disabled={!canUndo}
          leftSection={<IconArrowBackUp size={18} />}
          onClick={undo}
        >
          Undo
        </Button>
      </Masthead>
      <main className={styles.planner}>
        <div className={common.stack}>
          <VoicePanel tune={tune} plan={plan} change={change} />
          <SetupPanel plan={plan} change={change} />
        </div>
        <div className={styles.field}>
          {table.error && <Alert color="cranberry">{table.error.message}</Alert>}
          {table.isPending && <Loader />}
          {table.data && !plans.length && (
            <Alert color="cranberry" title="No key fits">
              The melody's range does not fit this instrument in any key. Choose another instrument or tuning,
              or move part of the tune an octave in its source.
            </Alert>
          )}
          {plans.length > 0 && (
            <>
              <p className={styles.legend} id="key-field">
                Shapes down, capo across; in each field what then sounds. {MARKS.well.sign} sits well,{' '}
                {MARKS.works.sign} works, {MARKS.hard.sign} hard, {MARKS.out.sign} out of voice or pitch.
              </p>
              <table
                className={styles.keyField}
                aria-label="Shapes and capos"
                aria-describedby="key-field"
                ref={grid}
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
                    const any = plans.find(p => pitchClassOf(p.shapeKey.tonic) === tonic);
                    return (
                      <tr key={tonic}>
                        <th scope="row">
                          {any ? keyShort({ ...any.shapeKey, mode: minor ? 'minor' : 'major' }) : ''}
                        </th>
                        {FRETS.map(fret => {
                          const cell = cells.get(`${row}:${fret}`);
                          if (!cell) return <td key={fret} />;
                          const mark = markOf(cell, best, Boolean(plan.target));
                          const rank = choices.findIndex(choice => choice.plan === cell) + 1;
                          const id = idOf(cell);
                          return (
                            <td key={fret}>
                              <button
                                type="button"
                                data-cell={id}
                                tabIndex={cell === current ? 0 : -1}
                                aria-pressed={cell === current}
                                className={clsx(
                                  styles.keyCell,
                                  styles[mark],
                                  cell === current && styles.looked,
                                  cell === taken && styles.taken,
                                )}
                                aria-label={`${cellName(cell)}: sounds ${keyName(cell.soundingKey)}, ${MARKS[mark].words}, effort ${cell.cost.toFixed(1)}${isRanked(rank) ? `, choice ${rank}` : ''}${cell === taken ? ', taken' : ''}`}
                                onClick={() => setLooked(id)}
                                onDoubleClick={() => take(cell)}
                              >
                                <span className={styles.mark}>{MARKS[mark].sign}</span>
                                <b>{keyShort({ ...cell.soundingKey, mode: minor ? 'minor' : 'major' })}</b>
                                {isRanked(rank) && <span className={styles.rank}>{rank}</span>}
                              </button>
                            </td>
                          );
                        })}
                      </tr>
                    );
                  })}
                </tbody>
              </table>
              {current && range && <RangeChart plan={current} voice={plan.voice} melody={range} />}
              {current && <CapoNotes key={idOf(current)} tune={tune} plan={plan} cell={current} />}
            </>
          )}
        </div>
        <div className={`${common.stack} ${shapesStyles.detail}`}>
          <section className={common.panel} aria-label="Best choices">
            <h2>Best choices</h2>
            <ol className={styles.best}>
              {choices.map(({ plan: p, others }) => (
                <li key={idOf(p)}>
                  <button
                    type="button"
                    className={p === current ? styles.looked : ''}
                    onClick={() => setLooked(idOf(p))}
                  >
                    {keyShort(p.shapeKey)} shapes, {p.setup.capo ? `capo ${p.setup.capo}` : 'no capo'}{' '}
                    <span className={common.quiet}>sounds {keyShort(p.soundingKey)}</span>
                  </button>
                  {others.length > 0 && (
                    <div className={clsx(common.quiet, styles.others)}>or {capoWords(others)}</div>
                  )}
                </li>
              ))}
            </ol>
          </section>
          {offer && offer.other !== taken && (
            <OtherKeyNote offer={offer} action="Look at it" onAct={() => setLooked(idOf(offer.other))} />
          )}
          {plan.overBass && tuning.data && (
            <OtherTuningNote offer={tuning.data} onAct={() => change(takenKey(tuning.data!.other))} />
          )}
          {current && (
            <PlanDetail
              cell={current}
              mark={markOf(current, best, Boolean(plan.target))}
              taken={current === taken}
              onTake={() => take(current)}
              onBeside={() => setBeside(idOf(current))}
              hear={() => ({
                what: 'melody',
                tune,
                setup: current.setup,
                percent: 100,
                transposition: current.transposition + current.octaveShift,
                hand: plan.hand,
              })}
            />
          )}
          {current && other && other !== current && (
            <Compared a={other} b={current} onClose={() => setBeside(undefined)} />
          )}
          {taken && (
            <Button component={Link} to={`/tune/${tune.id}/shapes`} variant="default">
              On to the shapes
            </Button>
          )}
        </div>
      </main>
    </div>
  );
}
