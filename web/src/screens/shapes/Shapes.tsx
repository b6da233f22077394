import { Alert, Button, Loader } from '@mantine/core';
import { IconPrinter } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ProgressionChord } from '#core/capo';
import { INSTRUMENTS, tuningName } from '#core/instrument';
import { keyFifths, keyName, transposeKey } from '#core/pitch';
import { type Shape, shapeText } from '#core/shape';
import { measureNumbers, type Tune } from '#core/tune';
import { useArrangements } from '../../data/queries';
import type { Planned } from '../../engine/useTunePlan';
import { PlannedTuneGate } from '../../parts/Gates';
import { Masthead } from '../../parts/Masthead';
import { Hear } from '../../parts/playing/Hear';
import { UndoPlan } from '../../parts/UndoPlan';
import common from '../../theme/common.module.css';
import { ChordDetail } from './ChordDetail';
import { NameAShape } from './NameAShape';
import { ProgressionCard } from './ProgressionCard';
import styles from './Shapes.module.css';
import { ShapeWishes } from './ShapeWishes';
import { useProgression } from './useProgression';

export function ShapesScreen() {
  return <PlannedTuneGate>{(tune, planned) => <Shapes tune={tune} planned={planned} />}</PlannedTuneGate>;
}

function Shapes({ tune, planned }: { tune: Tune; planned: Planned }) {
  const { plan, change } = planned;
  const arrangements = useArrangements(tune.id);
  const found = useProgression(tune, plan);
  const [selected, setSelected] = useState(0);
  const chords = found.data?.chords ?? [];
  const current = chords[selected];
  const numbers = measureNumbers(tune.measures);
  const { setup } = plan;
  const soundingKey = transposeKey(tune.key, plan.transposition);
  const shapeKey = transposeKey(soundingKey, -setup.capo);
  const choose = (chord: ProgressionChord, shape: Shape | undefined, everywhere: boolean) => {
    const choices = { ...plan.choices };
    const ids = everywhere ? chords.filter(c => c.shape === chord.shape).flatMap(c => c.ids) : chord.ids;
    for (const id of ids) {
      if (shape) choices[id] = shapeText(shape.frets);
      else delete choices[id];
    }
    // Whoever chooses a shape means it where it stands.
    change({ choices, keyOpen: false });
  };
  const chooseFingers = ({ frets }: Shape, fingers: string | undefined) => {
    const { [shapeText(frets)]: _before, ...others } = plan.wishes.fingers ?? {};
    change({
      wishes: { ...plan.wishes, fingers: fingers ? { ...others, [shapeText(frets)]: fingers } : others },
    });
  };
  return (
    <div className={common.frame}>
      <Masthead
        title={tune.title}
        under={`Shapes · ${keyName(shapeKey)} shapes${setup.capo ? `, capo ${setup.capo}, sounds ${keyName(soundingKey)}` : ''} · ${INSTRUMENTS[setup.instrument].name}, ${tuningName(setup)}`}
        rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      >
        <UndoPlan planned={planned} />
        <Button
          component={Link}
          to={`/tune/${tune.id}/chords`}
          color="marigold.6"
          leftSection={<IconPrinter size={18} />}
        >
          Chord sheet
        </Button>
      </Masthead>
      <ShapeWishes plan={plan} change={change} />
      <main className={styles.shapes}>
        <div>
          {found.error && <Alert color="cranberry">{found.error.message}</Alert>}
          {found.isPending && <Loader />}
          {found.data && !chords.length && (
            <Alert color="velvet" title="No chords yet">
              This tune has no chord symbols. Write them over the notes in its source, or let the arrangement
              suggest some.
            </Alert>
          )}
          {chords.length > 0 && (
            <>
              <p className={common.quiet}>
                Effort of a chord with its change: {found.data!.total.toFixed(1)} on average; hardest change{' '}
                {found.data!.worst.toFixed(1)}.
              </p>
              <div style={{ marginBottom: 12 }}>
                <Hear
                  label="Hear them all"
                  request={() => ({
                    what: 'grips',
                    setup,
                    grips: chords.flatMap(chord => (chord.chosen ? [chord.chosen.frets] : [])),
                    percent: 100,
                  })}
                />
              </div>
              <ol className={styles.progression}>
                {chords.map((chord, i) => (
                  <ProgressionCard
                    key={chord.ids[0]}
                    chord={chord}
                    before={chords[i - 1]}
                    measure={numbers[chord.measure]!}
                    setup={setup}
                    selected={i === selected}
                    onSelect={() => setSelected(i)}
                  />
                ))}
              </ol>
            </>
          )}
        </div>
        <div className={`${common.stack} ${styles.detail}`}>
          {current && (
            <ChordDetail
              key={`${selected}-${current.shape}`}
              chord={current}
              before={chords[selected - 1]?.chosen}
              after={chords[selected + 1]?.chosen}
              plan={plan}
              fifths={keyFifths(shapeKey)}
              onChoose={(shape, everywhere) => choose(current, shape, everywhere)}
              onFingers={fingers => current.chosen && chooseFingers(current.chosen, fingers)}
            />
          )}
          <NameAShape setup={setup} fifths={keyFifths(shapeKey)} />
        </div>
      </main>
    </div>
  );
}
